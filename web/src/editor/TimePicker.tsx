import { useState } from "react";
import { DAYS, isMeant, OFFICE_HOURS, type PickedTime, timeText } from "./timeSpan";

const HOURS = Array.from({ length: 24 }, (_, hour) => hour);
const clock = (hour: number) => `${String(hour).padStart(2, "0")}:00`;

/** A span of time picked from a week and a calendar, for whoever does not remember how it is spelt. */
export function TimePicker({ add }: { add: (value: string) => void }) {
  const [picked, setPicked] = useState<PickedTime>(OFFICE_HOURS);
  const [begun, setBegun] = useState<{ day: number; hour: number }>();
  const text = timeText(picked);
  const field = (label: string, type: string, key: "from" | "to" | "first" | "last") => (
    <label className="flex items-center gap-1 text-dim text-xs">
      {label}
      <input
        type={type}
        value={picked[key]}
        onChange={(event) => setPicked({ ...picked, [key]: event.target.value })}
        className="rounded border border-paper-edge bg-ground/40 px-1 text-ink"
      />
    </label>
  );
  /** From where the pointer went down to where it is: a few days, and the hours between. */
  const drawn = (day: number, hour: number, start = begun ?? { day, hour }) =>
    setPicked({
      ...picked,
      days: DAYS.map((_, d) => d >= Math.min(start.day, day) && d <= Math.max(start.day, day)),
      from: clock(Math.min(start.hour, hour)),
      to: clock((Math.max(start.hour, hour) + 1) % 24),
    });
  return (
    <fieldset className="flex flex-col gap-1.5 rounded border border-paper-edge p-2">
      <legend className="px-1 text-dim text-xs">Pick from a week and a calendar</legend>
      <div className="flex gap-1">
        {DAYS.map((name, day) => (
          <button
            key={name}
            type="button"
            className="press min-w-9 text-xs"
            aria-pressed={picked.days[day]}
            onClick={() => setPicked({ ...picked, days: picked.days.map((on, d) => (d === day ? !on : on)) })}
          >
            {name}
          </button>
        ))}
      </div>
      {/* Drawn with a pointer; by keyboard the same is said with the fields around it. */}
      <div
        aria-hidden="true"
        className="grid touch-none select-none grid-cols-[repeat(24,minmax(0,1fr))] gap-px"
        onPointerUp={() => setBegun(undefined)}
        onPointerLeave={() => setBegun(undefined)}
      >
        {DAYS.flatMap((name, day) =>
          HOURS.map((hour) => (
            <span
              key={`${name} ${hour}`}
              title={`${name} ${clock(hour)}`}
              className={`h-2.5 ${isMeant(picked, day, hour) ? "bg-rust" : "bg-edge"}`}
              onPointerDown={() => {
                setBegun({ day, hour });
                drawn(day, hour, { day, hour });
              }}
              onPointerEnter={() => begun && drawn(day, hour)}
            />
          )),
        )}
      </div>
      <div className="flex flex-wrap items-center gap-2">
        {field("from", "time", "from")}
        {field("until", "time", "to")}
        {field("first day", "date", "first")}
        {field("last day", "date", "last")}
        <button
          type="button"
          className="press press-main ml-auto text-xs"
          disabled={!text}
          onClick={() => add(text)}
        >
          {text ? `Add ${text}` : "That is always"}
        </button>
      </div>
    </fieldset>
  );
}
