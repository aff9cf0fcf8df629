import { fireEvent, screen, waitFor } from "@testing-library/react";
import { beforeAll, beforeEach, describe, expect, it, vi } from "vitest";
import { lasting } from "../base/storage";
import { blankRule, NO_IMPACT, rulebaseOf } from "../samples";
import { answers, asked, show, withServer } from "../testing";
import { AppShell } from "./AppShell";

/** What was drawn since it was emptied, and the way to have a component count. */
const { drawn, counting } = vi.hoisted(() => {
  const names: string[] = [];
  // Asked for as soon as the page is loaded.
  Object.assign(globalThis, {
    matchMedia: () => ({
      matches: false,
      addEventListener: () => undefined,
      removeEventListener: () => undefined,
    }),
  });
  /** Puts around a component one that counts, which is spared where the component would be. */
  const counting = async (load: () => Promise<Record<string, unknown>>, name: string) => {
    const { createElement, memo } = await import("react");
    const module = await load();
    const original = module[name] as React.FunctionComponent<object>;
    const counted = (props: object) => {
      names.push(name);
      return createElement(original, props);
    };
    return { ...module, [name]: typeof original === "function" ? counted : memo(counted) };
  };
  return { drawn: names, counting };
});

vi.mock("./Header", (load) => counting(load, "Header"));
// It is drawn whenever the frame of the page is.
vi.mock("./UpdateBanner", (load) => counting(load, "UpdateBanner"));
vi.mock("../impact/LastEditImpact", (load) => counting(load, "LastEditWord"));
vi.mock("../lens/Lens", (load) => counting(load, "Lens"));
vi.mock("../probe/ProbeLine", (load) => counting(load, "ProbeLine"));
vi.mock("../session/ReviewStatus", (load) => counting(load, "ReviewStatus"));
vi.mock("../stack/RuleRow", (load) => counting(load, "RuleRow"));
vi.mock("../stack/Stack", (load) => counting(load, "Stack"));

withServer();

const RULES = 12;

const rules = Array.from({ length: RULES }, (_, i) => blankRule(`r${i}`, i + 1, { name: `Rule of ${i}` }));
const rulebase = {
  ...rulebaseOf({ id: "one", title: "One", note: "", rules }),
  id: "b",
  undo: "added rule Ferry",
};
const head = { id: "b", name: "B", standing: "active", revision: 4, state: "four" };

/** How often a component was drawn. */
const times = (name: string) => drawn.filter((one) => one === name).length;

/** What is on the page but does not show which rule is selected. */
const AROUND = ["Header", "ProbeLine", "ReviewStatus", "LastEditWord"];

describe("what is drawn again", () => {
  beforeAll(() => {
    // jsdom has no layout; the list draws what fits into these.
    for (const side of ["clientHeight", "clientWidth"])
      Object.defineProperty(HTMLElement.prototype, side, { configurable: true, get: () => 900 });
    HTMLElement.prototype.scrollTo = () => undefined;
    HTMLCanvasElement.prototype.getContext = () => null;
  });
  beforeEach(async () => {
    lasting.set("tour", "left");
    Object.assign(answers, {
      "rulebases/b/review": { revision: 4, state: "four", rules: {}, steps: 1000 },
      "rulebases/b/promises": [],
      "rulebases/b/releases": "",
      "rulebases/b/hits": {
        revision: 4,
        state: "four",
        rules: {},
        defaultVerdict: { times: 3 },
        times: 3,
        days: 0,
        tapes: [],
        possible: {},
      },
      "rulebases/b/rules": { revision: 4, findings: [] },
      "rulebases/b/impact": NO_IMPACT,
      "rulebases/b/journal": [],
      "rulebases/b/caught": { times: 0, lines: [] },
      "rulebases/b": rulebase,
      rulebases: [head],
    });
    window.history.replaceState(null, "", "/r/b/");
    show(<AppShell />);
    await screen.findByText("Rule of 3");
    // What hangs on the review comes last.
    await screen.findByText("3 hits");
  });

  it("is, when another rule is selected, what shows the selection", async () => {
    fireEvent.keyDown(document.body, { key: "j" });
    fireEvent.keyDown(document.body, { key: "j" });
    await waitFor(() => expect(row("r0").getAttribute("aria-selected")).toBe("true"));
    drawn.length = 0;
    for (const next of ["r1", "r2", "r3", "r4", "r5", "r6"]) {
      fireEvent.keyDown(document.body, { key: "j" });
      await waitFor(() => expect(row(next).getAttribute("aria-selected")).toBe("true"));
    }
    expect(times("RuleRow"), "each time the row that was selected and the one that is").toBe(12);
    expect(times("Lens")).toBeGreaterThan(0);
    expect(AROUND.filter((name) => times(name) > 0)).toEqual([]);
    expect(times("UpdateBanner"), "for a timer that runs out in between, but not for each key").toBeLessThan(
      4,
    );
  });

  it("is, when something is typed into the probe line, the probe line", async () => {
    answers["probe/completions"] = { from: 0, choices: [] };
    drawn.length = 0;
    const line = screen.getByLabelText<HTMLInputElement>("Probe");
    fireEvent.change(line, { target: { value: "from Offices" } });
    await waitFor(() =>
      expect(asked.map(({ path }) => path)).toContainEqual(expect.stringMatching(/completions/)),
    );
    expect(line.value).toBe("from Offices");
    expect(["Header", "Stack", "RuleRow", "Lens"].filter((n) => times(n) > 0)).toEqual([]);
  });

  it("is, when a pointer lingers on a button, what says what the button would do", async () => {
    fireEvent.keyDown(document.body, { key: "j" });
    fireEvent.keyDown(document.body, { key: "j" });
    await waitFor(() => expect(row("r0").getAttribute("aria-selected")).toBe("true"));
    drawn.length = 0;
    fireEvent.pointerEnter(screen.getByRole("button", { name: "Down" }));
    await screen.findByRole("status", { name: "What it would do" });
    expect(["Header", "ProbeLine", "Stack", "RuleRow", "Lens"].filter((name) => times(name) > 0)).toEqual([]);
  });
});

function row(id: string): HTMLElement {
  const found = document.querySelector<HTMLElement>(`[data-rule="${id}"]`);
  if (!found) throw new Error(`no row of ${id}`);
  return found;
}
