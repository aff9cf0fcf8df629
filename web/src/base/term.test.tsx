import { fireEvent, screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { KeysHelp } from "../app/KeysHelp";
import { show, withServer } from "../testing";
import { Term } from "./Term";
import { TERMS } from "./terms";

withServer();

test("a word of one's own says on focus what it means, in the words of the help", async () => {
  show(<Term word="residue">residue</Term>);
  fireEvent.focus(screen.getByRole("button", { name: "residue" }));
  expect(await screen.findByRole("tooltip")).toHaveProperty("textContent", TERMS.residue);
});

test("the help lists every word with one sentence", () => {
  show(<KeysHelp page="rulebase" open close={vi.fn()} single setSingle={vi.fn()} />);
  for (const [word, meaning] of Object.entries(TERMS)) {
    expect(screen.getByText(word)).toBeTruthy();
    expect(screen.getByText(meaning)).toBeTruthy();
    expect(meaning).toMatch(/^[A-Z][^.]*\.$/);
  }
});
