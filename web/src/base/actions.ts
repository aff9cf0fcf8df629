import { useEffect, useId } from "react";

/** Something that can be done now, by name; `key` is the key that does it, where there is one. */
export type Action = { name: string; key?: string; run: () => void };

const offered = new Map<string, Action[]>();

/** Offers what can be done here in the palette, as long as the caller is on screen. */
export function useActions(actions: Action[]): void {
  const id = useId();
  useEffect(() => {
    offered.set(id, actions);
    return () => {
      offered.delete(id);
    };
  });
}

/** The same as a component, for where a hook cannot stand. */
export function Actions({ actions }: { actions: Action[] }) {
  useActions(actions);
  return null;
}

/** What can be done now whose name has every word of a text in it. */
export function actionsFor(text: string): Action[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  return [...offered.values()]
    .flat()
    .filter(({ name }) => words.every((word) => name.toLowerCase().includes(word)));
}
