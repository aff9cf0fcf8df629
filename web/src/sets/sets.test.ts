import { describe, expect, it, vi } from "vitest";
import type { NamedSet, SharedSet } from "../api/client";
import { worth } from "./SetsPage";

const own = (name: string, values: string[], usedBy: string[]): NamedSet => ({
  kind: "network",
  name,
  values,
  note: "",
  usedBy,
});
const shared = (name: string, values: string[]): SharedSet => ({ kind: "network", name, values, note: "" });

describe("what is worth a look among the sets", () => {
  it("is what nothing uses, what holds the same, what lies in another, and what is used most", () => {
    const open = vi.fn();
    const all = {
      version: 1,
      sets: [shared("Names", ["10.0.0.1"]), shared("All", ["10.0.0.0/8"])],
      relations: [{ kind: "network", one: "Names", other: "All", same: false }],
      unused: ["network:All"],
    };
    const found = worth(
      [own("Old", ["10.9.0.0/16"], []), own("Mail", ["10.0.0.1"], ["r1", "r2"])],
      all as Parameters<typeof worth>[1],
      open,
    );
    expect(found.map(({ title, notes }) => [title, notes.map(({ name }) => name)])).toEqual([
      ["Used by no rule and no set", ["Old", "All"]],
      ["Hold the same", ["Mail"]],
      ["Lie wholly in another", ["Names"]],
      ["Used most", ["Mail"]],
    ]);
    expect(found[1].notes[0].detail).toBe("holds the same as Names");
    found[0].notes[1].open?.();
    expect(open).toHaveBeenCalledWith("all", expect.objectContaining({ name: "All" }));
  });

  it("is nothing but use before the shared ones are known", () => {
    expect(
      worth([own("Mail", ["10.0.0.1"], ["r1"])], undefined, vi.fn()).filter((s) => s.notes.length),
    ).toHaveLength(1);
  });
});
