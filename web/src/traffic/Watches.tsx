import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Measure, type Narrowing, type Watch } from "../api/client";
import { Fault } from "../base/Fault";
import { useAnswers, useEditing, useOpenRulebase } from "../session/contexts";
import { useSend } from "../session/useSend";
import { words } from "./units";

/** What is asked again once the rulebase catches something else. */
const useKey = () => ["watches", useOpenRulebase().id, useAnswers().hits?.state];

/** The views that somebody keeps an eye on: each with its line, and whether it is above its threshold. */
export function Watches({ look }: { look: (narrowing: Narrowing) => void }) {
  const openRulebase = useOpenRulebase();
  const edits = useEditing();
  const key = useKey();
  const watches = useQuery({ queryKey: key, queryFn: () => api.watches(openRulebase.id) });
  const client = useQueryClient();
  if (!watches.data || watches.data.length === 0) return null;
  return (
    <ul aria-label="Watches" className="flex flex-wrap gap-2 border-edge border-b bg-plate px-3 py-1.5">
      {watches.data.map((watch) => (
        <li
          key={watch.name}
          className={`flex items-center gap-2 rounded border px-2 py-1 text-xs ${watch.above ? "border-rust bg-rust-wash" : "border-edge"}`}
        >
          <button type="button" className="text-left" onClick={() => look({ only: watch.only })}>
            <b>{watch.name}</b>{" "}
            <span className={watch.above ? "text-rust" : "text-dim"}>
              {watch.above ? "above" : "below"} {words(watch.threshold, watch.measure as Measure)}: at most{" "}
              {words(watch.largest, watch.measure as Measure)}
              {watch.largestAt && ` on ${watch.largestAt.slice(0, 10)}`}
            </span>
          </button>
          <Line watch={watch} />
          <button
            type="button"
            className="text-dim"
            aria-label={`Remove the watch ${watch.name}`}
            onClick={() =>
              api
                .removeWatch(openRulebase.id, watch.name)
                .then((now) => client.setQueryData(key, now))
                .catch((error) => edits.say(error.message))
            }
          >
            ×
          </button>
        </li>
      ))}
    </ul>
  );
}

const WIDTH = 90;
const HEIGHT = 20;

/** A watch over time, with its threshold. */
function Line({ watch }: { watch: Watch }) {
  const most = Math.max(1, watch.largest, watch.threshold);
  const x = (index: number) => (index / Math.max(1, watch.line.length - 1)) * WIDTH;
  const y = (value: number) => HEIGHT - (value / most) * HEIGHT;
  return (
    <svg width={WIDTH} height={HEIGHT} aria-hidden="true" className="overflow-visible">
      <polyline
        points={watch.line.map((value, index) => `${x(index)},${y(value)}`).join(" ")}
        fill="none"
        stroke="var(--dim)"
        strokeWidth="1.2"
      />
      <line
        x1="0"
        x2={WIDTH}
        y1={y(watch.threshold)}
        y2={y(watch.threshold)}
        stroke="var(--rust)"
        strokeDasharray="3 2"
      />
    </svg>
  );
}

/** Keeps what is looked at as a watch. */
export function KeepWatch({ narrowing, measure }: { narrowing: Narrowing; measure: Measure }) {
  const openRulebase = useOpenRulebase();
  const [isOpen, setOpen] = useState(false);
  const [name, setName] = useState("");
  const [threshold, setThreshold] = useState("100");
  const { fault, attempt } = useSend();
  const client = useQueryClient();
  const key = useKey();
  if (!isOpen)
    return (
      <button type="button" className="press text-xs" onClick={() => setOpen(true)}>
        Keep as a watch
      </button>
    );
  return (
    <form
      aria-label="Keep as a watch"
      className="flex flex-wrap items-center gap-1"
      onSubmit={async (event) => {
        event.preventDefault();
        const kept = await attempt(
          api
            .keepWatch(openRulebase.id, openRulebase.who, name.trim(), {
              only: narrowing.only,
              measure,
              threshold: Number(threshold),
            })
            .then((now) => client.setQueryData(key, now)),
        );
        if (kept) setOpen(false);
      }}
    >
      <input
        aria-label="Name of the watch"
        placeholder="name"
        value={name}
        onChange={(event) => setName(event.target.value)}
        className="w-40 rounded border border-edge bg-paper px-1"
      />
      <label className="text-dim">
        above{" "}
        <input
          aria-label="Threshold"
          inputMode="numeric"
          value={threshold}
          onChange={(event) => setThreshold(event.target.value.replace(/\D/g, ""))}
          className="w-20 rounded border border-edge bg-paper px-1 text-ink"
        />{" "}
        {measure} a step
      </label>
      <button type="submit" className="press press-main text-xs" disabled={name.trim() === ""}>
        Save
      </button>
      <button type="button" className="press text-xs" onClick={() => setOpen(false)}>
        Cancel
      </button>
      <Fault fault={fault} />
    </form>
  );
}
