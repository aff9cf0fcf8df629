import { describe, expect, it } from "vitest";
import type { Rulebase } from "../api/client";
import { partChanges } from "./parts";

const nothing: Rulebase = {
  id: "main",
  name: "Main",
  revision: 1,
  state: "",
  defaultVerdict: "deny",
  chapters: [{ id: "a", title: "Office", note: "", rules: [] }],
  sets: [],
  parts: { sheets: [], notices: [], lanes: [], decryption: [] },
  faults: [],
};

const full: Rulebase = {
  ...nothing,
  chapters: [...nothing.chapters, { id: "b", title: "Berth", note: "", rules: [] }],
  sets: [{ kind: "network", name: "Printers", values: ["10.1.0.1", "10.1.0.2"], note: "", usedBy: [] }],
  parts: {
    sheets: [{ name: "Chat", lines: [{ about: "Quill", outcome: "allow" }], otherwise: "deny", note: "" }],
    notices: [{ name: "Gaming", verdict: "ask", text: "Sure?" }],
    lanes: [
      { name: "Voice", scope: "rule", ceiling: { up: 10_000, down: 0 }, guarantee: { up: 0, down: 0 } },
    ],
    decryption: [
      { id: "crew", decision: "decrypt", fields: { "from.zones": { sense: "is", values: ["Crew"] } } },
      { id: "rest", decision: "leave encrypted", fields: {} },
    ],
  },
};

describe("what two revisions say differently besides their rules", () => {
  it("is nothing for the same", () => {
    expect(partChanges(full, structuredClone(full))).toEqual([]);
  });

  it("names everything that came, and everything that is gone", () => {
    const come = partChanges(nothing, full);
    expect(come.map(({ what, kind }) => `${kind} ${what}`)).toEqual([
      "come the chapter Berth",
      "come the set Printers",
      "come the usage sheet Chat",
      "come the notice Gaming",
      "come the lane Voice",
      "come what is decrypted: crew",
      "come what is decrypted: rest",
    ]);
    expect(partChanges(full, nothing).map(({ what }) => what)).toEqual(come.map(({ what }) => what));
  });

  it("says what of a thing is gone and what has come", () => {
    const next = structuredClone(full);
    next.defaultVerdict = "reject";
    next.sets[0].values = ["10.1.0.2", "10.1.0.3"];
    next.parts.sheets[0].otherwise = "ask Gaming";
    next.parts.notices[0].text = "Really?";
    next.parts.lanes[0].ceiling = { up: 20_000, down: 0 };
    next.parts.decryption.reverse();
    next.chapters.reverse();
    const said = partChanges(full, next).map(({ what, gone, come }) => [
      what,
      gone.join(" & "),
      come.join(" & "),
    ]);
    expect(said).toEqual([
      ["the default verdict", "deny", "reject"],
      ["the set Printers", "10.1.0.1", "10.1.0.3"],
      ["the usage sheet Chat", "otherwise: deny", "otherwise: ask Gaming"],
      ["the notice Gaming", "text: Sure?", "text: Really?"],
      ["the lane Voice", "ceiling: up 10 Mbit/s, down none", "ceiling: up 20 Mbit/s, down none"],
      ["what is decrypted: crew", "first of all", "after rest"],
      ["what is decrypted: rest", "after crew", "first of all"],
      ["the order of the chapters", "Office, Berth", "Berth, Office"],
    ]);
  });
});
