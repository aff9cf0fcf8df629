import { ImpactText, inShort } from "./ImpactText";
import type { BenchState } from "./useBench";

type Shown = Pick<BenchState, "did" | "doneEdits">;
type WordProps = { bench: Shown; open: boolean; toggle: () => void };
type StripProps = { bench: Shown & Pick<BenchState, "named" | "probe">; close: () => void };
type LineProps = { bench: Shown & Pick<BenchState, "said">; open: () => void };

/** Whether several edits did it that followed each other without a pause. */
function together({ doneEdits }: Shown): string {
  return doneEdits > 1 ? `${doneEdits} edits together: ` : "";
}

function words(bench: Shown): string {
  return bench.did ? together(bench) + inShort(bench.did, "is") : "";
}

/** What the edit just kept did, in a few words; a click opens the whole of it. */
export function DidWord({ bench, open, toggle }: WordProps) {
  if (!bench.did) return null;
  return (
    <button
      type="button"
      className={`press min-w-0 truncate text-xs ${bench.did.broken.length > 0 ? "text-madder" : ""}`}
      title={`${words(bench)} (e)`}
      aria-expanded={open}
      onClick={toggle}
    >
      {words(bench)}
    </button>
  );
}

/** All of it, between the keys and the stack, so that it covers neither, and always as high, so that it moves neither. */
export function DidStrip({ bench, close }: StripProps) {
  return (
    <section
      aria-label="What the last edit did"
      className="flex h-28 shrink-0 gap-3 overflow-y-auto border-edge border-b bg-paper px-3 py-1.5"
    >
      <div className="min-w-0 flex-1 text-xs">
        {bench.did ? (
          <ImpactText impact={bench.did} tense="is" named={bench.named} drop={bench.probe}>
            {together(bench) && (
              <p className="text-dim">This is what the last {bench.doneEdits} edits did together.</p>
            )}
          </ImpactText>
        ) : (
          <p className="text-dim">
            {bench.doneEdits === 0
              ? "Nothing has been edited here since the page was opened."
              : "Working out what the last edit did …"}
          </p>
        )}
      </div>
      <button type="button" className="press self-start text-xs" onClick={close}>
        Close
      </button>
    </section>
  );
}

/** The same in one line, where there is no stack. */
export function DidLine({ bench, open }: LineProps) {
  if (!bench.did) return null;
  return (
    <p
      role="status"
      aria-label="What the last edit did"
      className="flex shrink-0 items-center gap-2 border-edge border-t bg-paper px-3 py-1 text-xs"
    >
      <span className="truncate text-dim">{bench.said}</span>
      <span className={`truncate ${bench.did.broken.length > 0 ? "text-madder" : ""}`}>{words(bench)}</span>
      <button type="button" className="press shrink-0 text-xs" onClick={open}>
        See all of it
      </button>
    </p>
  );
}
