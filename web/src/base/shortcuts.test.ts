import { expect, test, vi } from "vitest";
import { keysOf, press, SHORTCUTS, shortcutOf } from "./shortcuts";

const none = { ctrlKey: false, metaKey: false, altKey: false, shiftKey: false };

test("no keys mean two things in one place", () => {
  const all = Object.values(SHORTCUTS).flatMap(({ where, keys }) => keys.map((key) => `${where} ${key}`));
  expect(new Set(all).size).toBe(all.length);
});

test("what works everywhere is nothing else on a page", () => {
  const everywhere = Object.values(SHORTCUTS)
    .filter(({ where }) => where === "everywhere")
    .flatMap(({ keys }) => [...keys]);
  const elsewhere = Object.values(SHORTCUTS)
    .filter(({ where }) => where !== "everywhere")
    .flatMap(({ keys }) => [...keys] as string[]);
  expect(elsewhere.filter((key) => everywhere.includes(key as never))).toEqual([]);
});

test("keys are told apart by what is held with them", () => {
  expect(shortcutOf({ ...none, key: "n" }, "rulebase")).toBe("newBelow");
  expect(shortcutOf({ ...none, key: "N", shiftKey: true }, "rulebase")).toBe("newAbove");
  expect(shortcutOf({ ...none, key: "n", ctrlKey: true }, "rulebase")).toBeUndefined();
  expect(shortcutOf({ ...none, key: "c" }, "rulebase")).toBe("clone");
  expect(shortcutOf({ ...none, key: "c", metaKey: true }, "rulebase")).toBe("copy");
  expect(shortcutOf({ ...none, key: "ArrowUp", altKey: true }, "rulebase")).toBe("moveUp");
  expect(shortcutOf({ ...none, key: "ArrowUp", shiftKey: true }, "rulebase")).toBe("extendUp");
  expect(shortcutOf({ ...none, key: "Z", ctrlKey: true, shiftKey: true }, "everywhere")).toBe("redo");
  expect(shortcutOf({ ...none, key: "z", metaKey: true }, "everywhere")).toBe("undo");
  // On some keyboards with Shift, on others without.
  expect(shortcutOf({ ...none, key: "?", shiftKey: true }, "everywhere")).toBe("help");
  expect(shortcutOf({ ...none, key: "/", shiftKey: true }, "rulebase")).toBe("filter");
});

test("a key with nothing to do is left to the browser", () => {
  const event = { ...none, key: "x", preventDefault: vi.fn() };
  expect(press(event, "rulebase", { switching: undefined })).toBe(false);
  expect(event.preventDefault).not.toHaveBeenCalled();
  const run = vi.fn();
  expect(press(event, "rulebase", { switching: run })).toBe(true);
  expect(run).toHaveBeenCalledOnce();
  expect(event.preventDefault).toHaveBeenCalledOnce();
});

test("the help of a page has its keys first", () => {
  const keys = keysOf("sets", "everywhere").map(({ written }) => written);
  expect(keys.slice(0, 2)).toEqual(["Enter", "Backspace"]);
  expect(keys).toContain("Ctrl K");
});
