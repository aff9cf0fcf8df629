import { screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import type { Rule } from "../api/client";
import { show, withServer } from "../testing";
import { RuleRow } from "./RuleRow";
import { type Room, roomOf } from "./room";

withServer();

const rule = {
  id: "r1",
  number: 1,
  name: "Resolvers",
  state: "on",
  verdict: "allow",
  outcome: "allow",
  logging: "logged",
  ports: "usual",
  note: "",
  sentence: "Allow anybody from Offices to Berth control.",
  fields: {
    "from.zones": { sense: "is", values: ["Offices", "Terminals", "Ships"] },
    "from.people": { sense: "is", values: ["group Staff"] },
    "to.zones": { sense: "is", values: ["Berth control"] },
  },
} as unknown as Rule;

function row(room: Room) {
  const { unmount } = show(
    <RuleRow
      rulebase="main"
      revision={1}
      rule={rule}
      selected={false}
      chosen={false}
      relation=""
      related=""
      standing="none"
      findings={[]}
      number={() => 1}
      named={() => "rule 1"}
      dragging={false}
      room={room}
      select={vi.fn()}
      edit={vi.fn()}
    />,
  );
  const text = screen.getByRole("row").textContent ?? "";
  unmount();
  return text;
}

test("a row shows fewer values where there is less room, counts the others, and reads as a sentence where there is none", () => {
  expect([1280, 720, 719, 500, 499, 320].map(roomOf)).toEqual([
    "wide",
    "wide",
    "narrow",
    "narrow",
    "slim",
    "slim",
  ]);
  expect(row("wide")).toMatch(/Offices.*\+2.*Staff.*Berth control/);
  expect(row("narrow")).toMatch(/Offices.*\+3.*Berth control/);
  expect(row("narrow")).not.toContain("Staff");
  expect(row("slim")).toContain("Allow anybody from Offices to Berth control.");
});
