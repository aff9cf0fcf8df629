import { useQueries } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useRef } from "react";
import { api, type Person } from "../api/client";
import { ListRow } from "../workspace/ListRow";

/** So many people come with one answer. */
const PAGE = 100;
const ROW = 43;

type Props = {
  version?: number;
  text: string;
  group: string;
  /** How many there are to show. */
  matching: number;
  /** The login of whoever is open. */
  open?: string;
  show: (person: Person) => void;
};

/** The people that fit what was asked for: only those in sight are asked for and drawn, of however many. */
export function PeopleList({ version, text, group, matching, open, show }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: matching,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 10,
  });
  const items = rows.getVirtualItems();
  const pages = [...new Set(items.map((item) => Math.floor(item.index / PAGE)))];
  const answers = useQueries({
    queries: pages.map((page) => ({
      queryKey: ["directory", version, text, group, page],
      queryFn: () => api.directory(text, group, page * PAGE),
      enabled: version !== undefined,
    })),
  });
  const person = (index: number) =>
    answers[pages.indexOf(Math.floor(index / PAGE))]?.data?.shown[index % PAGE];
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto">
      <ul aria-label="People" className="relative" style={{ height: rows.getTotalSize() }}>
        {items.map((item) => (
          <li
            key={item.key}
            aria-setsize={matching}
            aria-posinset={item.index + 1}
            className="absolute top-0 left-0 w-full"
            style={{ height: ROW, transform: `translateY(${item.start}px)` }}
          >
            <PersonRow person={person(item.index)} open={open} show={show} />
          </li>
        ))}
      </ul>
    </div>
  );
}

/** One of them; nothing but its place while it is asked for. */
function PersonRow({ person, open, show }: { person?: Person } & Pick<Props, "open" | "show">) {
  if (!person) return <p className="border-edge border-b px-3 py-1 text-dim">…</p>;
  const isOpen = open === person.login;
  return (
    <ListRow isOpen={isOpen} open={() => show(person)} className="h-full py-1">
      <span className="flex justify-between gap-2">
        <b className="truncate">{person.name}</b>{" "}
        <span className="truncate text-dim text-xs">
          {person.login}
          {person.source && ` · ${person.source}`}
        </span>
      </span>
      <span className="block truncate text-dim text-xs">{person.groups.join(", ") || "in no group"}</span>
    </ListRow>
  );
}
