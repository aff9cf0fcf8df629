import { Tooltip } from "radix-ui";
import type { ReactNode } from "react";
import { TERMS, type Word } from "./terms";

type Props = { word: Word; children: ReactNode };

/** A word of the application's own where it first stands on a page; what it means shows on hover and focus. */
export function Term({ word, children }: Props) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger
        type="button"
        className="cursor-help underline decoration-dotted decoration-faint underline-offset-2"
      >
        {children}
      </Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          sideOffset={4}
          className="z-50 max-w-80 rounded border border-edge bg-plate px-2 py-1.5 font-normal text-ink text-xs shadow-lg"
        >
          {TERMS[word]}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}
