/**
 * Small things kept in the browser. Where it keeps nothing for a page (blocked, or full), they are kept as long as the
 * page is open, and everything else goes on as usual.
 */
class Kept {
  private readonly memory = new Map<string, string>();

  constructor(private readonly browser: () => Storage) {}

  get(key: string): string | undefined {
    try {
      return this.browser().getItem(key) ?? this.memory.get(key);
    } catch {
      return this.memory.get(key);
    }
  }

  set(key: string, value: string): void {
    this.memory.set(key, value);
    try {
      this.browser().setItem(key, value);
    } catch {
      // It is in memory.
    }
  }

  remove(key: string): void {
    this.memory.delete(key);
    try {
      this.browser().removeItem(key);
    } catch {
      // Nothing was kept there.
    }
  }
}

/** For this browser, from one visit to the next. */
export const lasting = new Kept(() => window.localStorage);

/** For this window, as long as it is open. */
export const ofWindow = new Kept(() => window.sessionStorage);
