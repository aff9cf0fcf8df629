import type { ReactNode } from "react";
import type { Witness } from "../api/client";
import { showProbe, useOpenRulebase } from "../session/contexts";

/** A titled part of the lens. */
export function Part({ title, children }: { title: ReactNode; children: ReactNode }) {
  return (
    <section className="border-edge border-b px-3 py-2">
      <h3 className="mb-1 font-semibold text-dim text-xs">{title}</h3>
      {children}
    </section>
  );
}

/** A connection that proves something; a click drops it as a probe. */
export function WitnessButton({ witness }: { witness: Witness }) {
  const openRulebase = useOpenRulebase();
  return (
    <button
      type="button"
      data-witness
      onClick={() => showProbe(witness.probe)}
      className="mt-1 block w-full rounded border border-paper-edge bg-paper px-2 py-1 text-left text-xs hover:border-rust"
    >
      <span className="font-medium text-rust">Try this witness</span>
      <span className="block text-dim">{witness.probe}</span>
      <span className="sr-only"> caught by {openRulebase.named(witness.caughtBy)}</span>
    </button>
  );
}
