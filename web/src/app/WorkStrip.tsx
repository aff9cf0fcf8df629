import { useQuery } from "@tanstack/react-query";
import { useEffect, useState, useSyncExternalStore } from "react";
import { api } from "../api/client";
import { type Going, work } from "../api/work";
import { ProgressBar } from "../base/ProgressBar";

/** Most of what is done is done by then, and needs no strip. */
const PATIENCE = 800;

/** What takes long, how far it is, and the way to cancel it. */
export function WorkStrip() {
  const going = useSyncExternalStore(work.listen, work.now);
  return going.map((one) => <Long key={one.name} one={one} />);
}

function Long({ one }: { one: Going }) {
  const [long, setLong] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLong(true), PATIENCE);
    return () => clearTimeout(timer);
  }, []);
  const progress = useQuery({
    queryKey: ["work", one.name],
    queryFn: () => api.workProgress(one.name),
    enabled: long,
    refetchInterval: 300,
    retry: false,
    gcTime: 0,
  });
  if (!long) return null;
  const { what, done, total } = progress.data ?? { what: "", done: 0, total: 0 };
  return (
    <section
      aria-label="What takes long"
      className="flex shrink-0 items-center gap-3 border-edge border-b bg-paper px-3 py-1 text-xs"
    >
      <span className="min-w-0 truncate">
        <b>{one.what}</b>
        {what && `: ${what}`}
      </span>
      <ProgressBar label={what} done={done} total={total} />
      <button type="button" className="press text-xs" onClick={one.cancel}>
        Cancel
      </button>
    </section>
  );
}
