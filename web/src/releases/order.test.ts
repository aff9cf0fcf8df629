import { expect, test } from "vitest";
import { AT_ONCE, request } from "./order";

const ALL = ["north", "quay", "south"];

test("all at once is no order", () => {
  expect(request(AT_ONCE, ALL)).toBeUndefined();
  expect(request({ ...AT_ONCE, waveOf: { quay: 2, north: 2, south: 2 } }, ALL)).toBeUndefined();
});

test("gateways go wave by wave, whatever their numbers are", () => {
  expect(request({ ...AT_ONCE, waveOf: { north: 3, south: 5 } }, ALL)).toEqual({
    waves: [["quay"], ["north"], ["south"]],
    minutes: 10,
    begins: undefined,
  });
});

test("all at a time is an order", () => {
  const order = request({ ...AT_ONCE, begins: "2026-12-03T06:00" }, ALL);
  expect(order?.waves).toEqual([]);
  expect(order?.begins).toBe(new Date("2026-12-03T06:00").toISOString());
});
