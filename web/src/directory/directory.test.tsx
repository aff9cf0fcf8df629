import { fireEvent, screen } from "@testing-library/react";
import { useState } from "react";
import { expect, test, vi } from "vitest";
import type { NameChoice, Rulebase, UnknownName } from "../api/client";
import { valuesOf } from "../base/valuesOf";
import { UnknownNames } from "../gateways/UnknownNames";
import { show, withServer } from "../testing";
import { naming } from "../zones/ZonesPage";
import { formatOf } from "./LoadDirectory";
import { NameList } from "./NameList";

withServer();

test("a file of people is known by how it begins", () => {
  expect(formatOf("version: 1\n\ndn: uid=a\n")).toBe("ldif");
  expect(formatOf("# made by hand\ndn:: dWlkPWE=\n")).toBe("ldif");
  expect(formatOf("\uFEFFlogin,name\na,A\n")).toBe("csv");
  expect(formatOf("")).toBe("csv");
});

test("networks are taken one a line or with commas, comments left out", () => {
  expect(valuesOf("10.0.0.0/8, 10.1.0.0/16\n# old\n::1 # loop\n\n")).toEqual([
    "10.0.0.0/8",
    "10.1.0.0/16",
    "::1",
  ]);
});

test("names are added as they are known, and one that is not is told", () => {
  const set = vi.fn();
  show(<NameList label="Groups" names={["Staff"]} known={["Staff", "Clerks"]} set={set} />);
  const input = screen.getByLabelText("Add to groups");
  fireEvent.change(input, { target: { value: "pirates" } });
  fireEvent.keyDown(input, { key: "Enter" });
  expect(screen.getByText("there is no such group")).toBeTruthy();
  expect(set).not.toHaveBeenCalled();
  fireEvent.change(input, { target: { value: "clerks" } });
  fireEvent.keyDown(input, { key: "Enter" });
  expect(set).toHaveBeenCalledWith(["Staff", "Clerks"]);
});

const UNKNOWN: UnknownName[] = [
  { kind: "zone", value: "Office", why: "", places: ["rule a"], near: ["Offices"] },
  { kind: "zone", value: "Moon", why: "", places: ["rule a", "rule b"], near: [] },
];

function Choosing({ told }: { told: (choices: NameChoice[]) => void }) {
  const [choices, setChoices] = useState<NameChoice[]>([]);
  const left = UNKNOWN.filter((one) => !choices.some((choice) => choice.value === one.value));
  return (
    <UnknownNames
      unknown={left}
      choices={choices}
      version={1}
      make={async () => true}
      choose={(next) => {
        setChoices(next);
        told(next);
      }}
    />
  );
}

test("each unknown name is taken as something else or left out, and that is taken back", () => {
  const told = vi.fn();
  show(<Choosing told={told} />);
  expect(screen.getByText(/2 names stand for nothing here/)).toBeTruthy();
  fireEvent.keyDown(screen.getByLabelText("What Office is here"), { key: "Enter" });
  expect(told).toHaveBeenLastCalledWith([{ kind: "zone", value: "Office", other: "Offices" }]);
  fireEvent.click(screen.getByText("Leave it out"));
  expect(screen.getByText("Every name stands for something here.")).toBeTruthy();
  fireEvent.click(screen.getByText("Office → Offices"));
  expect(told).toHaveBeenLastCalledWith([{ kind: "zone", value: "Moon" }]);
});

test("a zone is named once by a rule, however often it stands in it", () => {
  const rule = (from: string[], to: string[]) => ({
    fields: { "from.zones": { sense: "is", values: from }, "to.zones": { sense: "is", values: to } },
  });
  const rulebase = {
    chapters: [{ rules: [rule(["Inside"], ["Inside", "Outside"]), rule(["Inside"], [])] }],
  } as unknown as Rulebase;
  expect([...naming(rulebase)]).toEqual([
    ["Inside", 2],
    ["Outside", 1],
  ]);
});
