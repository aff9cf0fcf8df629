import { useSyncExternalStore } from "react";

const dark = window.matchMedia("(prefers-color-scheme: dark)");

function listen(changed: () => void): () => void {
  dark.addEventListener("change", changed);
  return () => dark.removeEventListener("change", changed);
}

/** The theme that the system asks for now; many change it in the evening. */
export function useSystemTheme(): "dark" | "light" {
  return useSyncExternalStore(listen, () => (dark.matches ? "dark" : "light"));
}
