import type { Measure, Sum } from "../api/client";

const UNITS = ["bytes", "kB", "MB", "GB", "TB", "PB"];

/** A number of bytes with a unit chosen for reading. */
export function bytes(count: number): string {
  let unit = 0;
  let left = count;
  while (left >= 1000 && unit < UNITS.length - 1) {
    left /= 1000;
    unit++;
  }
  return unit === 0 ? `${count} bytes` : `${left < 10 ? left.toFixed(1) : Math.round(left)} ${UNITS[unit]}`;
}

/** How much there is, as it is measured. */
export const amount = (sum: Sum, measure: Measure) => (measure === "bytes" ? sum.up + sum.down : sum.times);

/** The same in words. */
export const words = (count: number, measure: Measure) =>
  measure === "bytes" ? bytes(count) : count.toLocaleString("en");

/** A share as a percentage; small ones are not rounded to nothing. */
export function share(part: number, whole: number): string {
  if (whole === 0) return "0 %";
  const percent = (100 * part) / whole;
  return percent > 0 && percent < 1 ? "under 1 %" : `${Math.round(percent)} %`;
}
