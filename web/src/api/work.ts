/** Requests that change something, while they are not answered: what to call them, and the way to cancel them. */

/** A request that is going on; `name` is how the server knows it. */
export type Going = { name: string; what: string; cancel: () => void };

/** What a request carries so that it can be watched and cancelled. */
export type Carried = { headers: { "Sieve-Work": string; "Sieve-Work-What": string }; signal: AbortSignal };

let going: readonly Going[] = [];
const listeners = new Set<() => void>();

function set(now: readonly Going[]) {
  going = now;
  for (const tell of listeners) tell();
}

/** For useSyncExternalStore. */
export const work = {
  now: () => going,
  listen: (tell: () => void) => {
    listeners.add(tell);
    return () => {
      listeners.delete(tell);
    };
  },
};

/** Sends something that may take long. To cancel it is to close its connection, which the server notices. */
export async function working<T>(what: string, send: (carried: Carried) => Promise<T>): Promise<T> {
  const stop = new AbortController();
  const name = Math.random().toString(36).slice(2);
  const one = { name, what, cancel: () => stop.abort() };
  set([...going, one]);
  try {
    return await send({
      headers: { "Sieve-Work": name, "Sieve-Work-What": encodeURIComponent(what) },
      signal: stop.signal,
    });
  } finally {
    set(going.filter((other) => other !== one));
  }
}
