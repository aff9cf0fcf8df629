import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { Parts } from "../api/client";
import { NO_IMPACT } from "../samples";
import type { Edits } from "../session/contexts";
import type { Edit } from "../session/useSent";
import { answers, asked, show, type Within, withServer } from "../testing";
import { SharedPage } from "./SharedPage";

withServer();

const parts: Parts = {
  sheets: [
    {
      name: "Guest web",
      note: "agreed",
      lines: [{ about: "category games", outcome: "deny" }],
      otherwise: "allow",
    },
  ],
  notices: [{ name: "Think twice", verdict: "ask", text: "Is it for work?" }],
  lanes: [
    {
      name: "Calls",
      scope: "client",
      guarantee: { up: 64, down: 64 },
      ceiling: { up: 0, down: 0 },
      clients: 40,
      note: "",
    },
  ],
  decryption: [
    {
      id: "banks",
      position: 1,
      decision: "leave encrypted",
      fields: { "to.sites": { values: ["category banking"] } },
      note: "",
    },
  ],
  capacity: { up: 2000, down: 5000 },
};

function shownIn(edit: (edit: Edit) => Promise<unknown>): Within {
  const rulebase = { id: "main", revision: 3, chapters: [], parts };
  return { openRulebase: { id: "main", who: "Wanda", rulebase }, edits: { edit: edit as Edits["edit"] } };
}

describe("what rules share", () => {
  it("is told in words", () => {
    show(
      <SharedPage />,
      shownIn(async () => undefined),
    );
    expect(screen.getByText(/The link carries up 2 Mbit\/s, down 5 Mbit\/s/)).toBeTruthy();
    expect(
      screen.getByText(/guarantee up 64 kbit\/s, down 64 kbit\/s × 40 clients · ceiling none/),
    ).toBeTruthy();
    expect(screen.getByText("leave encrypted")).toBeTruthy();
    expect(screen.getByText("category banking")).toBeTruthy();
    expect(screen.getByText("No rule uses it.")).toBeTruthy();
  });

  it("a changed sheet shows its impact and is sent whole", async () => {
    answers["rulebases/main/impact"] = NO_IMPACT;
    const edit = vi.fn(async () => undefined);
    show(<SharedPage />, shownIn(edit));
    fireEvent.click(screen.getByText("Add a line"));
    fireEvent.change(screen.getByLabelText("Line 2 matches"), { target: { value: "Chatterbay/upload" } });
    fireEvent.change(screen.getByLabelText("Outcome of line 2"), { target: { value: "ask Think twice" } });
    await screen.findByText("No connection would get another verdict.");
    expect(asked.some((one) => one.path === "rulebases/main/impact")).toBe(true);
    fireEvent.click(screen.getByText("Save the sheet"));
    await waitFor(() => expect(edit).toHaveBeenCalledTimes(1));
    expect(edit).toHaveBeenCalledWith({
      what: "changed sheet Guest web",
      steps: [
        {
          op: "SAVE_PART",
          partKind: "sheet",
          part: {
            name: "Guest web",
            note: "agreed",
            otherwise: "allow",
            lines: [
              { about: "category games", outcome: "deny" },
              { about: "Chatterbay/upload", outcome: "ask Think twice" },
            ],
          },
        },
      ],
    });
  });

  it("a lane is changed in its place; a rate has a unit, and what is none is refused", async () => {
    const edit = vi.fn(async () => undefined);
    show(<SharedPage />, shownIn(edit));
    const lanes = within(screen.getByRole("region", { name: "Lanes" }));
    fireEvent.click(lanes.getByText("Calls"));
    fireEvent.change(lanes.getByLabelText("ceiling up"), { target: { value: "abc" } });
    expect(lanes.getByRole("alert").textContent).toContain("is no rate");
    expect((lanes.getByLabelText("ceiling up") as HTMLInputElement).validity.valid).toBe(false);
    fireEvent.change(lanes.getByLabelText("ceiling up"), { target: { value: "500 kbit/s" } });
    fireEvent.change(lanes.getByLabelText("ceiling down"), { target: { value: "0.9" } });
    fireEvent.change(lanes.getByLabelText("guarantee up"), { target: { value: "80" } });
    fireEvent.click(lanes.getByText("Save"));
    await waitFor(() => expect(edit).toHaveBeenCalledTimes(1));
    const [[sent]] = edit.mock.calls as unknown as [[{ steps: { part: object }[] }]];
    expect(sent.steps[0].part).toMatchObject({
      name: "Calls",
      ceiling: { up: 500, down: 900 },
      guarantee: { up: 80, down: 64 },
    });
  });

  it("a new decryption rule takes several values and no spaces in its name", async () => {
    const edit = vi.fn(async () => undefined);
    show(<SharedPage />, shownIn(edit));
    const decryption = within(screen.getByRole("region", { name: "What is decrypted" }));
    fireEvent.click(decryption.getByText("New"));
    fireEvent.change(decryption.getByLabelText("called"), { target: { value: "for crews" } });
    fireEvent.change(decryption.getByLabelText("from zones"), { target: { value: "Ships; Crew wifi" } });
    expect(decryption.queryByLabelText("using applications")).toBeNull();
    fireEvent.click(decryption.getByText("Save"));
    await waitFor(() => expect(edit).toHaveBeenCalledTimes(1));
    const [[sent]] = edit.mock.calls as unknown as [[{ what: string; steps: { part: object }[] }]];
    expect(sent.what).toBe("made decryption rule for-crews");
    expect(sent.steps[0].part).toMatchObject({
      id: "for-crews",
      decision: "decrypt",
      fields: { "from.zones": { sense: "is", values: ["Ships", "Crew wifi"] } },
    });
  });

  it("a notice that is removed is removed by its name", async () => {
    const edit = vi.fn(async () => undefined);
    show(<SharedPage />, shownIn(edit));
    const notices = within(screen.getByRole("region", { name: "Notices" }));
    fireEvent.click(notices.getByText("Think twice"));
    fireEvent.click(notices.getByText("Remove"));
    await waitFor(() =>
      expect(edit).toHaveBeenCalledWith({
        what: "removed notice Think twice",
        steps: [{ op: "REMOVE_PART", partKind: "notice", id: "Think twice" }],
      }),
    );
  });
});
