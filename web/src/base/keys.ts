import { useEffect } from "react";
import { useStableCallback } from "./useStableCallback";

let singleKeys = true;

/** Whether keys that are a single character do anything; whoever speaks to a computer may want them off. */
export function setSingleKeys(on: boolean): void {
  singleKeys = on;
}

/** Whether a key is one that somebody has switched off (WCAG 2.1.4). */
export function isSwitchedOff(event: {
  key: string;
  ctrlKey: boolean;
  metaKey: boolean;
  altKey: boolean;
}): boolean {
  return !singleKeys && event.key.length === 1 && !event.altKey && !isCommand(event);
}

/** Listens to keys wherever they are pressed, always with what the page knows now. */
export function useWindowKeys(keys: (event: KeyboardEvent) => void): void {
  const listener = useStableCallback((event: KeyboardEvent) => {
    if (!isSwitchedOff(event)) keys(event);
  });
  useEffect(() => {
    window.addEventListener("keydown", listener);
    return () => window.removeEventListener("keydown", listener);
  }, [listener]);
}

/** Whether somebody is typing text there, so that letters are letters and not keys. */
export function isTyping(target: EventTarget | null): boolean {
  if (target instanceof HTMLInputElement) return !["checkbox", "radio", "button"].includes(target.type);
  return target instanceof HTMLElement && /TEXTAREA|SELECT/.test(target.tagName);
}

/** Whether the key for commands is held: Ctrl, or ⌘ where keyboards have it. */
export function isCommand(event: { ctrlKey: boolean; metaKey: boolean }): boolean {
  return event.ctrlKey || event.metaKey;
}
