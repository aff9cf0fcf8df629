import { useVirtualizer } from "@tanstack/react-virtual";
import { type ReactNode, useRef } from "react";

type Props<T> = {
  label: string;
  items: T[];
  keyOf: (item: T) => string;
  /** How high a row is, about, in pixels. */
  height: number;
  /** What stands there where there is nothing. */
  nothing?: ReactNode;
  children: (item: T) => ReactNode;
};

/** Without a screen to be drawn on, as in tests, so much is taken to be in sight. */
const UNSEEN = { width: 400, height: 800 };

/** A list of which only what is in sight is drawn, however long it is. */
export function VirtualList<T>({ label, items, keyOf, height, nothing, children }: Props<T>) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: items.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => height,
    getItemKey: (index) => keyOf(items[index]),
    initialRect: UNSEEN,
    overscan: 10,
  });
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto">
      {items.length === 0 && nothing}
      <ul aria-label={label} className="relative" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map((row) => (
          <li
            key={row.key}
            ref={rows.measureElement}
            data-index={row.index}
            aria-setsize={items.length}
            aria-posinset={row.index + 1}
            className="absolute top-0 left-0 w-full"
            style={{ transform: `translateY(${row.start}px)` }}
          >
            {children(items[row.index])}
          </li>
        ))}
      </ul>
    </div>
  );
}
