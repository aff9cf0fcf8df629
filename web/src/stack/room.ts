import { useLayoutEffect, useRef, useState } from "react";

/** How much room a row has: for all columns, for one value in each, or for no more than a sentence. */
export type Room = "wide" | "narrow" | "slim";

const WIDE = 720;
const NARROW = 500;

/** The room in so many pixels. */
export function roomOf(width: number): Room {
  if (width >= WIDE) return "wide";
  return width >= NARROW ? "narrow" : "slim";
}

/** The room an element has, as long as it is shown. */
export function useRoom() {
  const element = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState<Room>("wide");
  useLayoutEffect(() => {
    const shown = element.current;
    if (!shown) return;
    // Where nothing is laid out, as in tests of components, there is no width to go by.
    const measure = () => shown.clientWidth > 0 && setRoom(roomOf(shown.clientWidth));
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(shown);
    return () => observer.disconnect();
  }, []);
  return { element, room };
}
