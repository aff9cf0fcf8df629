/** How fast a line can be, in kbit/s, with the units people say it in. */
export const UNITS: [string, number][] = [
  ["kbit/s", 1],
  ["Mbit/s", 1_000],
  ["Gbit/s", 1_000_000],
];

/** The fastest there is here, in kbit/s. */
export const FASTEST = 999_999_999;

/** A rate as it reads best: in the largest unit in which it is a short number. */
export function inUnit(kbits: number): { text: string; unit: string } {
  if (!kbits) return { text: "", unit: "Mbit/s" };
  const [unit, factor] =
    [...UNITS].reverse().find(([, one]) => kbits >= one && (kbits * 100) % one === 0) ?? UNITS[0];
  return { text: String(kbits / factor), unit };
}

/** A rate in words; nothing said is no limit. */
export function said(kbits: number | undefined): string {
  if (!kbits) return "none";
  const { text, unit } = inUnit(kbits);
  return `${text} ${unit}`;
}

/** What was typed as a rate in kbit/s, or why it is none; a unit that is typed goes before the one that is chosen. */
export function read(typed: string, chosen: string): { kbits: number; unit: string } | { problem: string } {
  const text = typed.trim();
  if (text === "") return { kbits: 0, unit: chosen };
  const match = text.match(/^(\d+(?:[.,]\d+)?)\s*(\S*)$/);
  const named = match?.[2]
    ? UNITS.find(([unit]) => unit.toLowerCase() === match[2].toLowerCase())?.[0]
    : chosen;
  if (!match || !named) return { problem: `“${text}” is no rate; one reads 10, 2.5 or 10 Mbit/s` };
  const factor = UNITS.find(([unit]) => unit === named)?.[1] ?? 1;
  const kbits = Number(match[1].replace(",", ".")) * factor;
  const whole = Math.round(kbits);
  if (Math.abs(kbits - whole) > 1e-6) return { problem: `“${text}” is no whole number of kbit/s` };
  if (whole > FASTEST) return { problem: `“${text}” is more than the ${said(FASTEST)} there can be` };
  return { kbits: whole, unit: named };
}
