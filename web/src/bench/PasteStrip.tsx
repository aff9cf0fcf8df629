import type { Step } from "../api/client";
import { ImpactStrip } from "./ImpactStrip";
import type { BenchState } from "./useBench";

type Props = {
  bench: Pick<BenchState, "id" | "rulebase" | "named" | "probe">;
  steps: Step[];
  /** The rule they would stand right below. */
  below?: string;
  keep: () => void;
  leave: () => void;
};

/** Rules that came as text, and what they would do, before they are put in their place. */
export function PasteStrip({ bench, steps, below, keep, leave }: Props) {
  const rules = steps.length === 1 ? "1 rule" : `${steps.length} rules`;
  // Each goes right below the same rule, so the steps begin with the last one.
  const inOrder = below === undefined ? steps : [...steps].reverse();
  return (
    <section
      aria-label="Rules to be pasted"
      className="flex max-h-44 shrink-0 gap-3 overflow-y-auto border-rust border-y-2 bg-paper px-3 py-1.5"
      onKeyDown={(event) => event.key === "Escape" && leave()}
    >
      <div className="min-w-0 flex-1">
        <p className="text-xs">
          <b>{rules}</b>{" "}
          {below === undefined ? "at the end of the chapter" : `right below ${bench.named(below)}`}:{" "}
          {inOrder
            .map(({ rule }) => rule?.name || "unnamed")
            .slice(0, 6)
            .join(" · ")}
          {steps.length > 6 && ` · and ${steps.length - 6} more`}
        </p>
        <ImpactStrip
          rulebase={bench.id}
          revision={bench.rulebase?.revision ?? 0}
          steps={steps}
          named={bench.named}
          drop={bench.probe}
        />
      </div>
      <span className="flex items-start gap-1">
        <button autoFocus type="button" className="press press-main text-xs" onClick={keep}>
          Put {steps.length === 1 ? "it" : "them"} there
        </button>
        <button type="button" className="press text-xs" title="Escape" onClick={leave}>
          Leave {steps.length === 1 ? "it" : "them"} out
        </button>
      </span>
    </section>
  );
}
