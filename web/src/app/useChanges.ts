import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

/** What the server is asked for again when it says that something has changed. */
export const FOLLOWED = ["heads", "workspace", "gateways", "releases", "in-force", "release-preview"];

/** Changes that follow each other within so many milliseconds are asked for together. */
const TOGETHER = 100;

/** Where changes come without a pause, they are asked for no more often than this. */
const PAUSE = 1_000;

/**
 * Listens for changes by anybody, on whatever server, while the page is in view; a page that was not is brought up to
 * date when it is looked at again.
 */
export function useChanges() {
  const client = useQueryClient();
  useEffect(() => {
    if (typeof EventSource === "undefined") return;
    let source: EventSource | undefined;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let last = Number.NEGATIVE_INFINITY;
    const ask = () => {
      const wait = Math.max(TOGETHER, last + PAUSE - performance.now());
      timer ??= setTimeout(() => {
        timer = undefined;
        last = performance.now();
        for (const key of FOLLOWED) client.invalidateQueries({ queryKey: [key] });
      }, wait);
    };
    const look = () => {
      const inView = document.visibilityState === "visible";
      if (inView && !source) {
        source = new EventSource("/api/change-events");
        source.addEventListener("changed", ask);
        // What changed while nobody listened was not told.
        source.addEventListener("open", ask);
      } else if (!inView) {
        // A browser has few connections to one server, over all its pages.
        source?.close();
        source = undefined;
      }
    };
    look();
    document.addEventListener("visibilitychange", look);
    return () => {
      document.removeEventListener("visibilitychange", look);
      clearTimeout(timer);
      source?.close();
    };
  }, [client]);
}
