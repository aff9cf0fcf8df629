import { type ReactNode, useRef, useState } from "react";
import type { Measure, TrafficAnswer } from "../api/client";
import { amount, words } from "./units";

type Props = {
  answer: TrafficAnswer;
  measure: Measure;
  from?: string;
  to?: string;
  /** Narrows to a stretch of time; to none for all of it. */
  narrow: (from?: string, to?: string) => void;
};

const HEIGHT = 56;

/** Traffic over time, of which nothing can be chosen. */
export function TimeBars({ answer, measure }: Pick<Props, "answer" | "measure">) {
  if (answer.steps.length === 0) return null;
  return (
    <div className="border-edge border-b bg-plate px-3 pt-2 pb-1">
      <div
        role="img"
        aria-label="Traffic over time"
        className="flex items-end gap-px"
        style={{ height: HEIGHT }}
      >
        <Bars answer={answer} measure={measure} />
      </div>
      <Ends answer={answer} />
    </div>
  );
}

/** A bar for each step. */
function Bars({
  answer: { steps, minutes },
  measure,
  inside = () => true,
}: Pick<Props, "answer" | "measure"> & { inside?: (index: number) => boolean }) {
  const most = Math.max(1, ...steps.map((step) => amount(step.sum, measure)));
  return steps.map((step, index) => {
    const size = amount(step.sum, measure);
    return (
      <span
        key={step.from}
        title={`${moment(step.from, minutes)}: ${words(size, measure)}`}
        className="flex h-full flex-1 items-end"
      >
        <span
          className={`block w-full rounded-t-sm ${inside(index) ? "bg-dim" : "bg-edge"}`}
          style={{ height: size === 0 ? 1 : Math.max(2, (size / most) * HEIGHT) }}
        />
      </span>
    );
  });
}

/** When it begins and ends, and what is to be said between. */
const Ends = ({ answer: { steps, minutes }, children }: Pick<Props, "answer"> & { children?: ReactNode }) => (
  <p className="flex justify-between text-dim text-xs">
    <span>{moment(steps[0].from, minutes)}</span>
    {children}
    <span>{moment(steps[steps.length - 1].from, minutes)}</span>
  </p>
);

/** Traffic over time; a stretch is chosen by dragging, or with the arrow keys and Shift. */
export function TimeStrip({ answer, measure, from, to, narrow }: Props) {
  const { steps } = answer;
  const strip = useRef<HTMLDivElement>(null);
  const [drag, setDrag] = useState<[number, number]>();
  const chosen: [number, number] | undefined = drag ?? range(steps, from, to);
  const finish = (range: [number, number]) => {
    setDrag(undefined);
    const low = Math.min(...range);
    const high = Math.max(...range);
    narrow(steps[low].from, high + 1 < steps.length ? steps[high + 1].from : undefined);
  };
  const at = (x: number) => {
    const bounds = strip.current?.getBoundingClientRect();
    if (!bounds) return 0;
    const place = Math.floor(((x - bounds.left) / bounds.width) * steps.length);
    return Math.max(0, Math.min(steps.length - 1, place));
  };
  const key = (event: React.KeyboardEvent) => {
    const move = event.key === "ArrowLeft" ? -1 : event.key === "ArrowRight" ? 1 : 0;
    if (event.key === "Escape" && chosen) narrow();
    else if (move !== 0) {
      const [low, high] = chosen ?? [0, 0];
      const next = Math.max(0, Math.min(steps.length - 1, (chosen ? high : -1) + move));
      finish(event.shiftKey && chosen ? [low, next] : [next, next]);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  if (steps.length === 0) return null;
  const inside = (index: number) => !chosen || (index >= Math.min(...chosen) && index <= Math.max(...chosen));
  return (
    <div className="border-edge border-b bg-plate px-3 pt-2 pb-1">
      <div
        ref={strip}
        role="slider"
        tabIndex={0}
        aria-label="Time: drag over a stretch, or use the arrow keys, with Shift for more"
        aria-valuemin={0}
        aria-valuemax={steps.length - 1}
        aria-valuenow={chosen ? Math.max(...chosen) : 0}
        aria-valuetext={chosen ? told(steps, chosen, measure) : "all of it"}
        onKeyDown={key}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setDrag([at(event.clientX), at(event.clientX)]);
        }}
        onPointerMove={(event) => drag && setDrag([drag[0], at(event.clientX)])}
        onPointerUp={() => drag && finish(drag)}
        className="flex cursor-crosshair touch-none items-end gap-px"
        style={{ height: HEIGHT }}
      >
        <Bars answer={answer} measure={measure} inside={inside} />
      </div>
      <Ends answer={answer}>
        {chosen ? (
          <span>
            {told(steps, chosen, measure)}{" "}
            <button type="button" className="text-rust underline" onClick={() => narrow()}>
              all of the time
            </button>
          </span>
        ) : (
          <span>drag over a stretch of time to look at it alone</span>
        )}
      </Ends>
    </div>
  );
}

function range(steps: TrafficAnswer["steps"], from?: string, to?: string): [number, number] | undefined {
  if (!from) return undefined;
  const low = steps.findIndex((step) => step.from >= from);
  const after = to ? steps.findIndex((step) => step.from >= to) : steps.length;
  return low < 0 ? undefined : [low, Math.max(low, (after < 0 ? steps.length : after) - 1)];
}

function told(steps: TrafficAnswer["steps"], range: [number, number], measure: Measure) {
  const low = Math.min(...range);
  const high = Math.max(...range);
  const sum = steps.slice(low, high + 1).reduce((all, step) => all + amount(step.sum, measure), 0);
  const end = high + 1 < steps.length ? ` to ${steps[high + 1].from.replace("T", " ")}` : " to the end";
  return `${steps[low].from.replace("T", " ")}${end}: ${words(sum, measure)}`;
}

/** A step's beginning, by the day where steps are days. */
const moment = (from: string, minutes: number) =>
  minutes >= 1440 ? from.slice(0, 10) : from.replace("T", " ");
