import { ImpactText, inShort } from "./ImpactText";
import type { BenchState } from "./useBench";

type Props = { bench: Pick<BenchState, "did" | "named" | "probe"> };

type LineProps = { bench: Pick<BenchState, "did" | "said">; open: () => void };

/** What the edit just kept did, in a few words; a click opens the whole of it. */
export function DidWord({ bench, open, toggle }: Props & { open: boolean; toggle: () => void }) {
  if (!bench.did) return null;
  const words = inShort(bench.did, "is");
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

/** The same in one line, where there is no stack. */
export function DidLine({ bench, open }: LineProps) {
  if (!bench.did) return null;
  return (
    <p
      role="status"
      aria-label="What the last edit did"
      className="flex shrink-0 items-center gap-2 border-edge border-b bg-paper px-3 py-1 text-xs"
    >
      <span className="truncate text-dim">{bench.said}</span>
      <span className={`truncate ${bench.did.broken.length > 0 ? "text-madder" : ""}`}>
        {inShort(bench.did, "is")}
      </span>
      <button type="button" className="press shrink-0 text-xs" onClick={open}>
        See all of it
      </button>
    </p>
  );
}
