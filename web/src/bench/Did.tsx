import { ImpactText, inShort } from "./ImpactText";
import type { BenchState } from "./useBench";

type Props = { bench: Pick<BenchState, "did" | "named" | "probe"> };

/** What the edit just kept did, in a few words; a click opens the whole of it. */
export function DidWord({ bench, open, toggle }: Props & { open: boolean; toggle: () => void }) {
  if (!bench.did) return null;
  const words = inShort(bench.did);
  return (
    <button
      type="button"
      className={`press min-w-0 truncate text-xs ${bench.did.broken.length > 0 ? "text-madder" : ""}`}
      title={`${words} (e)`}
      aria-expanded={open}
      onClick={toggle}
    >
      {words}
    </button>
  );
}

/** All of it, between the keys and the stack, so that it covers neither. */
export function DidStrip({ bench, close }: Props & { close: () => void }) {
  if (!bench.did) return null;
  return (
    <section
      aria-label="What the last edit did"
      className="flex max-h-44 shrink-0 gap-3 overflow-y-auto border-edge border-b bg-paper px-3 py-1.5"
    >
      <div className="min-w-0 flex-1">
        <ImpactText impact={bench.did} tense="is" named={bench.named} drop={bench.probe} />
      </div>
      <button type="button" className="press self-start text-xs" onClick={close}>
        Put it aside
      </button>
    </section>
  );
}
