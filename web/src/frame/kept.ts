import { useState } from "react";

/** A small setting kept in this browser, such as the theme or one's name; as long as it is not set, what it is otherwise. */
export function useKept(key: string, otherwise: string): [string, (value: string) => void] {
  const [value, setValue] = useState(() => localStorage.getItem(key) ?? undefined);
  return [
    value ?? otherwise,
    (next) => {
      localStorage.setItem(key, next);
      setValue(next);
    },
  ];
}
