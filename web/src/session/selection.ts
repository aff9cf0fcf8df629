import { goTo, useAddressPart } from "../base/address";

/** Selects a line of the stack, by its id; none without one. */
export function select(line?: string): void {
  goTo({ rule: line });
}

/** The line of the stack that is selected. Whatever shows it asks for itself, so that nothing else is drawn for it. */
export function useSelected(): string | undefined {
  return useAddressPart("rule");
}
