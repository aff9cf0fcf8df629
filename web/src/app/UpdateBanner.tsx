import { useQuery } from "@tanstack/react-query";

const EVERY_MINUTE = 60_000;

/** The script this page runs; its name changes whenever the application does. */
const running = () => document.querySelector<HTMLScriptElement>('script[type="module"]')?.getAttribute("src");

/**
 * Says so when the server has a newer application than this page, which somebody may have left open for weeks, or which
 * the browser has brought back; hence it asks at once. What is being typed is kept by the browser, so reloading loses
 * nothing.
 */
export function UpdateBanner() {
  const newest = useQuery({
    queryKey: ["newest page"],
    queryFn: async () => (await fetch("/", { cache: "no-store" })).text(),
    refetchInterval: EVERY_MINUTE,
    refetchOnReconnect: true,
    retry: false,
  });
  const script = running();
  if (!script || !newest.data?.includes("<script") || newest.data.includes(script)) return null;
  return (
    <p role="status" className="flex items-center gap-3 border-edge border-b bg-rust-wash px-3 py-1.5">
      Iron Sieve has been renewed since this page was opened. What you are writing is kept.
      <button type="button" className="press press-main text-xs" onClick={() => window.location.reload()}>
        Reload
      </button>
    </p>
  );
}
