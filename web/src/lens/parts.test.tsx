import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import { useState } from "react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import {
  ApiError,
  api,
  type Fall,
  type Gauge,
  type Impact,
  type Rule,
  type RuleField,
  type Step,
} from "../api/client";
import { RuleEditor } from "../editor/RuleEditor";
import { ValueEditor } from "../editor/ValueEditor";
import { ImpactStrip } from "../impact/ImpactStrip";
import { inShort } from "../impact/ImpactText";
import { Unfolding } from "../probe/Unfolding";
import { Marks } from "../rules/Marks";
import { Plate } from "../rules/Plate";
import { ResidueGauge } from "../rules/ResidueGauge";
import { NO_IMPACT, rulebaseOf } from "../samples";
import { answers, asked, show, withServer } from "../testing";

withServer();

const named = (rule: string) => `rule ${rule}`;

describe("a verdict plate", () => {
  it("tells verdicts apart by shape and always says the word", () => {
    const holes = (verdict: string) => {
      const { container } = show(<Plate verdict={verdict} word={false} />);
      const fill = container.querySelector("[data-holes]")?.getAttribute("fill");
      const lips = container.querySelectorAll("path:not([data-holes])").length;
      expect(screen.getByText(verdict)).toBeTruthy();
      cleanup();
      return `${fill} ${lips}`;
    };
    expect(holes("allow")).toBe("none 0");
    expect(holes("deny")).toBe("currentColor 0");
    expect(holes("reject")).toBe("currentColor 1");
    expect(holes("stop")).toBe("currentColor 1");
    expect(holes("ask")).toBe("none 1");
  });
});

describe("the residue gauge", () => {
  const residue: Gauge = {
    share: 0.25,
    estimated: true,
    takers: [{ rule: "a", verdict: "deny", share: 0.75 }],
    more: 0,
  };

  it("says how much is left, and that an estimate is one", () => {
    show(<ResidueGauge residue={residue} named={named} />);
    expect(screen.getByRole("img").getAttribute("aria-label")).toBe(
      "about 25 % of what this rule matches is left to it",
    );
    expect(screen.getByText(/≈\s*25\s*%/)).toBeTruthy();
  });

  it("gives each taker its part", () => {
    const { container } = show(<ResidueGauge residue={{ ...residue, estimated: false }} named={named} />);
    const widths = [...container.querySelectorAll<HTMLElement>("[style]")].map((part) => part.style.width);
    expect(widths).toEqual(["25%", "75%"]);
    expect(screen.queryByText(/≈/)).toBeNull();
  });
});

describe("the marks of findings", () => {
  it("show what matters and pass over what is normal", () => {
    const finding = {
      kind: "shadowed",
      severity: "error",
      said: [{ text: "Nothing reaches it: " }, { rules: ["a", "b"] }, { text: "." }],
      accepted: false,
    };
    const number = (id: string) => ({ a: 3, b: 7 })[id];
    const quiet = { ...finding, kind: "exception", severity: "quiet" };
    show(<Marks findings={[finding, quiet]} number={number} />);
    const mark = screen.getByRole("img");
    expect(mark.getAttribute("aria-label")).toBe("shadowed");
    expect(mark.title).toBe("Nothing reaches it: rules 3 and 7.");
    cleanup();
    const { container } = show(<Marks findings={[quiet]} number={number} />);
    expect(container.textContent).toBe("");
  });
});

describe("the impact strip", () => {
  const impact: Impact = {
    revision: 1,
    state: "s",
    complete: true,
    kinds: [
      {
        words: [{ part: "from", text: "Offices" }],
        before: { verdict: "allow", outcome: "allow", rules: ["a"] },
        after: { verdict: "deny", outcome: "deny", rules: ["b"] },
        probe: "from Offices to Internet",
      },
    ],
    ended: [{ rule: "b", kind: "shadowed" }],
    begun: [{ rule: "a", kind: "redundant" }],
    broken: ["Guests can book"],
    mended: [],
    recorded: { times: 0, besideVerdict: 0, people: 0, names: [], lines: [], more: 0 },
    oversubscribed: [],
  };
  const steps: Step[] = [{ op: "REMOVE_RULE", id: "a" }];
  const strip = (some: Step[], drop = (_: string) => {}) =>
    show(<ImpactStrip rulebase="b" revision={1} steps={some} named={named} drop={drop} />);

  it("asks for nothing while nothing is changed", () => {
    strip([]);
    expect(screen.getByText("Nothing is changed yet.")).toBeTruthy();
    expect(asked).toHaveLength(0);
  });

  it("says in short what an edit did, the gravest first", () => {
    expect(inShort({ ...impact, mended: ["Agents can pay"] }, "is")).toBe(
      "broke a promise: Guests can book · 1 group of connections with another verdict · 1 new finding · 1 finding ended · kept again: Agents can pay",
    );
    expect(inShort({ ...impact, kinds: [], begun: [], broken: [] }, "would be")).toBe(
      "every connection is decided as before · 1 finding fewer",
    );
  });

  it("says what changes, which findings end and begin, and which promises break", async () => {
    answers["rulebases/b/impact"] = impact;
    const dropped: string[] = [];
    strip(steps, (probe) => dropped.push(probe));
    expect(
      await screen.findByText(/1 group of connections would get another verdict\. 1 finding ends\./),
    ).toBeTruthy();
    expect(screen.getByText(/New: rule a redundant\./)).toBeTruthy();
    expect(screen.getByText("Breaks a promise: Guests can book.")).toBeTruthy();
    fireEvent.click(screen.getByText("try one"));
    expect(dropped).toEqual(["from Offices to Internet"]);
    expect(asked[0].body).toEqual({ steps });
  });

  it("admits that there may be more", async () => {
    answers["rulebases/b/impact"] = { ...impact, complete: false };
    strip(steps);
    expect(await screen.findByText(/and perhaps more/)).toBeTruthy();
  });

  it("says why it cannot be worked out", async () => {
    answers["rulebases/b/impact"] = { type: "x", title: "No", status: 422, detail: "there is no rule a" };
    strip(steps);
    expect(await screen.findByText(/there is no rule a/)).toBeTruthy();
  });
});

describe("the value editor", () => {
  function Harness({ onMakeSet }: { onMakeSet?: (name: string, values: string[]) => void }) {
    const [field, setField] = useState<RuleField>({ sense: "is", values: ["Offices"] });
    return (
      <>
        <ValueEditor
          rulebase="b"
          kind="network"
          label="network"
          field={field}
          onChange={setField}
          canNegate
          focused
          onMakeSet={onMakeSet}
        />
        <output>{JSON.stringify(field)}</output>
      </>
    );
  }
  const field = () => JSON.parse(screen.getByRole("status").textContent ?? "");

  it("adds the first choice with Enter, takes away with Backspace, and turns round", async () => {
    answers["rulebases/b/choices"] = [{ value: "10.20.0.0/16", kind: "network", detail: "" }];
    show(<Harness />);
    await screen.findByText("10.20.0.0/16");
    const input = screen.getByRole("combobox");
    fireEvent.keyDown(input, { key: "Enter" });
    expect(field().values).toEqual(["Offices", "10.20.0.0/16"]);
    fireEvent.keyDown(input, { key: "Backspace" });
    expect(field().values).toEqual(["Offices"]);
    fireEvent.click(screen.getByText("is any of"));
    expect(field().sense).toBe("is not");
  });

  it("takes what was typed even when Enter overtakes the list", async () => {
    answers["rulebases/b/choices"] = [{ value: "10.0.0.1", kind: "network", detail: "old" }];
    show(<Harness />);
    await screen.findByText("10.0.0.1");
    answers["rulebases/b/choices"] = [{ value: "10.77.0.0/24", kind: "network", detail: "as typed" }];
    const input = screen.getByRole("combobox");
    fireEvent.change(input, { target: { value: "10.77.0.0/24" } });
    fireEvent.keyDown(input, { key: "Enter" });
    await waitFor(() => expect(field().values).toEqual(["Offices", "10.77.0.0/24"]));
  });

  it("makes a set of the values under a name", async () => {
    answers["rulebases/b/choices"] = [];
    const made: unknown[] = [];
    show(<Harness onMakeSet={(name, values) => made.push(name, values)} />);
    fireEvent.click(screen.getByText("Make a set of this"));
    fireEvent.change(screen.getByLabelText("Name of the new set"), { target: { value: " Head office " } });
    fireEvent.click(screen.getByText("Name it"));
    expect(made).toEqual(["Head office", ["Offices"]]);
  });
});

describe("the rule editor", () => {
  const rule: Rule = {
    id: "r1",
    number: 7,
    name: "Old name",
    state: "on",
    fields: { "from.zones": { sense: "is", values: ["Offices"] } },
    ports: "any",
    verdict: "allow",
    outcome: "allow",
    logging: "logged",
    note: "",
    sentence: "",
  };
  const saved: { steps: unknown; revision?: number }[] = [];
  let refusal: ApiError | undefined;
  const editor = (close = () => {}) =>
    show(
      <RuleEditor
        rulebase="b"
        who="ada"
        revision={3}
        rule={rule}
        begin="words"
        what="changed"
        steps={(patch) => [{ op: "CHANGE_RULE", id: "r1", rule: patch }]}
        save={async (edit) => {
          if (refusal) {
            const error = refusal;
            refusal = undefined;
            throw error;
          }
          saved.push(edit);
        }}
        close={close}
        named={named}
        drop={() => {}}
      />,
    );

  beforeEach(() => {
    saved.length = 0;
    refusal = undefined;
    answers["rulebases/b/impact"] = NO_IMPACT;
    answers["rulebases/b/open-rules"] = { others: ["Piet"] };
  });

  it("sends only what differs, on the revision it was opened on", async () => {
    let closed = false;
    editor(() => {
      closed = true;
    });
    fireEvent.change(screen.getByLabelText("Name of the rule"), { target: { value: "New name" } });
    fireEvent.click(screen.getByText("Save"));
    await waitFor(() => expect(closed).toBe(true));
    expect(saved).toEqual([
      { what: "changed", revision: 3, steps: [{ op: "CHANGE_RULE", id: "r1", rule: { name: "New name" } }] },
    ]);
  });

  it("closes without a word to the server when nothing differs", async () => {
    let closed = false;
    editor(() => {
      closed = true;
    });
    fireEvent.click(screen.getByText("Save"));
    await waitFor(() => expect(closed).toBe(true));
    expect(saved).toHaveLength(0);
  });

  it("keeps everything typed when it is refused for a field, and says which", async () => {
    const errors = [{ place: "rule r1", field: "from.networks", message: "10.20.0.7/16 has bits set" }];
    refusal = new ApiError({ type: "x", title: "This cannot be accepted", status: 422, detail: "", errors });
    editor();
    fireEvent.change(screen.getByLabelText("Note on the rule"), { target: { value: "why" } });
    fireEvent.click(screen.getByText("Save"));
    expect((await screen.findByRole("alert")).textContent).toContain("10.20.0.7/16 has bits set");
    expect((screen.getByLabelText("Note on the rule") as HTMLTextAreaElement).value).toBe("why");
  });

  it("puts its changes on top of somebody else's when asked to", async () => {
    const entry = {
      revision: 4,
      at: "",
      who: "Piet",
      reason: "",
      what: "moved rule 9",
      action: "edit",
      touched: [],
    };
    refusal = new ApiError({
      type: "x",
      title: "It has changed",
      status: 409,
      detail: "",
      revision: 4,
      since: [entry],
    });
    // The other one named it too: neither name takes the place of the other unasked.
    answers["rulebases/b"] = {
      ...rulebaseOf({ id: "c", title: "C", note: "", rules: [{ ...rule, name: "Theirs" }] }),
      id: "b",
      revision: 4,
    };
    editor();
    fireEvent.change(screen.getByLabelText("Name of the rule"), { target: { value: "Mine" } });
    fireEvent.click(screen.getByText("Save"));
    expect((await screen.findByRole("alert")).textContent).toContain("Piet moved rule 9");
    expect(screen.getByText("Piet has this rule open too.")).toBeTruthy();
    expect(await screen.findByLabelText("theirs: Theirs")).toBeTruthy();
    const save = screen.getByText("Save what is chosen") as HTMLButtonElement;
    expect(save.disabled).toBe(true);
    fireEvent.click(screen.getByLabelText("mine: Mine"));
    fireEvent.click(save);
    await waitFor(() => expect(saved[0]?.revision).toBe(4));
    expect(saved[0]?.steps).toMatchObject([{ op: "CHANGE_RULE", id: "r1", rule: { name: "Mine" } }]);
  });
});

describe("the client", () => {
  it("turns an answer that is no problem document into one", async () => {
    const error = await api.heads().catch((e) => e);
    expect(error).toBeInstanceOf(ApiError);
    expect(error.problem.detail).toContain("500");
  });

  it("says that nothing is lost when the server does not answer", async () => {
    vi.stubGlobal("fetch", async () => {
      throw new TypeError("refused");
    });
    const error = await api.heads().catch((e) => e);
    expect(error.problem.detail).toContain("Nothing you typed is lost");
  });
});

describe("how a probe unfolds", () => {
  it("names each stage, what waits, and what leaked", () => {
    const fall: Fall = {
      revision: 1,
      text: "from Offices to Internet",
      parts: [],
      passed: [],
      caughtBy: "b",
      outcome: "deny",
      verdict: "deny",
      matches: [],
      below: [],
      belowMore: 0,
      stages: [
        {
          knowledge: "first packet",
          status: "provisional",
          waiting: [{ rule: "a", fields: ["application"] }],
          rule: "c",
          outcomes: ["allow"],
        },
        { knowledge: "named", status: "decided", waiting: [], rule: "b", outcomes: ["deny"] },
      ],
    };
    show(<Unfolding fall={fall} named={named} />);
    const [first, second] = screen.getAllByRole("listitem");
    expect(first.textContent).toContain("first packet let through for now · 1 rule waits");
    expect(first.querySelector("[title]")?.getAttribute("title")).toBe("rule a waits for the application");
    expect(second.textContent).toContain("named decided");
    expect(screen.getByText(/had passed by then/)).toBeTruthy();
  });
});
