import { useEffect, useState } from "react";

/** A value once it has stayed the same for a while, so that what follows quickly does not ask every time. */
export function useSettled<T>(value: T, millis: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), millis);
    return () => clearTimeout(timer);
  }, [value, millis]);
  return settled;
}
