/** A span of time as it is picked: days of the week, hours of the day, and from which day to which. */
export type PickedTime = {
  /** Which days of the week, Monday first. */
  days: boolean[];
  /** Like 08:00; nothing for the whole day. */
  from: string;
  to: string;
  /** Like 2026-12-24; nothing for always. */
  first: string;
  last: string;
};

export const DAYS = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"];

/** What stands picked to begin with. */
export const OFFICE_HOURS: PickedTime = {
  days: [true, true, true, true, true, false, false],
  from: "08:00",
  to: "18:00",
  first: "",
  last: "",
};

/** What was picked as a rule says it, such as "2026-12-24..2026-12-26 mon-fri 08:00-18:00"; empty if that is always. */
export function timeText({ days, from, to, first, last }: PickedTime): string {
  const dates = first || last ? `${first}..${last}` : "";
  const all = days.every(Boolean) || !days.some(Boolean);
  const hours = from || to ? `${from || "00:00"}-${to && to !== "00:00" ? to : "24:00"}` : "";
  const whole = hours === "00:00-24:00";
  return [dates, all ? "" : runs(days), whole ? "" : hours].filter(Boolean).join(" ");
}

/** Days of the week, those that follow each other as first-last. */
function runs(days: boolean[]): string {
  const found: string[] = [];
  for (let day = 0; day < 7; day++) {
    if (!days[day]) continue;
    const start = day;
    while (days[day + 1]) day++;
    found.push(start === day ? DAYS[day] : `${DAYS[start]}-${DAYS[day]}`);
  }
  return found.join(",");
}

/** Whether an hour of a day of the week is meant; a night goes on into the day after. */
export function isMeant({ days, from, to }: PickedTime, day: number, hour: number): boolean {
  const begin = from ? Number(from.slice(0, 2)) : 0;
  const end = to && to !== "00:00" ? Number(to.slice(0, 2)) + (to.endsWith(":00") ? 0 : 1) : 24;
  const on = (day: number) => days[(day + 7) % 7] || !days.some(Boolean);
  if (begin < end) return on(day) && hour >= begin && hour < end;
  return (on(day) && hour >= begin) || (on(day - 1) && hour < end);
}
