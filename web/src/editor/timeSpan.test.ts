import { expect, test } from "vitest";
import { isMeant, OFFICE_HOURS, timeText } from "./timeSpan";

const all = [true, true, true, true, true, true, true];

test("what is picked is written as a rule says it", () => {
  expect(timeText(OFFICE_HOURS)).toBe("mon-fri 08:00-18:00");
  expect(timeText({ days: all, from: "22:00", to: "06:00", first: "", last: "" })).toBe("22:00-06:00");
  expect(timeText({ days: all, from: "", to: "", first: "2026-12-24", last: "" })).toBe("2026-12-24..");
  const some = [true, false, true, true, false, false, true];
  expect(timeText({ days: some, from: "20:00", to: "00:00", first: "", last: "2026-12-26" })).toBe(
    "..2026-12-26 mon,wed-thu,sun 20:00-24:00",
  );
  expect(timeText({ days: all, from: "", to: "", first: "", last: "" })).toBe("");
});

test("the week shows the hours that are meant, a night until the next morning", () => {
  expect(isMeant(OFFICE_HOURS, 0, 8)).toBe(true);
  expect(isMeant(OFFICE_HOURS, 0, 18)).toBe(false);
  expect(isMeant(OFFICE_HOURS, 5, 9)).toBe(false);
  const friday = [false, false, false, false, true, false, false];
  const night = { days: friday, from: "22:00", to: "06:30", first: "", last: "" };
  expect(isMeant(night, 4, 23)).toBe(true);
  expect(isMeant(night, 5, 6)).toBe(true);
  expect(isMeant(night, 5, 7)).toBe(false);
  expect(isMeant(night, 4, 3)).toBe(false);
});
