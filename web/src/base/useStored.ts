import { useState } from "react";
import { lasting } from "./storage";

/** A small setting kept in this browser, such as the theme or one's name; as long as it is not set, what it is otherwise. */
export function useStored(key: string, otherwise: string): [string, (value: string) => void] {
  const [value, setValue] = useState(() => lasting.get(key));
  return [
    value ?? otherwise,
    (next) => {
      lasting.set(key, next);
      setValue(next);
    },
  ];
}
