import { useState } from "react";
import { useSettled } from "../base/useSettled";
import { useStableCallback } from "../base/useStableCallback";
import type { Asked } from "./useImpact";

/** Longer than a pointer takes to pass over something on its way elsewhere. */
const LINGERING = 250;

/** What somebody is about to do, in a word or two, and what that is. */
export type Meant = { label: string; asked: Asked };

/** What somebody is about to do, once they linger on it. */
export function useImpactPreview() {
  const [intended, intend] = useState<Meant>();
  const lingered = useSettled(intended, LINGERING);
  /** For a button: what it would do at once is weighed while a pointer or a key is on it. */
  const on = useStableCallback((label: string, asked?: () => Asked) => {
    const come = () => intend(asked && { label, asked: asked() });
    const go = () => intend(undefined);
    return { onPointerEnter: come, onFocus: come, onPointerLeave: go, onBlur: go };
  });
  return { meant: lingered === intended ? intended : undefined, intend, on };
}

export type Preview = ReturnType<typeof useImpactPreview>;
