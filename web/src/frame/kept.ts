import { useState } from "react";

/** A small setting kept in this browser, such as the theme or one's name. */
export function useKept(key: string, otherwise: string): [string, (value: string) => void] {
  const [value, setValue] = useState(() => localStorage.getItem(key) ?? otherwise);
  return [
    value,
    (next) => {
      localStorage.setItem(key, next);
      setValue(next);
    },
  ];
}
