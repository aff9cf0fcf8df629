import { fireEvent, screen, waitFor } from "@testing-library/react";
import { useState } from "react";
import { describe, expect, it, vi } from "vitest";
import type { Step, StepOf } from "../api/client";
import { PasteStrip, placed } from "../editor/PasteStrip";
import { DefaultVerdictLens } from "../lens/DefaultVerdictLens";
import { blankRule, NO_IMPACT, rulebaseOf } from "../samples";
import { commands } from "../session/commands";
import { select } from "../session/selection";
import { useImpactPreview } from "../session/useImpactPreview";
import { answers, asked, show, withServer } from "../testing";
import { ImpactPreview } from "./ImpactPreview";
import { KeyPreview } from "./KeyPreview";
import { LastEditStrip, LastEditWord } from "./LastEditImpact";

withServer();

const rulebase = {
  ...rulebaseOf({
    id: "one",
    title: "One",
    note: "",
    rules: [blankRule("a", 1, { name: "Ferry" }), blankRule("b", 2, { name: "Quay" })],
  }),
  id: "main",
  revision: 7,
};
const named = (rule: string) => `rule ${rule.toUpperCase()}`;
const shownIn = { openRulebase: { id: "main", rulebase, named } };
const removing: Step[] = [{ op: "REMOVE_RULE", id: "a" }];

function Button({ asked }: { asked?: Step[] }) {
  const preview = useImpactPreview();
  return (
    <>
      <button type="button" {...preview.on("Remove", asked && (() => asked))}>
        Remove
      </button>
      {preview.meant && <ImpactPreview {...preview.meant} />}
    </>
  );
}

/** First one thing is weighed, then another. */
function Two() {
  const [first, setFirst] = useState(true);
  const off: Step[] = [{ op: "CHANGE_RULE", id: "a", rule: { state: "off" } }];
  return (
    <>
      <button type="button" onClick={() => setFirst(false)}>
        the other
      </button>
      <ImpactPreview label={first ? "Remove" : "Switch off"} asked={first ? removing : off} />
    </>
  );
}

describe("what is weighed", () => {
  it("is said while a pointer or a key is on the button, and no longer", async () => {
    answers["rulebases/main/impact"] = { ...NO_IMPACT, broken: ["Guests see nothing"] };
    show(<Button asked={removing} />, shownIn);
    const button = screen.getByText("Remove");
    fireEvent.pointerEnter(button);
    const would = await screen.findByText(/^Remove: breaks a promise: Guests see nothing/);
    expect(would.className).toContain("madder");
    expect(asked).toEqual([{ path: "rulebases/main/impact", body: { steps: removing } }]);
    fireEvent.pointerLeave(button);
    expect(screen.queryByRole("status")).toBeNull();
    fireEvent.focus(button);
    expect(await screen.findByText(/^Remove: breaks/)).toBeTruthy();
    expect(asked).toHaveLength(1);
  });

  it("is nothing where a button does nothing at once", () => {
    show(<Button />, shownIn);
    fireEvent.pointerEnter(screen.getByText("Remove"));
    expect(screen.queryByRole("status")).toBeNull();
    expect(asked).toEqual([]);
  });

  it("says why something is not possible, and that nothing would change without asking", async () => {
    answers["rulebases/main/impact"] = { status: 422, detail: "set Quays: it is used" };
    show(<ImpactPreview label="Remove" asked={removing} />, shownIn);
    expect(await screen.findByText("Remove: not possible, set Quays: it is used")).toBeTruthy();
    show(<ImpactPreview label="Up" asked={[]} />, shownIn);
    expect(screen.getByText("Up: nothing would change")).toBeTruthy();
    expect(asked).toHaveLength(1);
  });

  it("asks what undo would do of the one whose edit it is", async () => {
    answers["rulebases/main/impact/undo"] = NO_IMPACT;
    show(<ImpactPreview label="Undo" asked={{ action: "undo", who: "Wanda" }} />, shownIn);
    expect(await screen.findByText("Undo: every connection is decided as before")).toBeTruthy();
    expect(asked.map(({ path }) => path)).toEqual(["rulebases/main/impact/undo"]);
  });

  it("is never the answer to another question", async () => {
    answers["rulebases/main/impact"] = NO_IMPACT;
    show(<Two />, shownIn);
    await screen.findByText("Remove: every connection is decided as before");
    answers["rulebases/main/impact"] = { ...NO_IMPACT, begun: [{ rule: "b", kind: "shadowed" }] };
    fireEvent.click(screen.getByText("the other"));
    expect(screen.getByRole("status").textContent).toBe("");
    expect(await screen.findByText(/^Switch off: .* 1 new finding$/)).toBeTruthy();
  });
});

describe("what the keys would do", () => {
  it("is said of each that does something to what is selected", async () => {
    answers["rulebases/main/impact"] = NO_IMPACT;
    select("a");
    show(<KeyPreview can={commands(rulebase, "a")} chosen={0} close={vi.fn()} />, shownIn);
    expect(screen.getByText("What the keys would do to rule 1 Ferry")).toBeTruthy();
    expect(screen.getByText("Up: nothing would change")).toBeTruthy();
    expect(await screen.findByText("Down: every connection is decided as before")).toBeTruthy();
    await waitFor(() => expect(asked).toHaveLength(3));
  });

  it("is as high where nothing is selected, and asks nothing", () => {
    select(undefined);
    show(<KeyPreview can={commands(rulebase)} chosen={0} close={vi.fn()} />, shownIn);
    expect(screen.getByText(/^Select a rule/)).toBeTruthy();
    expect(screen.getAllByRole("listitem")).toHaveLength(4);
    expect(asked).toEqual([]);
  });
});

describe("rules about to be pasted", () => {
  const steps = ["First", "Second"].map((name): StepOf<"ADD_RULE"> => ({ op: "ADD_RULE", rule: { name } }));

  it("stand in their order in every place", () => {
    const names = (place: object) => placed(steps, place).map(({ rule }) => rule?.name);
    // Each goes right below the same rule, so what is put there last stands first.
    expect(names({ after: "a" })).toEqual(["Second", "First"]);
    expect(names({ before: "a" })).toEqual(["First", "Second"]);
    expect(names({ chapter: "one" })).toEqual(["First", "Second"]);
  });

  it("are shown with their impact and kept or left by a key", async () => {
    answers["rulebases/main/impact"] = {
      ...NO_IMPACT,
      placement: { side: "above", rule: "b", why: "Better above rule 2." },
    };
    const [keep, leave, onPlace] = [vi.fn(), vi.fn(), vi.fn()];
    show(
      <PasteStrip
        steps={steps.slice(0, 1)}
        place={{ after: "a" }}
        onPlace={onPlace}
        keep={keep}
        leave={leave}
      />,
      shownIn,
    );
    const strip = screen.getByLabelText("Rules to be pasted");
    expect(strip.textContent).toContain("1 rule right below rule A: First");
    expect(await screen.findByText(/Better above rule 2/)).toBeTruthy();
    fireEvent.keyDown(strip, { key: "Enter", altKey: true });
    expect(onPlace).toHaveBeenCalledWith({ before: "b" });
    fireEvent.click(screen.getByText("Paste it"));
    fireEvent.keyDown(strip, { key: "Escape" });
    expect([keep.mock.calls.length, leave.mock.calls.length]).toEqual([1, 1]);
  });
});

it("the default verdict is changed once its impact is read", async () => {
  answers["rulebases/main/impact"] = { ...NO_IMPACT, broken: ["Guests see nothing"] };
  const make = vi.fn();
  show(<DefaultVerdictLens />, { ...shownIn, edits: { make } });
  expect((screen.getByLabelText("deny") as HTMLInputElement).checked).toBe(true);
  expect(screen.queryByText("Save")).toBeNull();
  fireEvent.click(screen.getByLabelText("allow"));
  expect(await screen.findByText(/Breaks a promise: Guests see nothing/)).toBeTruthy();
  fireEvent.click(screen.getByText("Save"));
  const steps = [{ op: "SET_DEFAULT_VERDICT", verdict: "allow" }];
  expect(make).toHaveBeenCalledWith({ what: "set the default verdict to allow", steps });
});

describe("what was done", () => {
  it("names how many edits did it together", () => {
    const did = { ...NO_IMPACT, mended: ["Guests see nothing"] };
    show(<LastEditWord did={did} doneEdits={3} open={false} toggle={vi.fn()} />, shownIn);
    expect(screen.getByRole("button").textContent).toMatch(/^3 edits together: .*Guests see nothing/);
  });

  it("is a strip that stays where it is while it is worked out", () => {
    const { rerender } = show(
      <LastEditStrip told={{ did: undefined, doneEdits: 0 }} close={vi.fn()} />,
      shownIn,
    );
    const high = screen.getByLabelText("What the last edit did").className;
    expect(screen.getByText(/^Nothing has been edited/)).toBeTruthy();
    rerender(<LastEditStrip told={{ did: undefined, doneEdits: 1 }} close={vi.fn()} />);
    expect(screen.getByText(/^Working out/)).toBeTruthy();
    rerender(<LastEditStrip told={{ did: NO_IMPACT, doneEdits: 1 }} close={vi.fn()} />);
    expect(screen.getByText(/No connection gets another verdict/)).toBeTruthy();
    expect(screen.getByLabelText("What the last edit did").className).toBe(high);
  });
});
