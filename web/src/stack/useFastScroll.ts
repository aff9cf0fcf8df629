import { type RefObject, useEffect, useState } from "react";

/** In pixels for each millisecond: some two hundred rows a second, which nobody reads one by one. */
const SWIFT = 5;

/** How soon after the last movement a list is at rest, in milliseconds. */
const REST = 120;

/** Whether a list rushes past. One jump, as by a key, does not count; it is there at once. */
export function useFastScroll(scroller: RefObject<HTMLElement | null>): boolean {
  const [swift, setSwift] = useState(false);
  useEffect(() => {
    const view = scroller.current;
    if (!view) return;
    let before = { top: view.scrollTop, at: 0, fast: false };
    let timer: ReturnType<typeof setTimeout> | undefined;
    const scrolled = () => {
      const now = performance.now();
      const speed = Math.abs(view.scrollTop - before.top) / Math.max(1, now - before.at);
      const fast = speed > SWIFT && now - before.at < REST;
      if (fast && before.fast) setSwift(true);
      before = { top: view.scrollTop, at: now, fast };
      clearTimeout(timer);
      timer = setTimeout(() => setSwift(false), REST);
    };
    view.addEventListener("scroll", scrolled, { passive: true });
    return () => {
      clearTimeout(timer);
      view.removeEventListener("scroll", scrolled);
    };
  }, [scroller]);
  return swift;
}
