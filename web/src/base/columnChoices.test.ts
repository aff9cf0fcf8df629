// @vitest-environment jsdom
import { beforeEach, describe, expect, it } from "vitest";
import { columnTargets } from "../traffic/Mapping";
import { keepChoices, keptChoices } from "./columnChoices";

describe("what columns of a table hold", () => {
  beforeEach(() => window.localStorage.clear());

  it("is kept for tables of the same kind with the same headings, and for no others", () => {
    keepChoices("rules", ["Aktion", "Von"], { Von: "from zones" });
    keepChoices("people", ["Aktion", "Von"], { Von: "login" });
    expect(keptChoices("rules", ["Aktion", "Von"])).toEqual({ Von: "from zones" });
    expect(keptChoices("rules", ["Von", "Aktion"])).toBeUndefined();
    expect(keptChoices("people", ["Aktion", "Von"])).toEqual({ Von: "login" });
    keepChoices("rules", ["Aktion", "Von"], {});
    expect(keptChoices("rules", ["Aktion", "Von"])).toBeUndefined();
  });

  it("is forgotten for the oldest of many tables, and where what is kept cannot be read", () => {
    for (let i = 0; i < 31; i++) keepChoices("rules", [`${i}`], { [i]: "name" });
    expect(keptChoices("rules", ["0"])).toBeUndefined();
    expect(keptChoices("rules", ["30"])).toEqual({ 30: "name" });
    window.localStorage.setItem("columns.rules", "{");
    expect(keptChoices("rules", ["30"])).toBeUndefined();
  });

  it("is one thing each, and what somebody says goes before what a heading says", () => {
    const targets = columnTargets(["src", "origin", "x"], { from: "src" }, { origin: "from" });
    expect(targets).toEqual({ src: "nothing", origin: "from", x: "nothing" });
    expect(columnTargets(["src"], { from: "src" }, {})).toEqual({ src: "from" });
  });
});
