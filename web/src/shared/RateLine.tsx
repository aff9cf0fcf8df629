import { useState } from "react";
import { inUnit, read, UNITS } from "./rates";

type Props = { label: string; kbits: number; set: (kbits: number) => void };

/** One labelled rate: a number and its unit. What cannot be read is said at once, and keeps the form from being sent. */
export function RateLine({ label, kbits, set }: Props) {
  const [typed, setTyped] = useState(() => inUnit(kbits));
  const now = read(typed.text, typed.unit);
  const problem = "problem" in now ? now.problem : "";
  const take = (text: string, unit: string) => {
    const rate = read(text, unit);
    setTyped({ text, unit });
    if ("kbits" in rate) set(rate.kbits);
  };
  return (
    <span className="flex flex-wrap items-center gap-2 text-xs">
      <label className="flex min-w-0 flex-1 items-center gap-2">
        <span className="w-24 shrink-0 text-dim">{label}</span>
        <input
          ref={(input) => input?.setCustomValidity(problem)}
          value={typed.text}
          inputMode="decimal"
          placeholder="none"
          aria-invalid={problem !== ""}
          onChange={(event) => take(event.target.value, typed.unit)}
          className="w-24 rounded border border-paper-edge bg-ground/40 px-2 py-0.5 placeholder:text-faint"
        />
      </label>
      <select
        aria-label={`${label}, unit`}
        value={"kbits" in now ? now.unit : typed.unit}
        onChange={(event) => take(typed.text.replace(/[^\d.,]/g, ""), event.target.value)}
        className="rounded border border-paper-edge bg-paper px-1 py-0.5"
      >
        {UNITS.map(([unit]) => (
          <option key={unit}>{unit}</option>
        ))}
      </select>
      {problem && (
        <span role="alert" className="w-full pl-26 text-madder">
          {problem}
        </span>
      )}
    </span>
  );
}
