import type { Step } from "../api/client";
import { ImpactStrip } from "./ImpactStrip";
import type { BenchState } from "./useBench";

type Props = {
  bench: Pick<BenchState, "id" | "rulebase" | "named" | "probe" | "make">;
  steps: Step[];
  /** What the journal says of it. */
  what: string;
  /** What the button says. */
  label: string;
};

/** An edit with its impact, and the button that makes it. */
export function Offer({ bench, steps, what, label }: Props) {
  return (
    <div className="mt-1 rounded border border-paper-edge bg-paper p-2">
      <ImpactStrip
        rulebase={bench.id}
        revision={bench.rulebase?.revision ?? 0}
        steps={steps}
        named={bench.named}
        drop={bench.probe}
      />
      <button
        type="button"
        className="press press-main mt-1.5 text-xs"
        onClick={() => bench.make({ what, steps })}
      >
        {label}
      </button>
    </div>
  );
}
