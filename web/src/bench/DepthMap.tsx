import { memo, useEffect, useRef, useState } from "react";
import type { Fall, Hits, Review } from "../api/client";
import { isLoud, ofRule } from "./known";
import type { Line } from "./order";

const WIDTH = 40;
/** How the gravest finding of a rule is painted: the graver, the wider. */
const FOUND: Record<string, [string, number]> = {
  error: ["rust", 9],
  warning: ["ochre", 6],
  note: ["dim", 3],
};
/** A rule with this many hits has the longest bar; shorter ones by the logarithm. */
const MOST_HITS = 1e6;

type Props = {
  review?: Review;
  hits?: Hits;
  fall?: Fall;
  selected?: string;
  /** The colours are read from the page; another theme is another picture. */
  theme?: string;
  all: Line[];
  /** Goes to a line; must stay the same function. */
  go: (index: number) => void;
};

/**
 * The whole stack at a glance: from the left the fall of the probe, verdicts, findings, and hits. However many rules there
 * are, each pixel shows the gravest of those it stands for. A click goes there.
 */
export const DepthMap = memo(function DepthMap({
  review,
  hits,
  fall,
  selected: marked,
  theme,
  all,
  go,
}: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [height, setHeight] = useState(0);
  useEffect(() => {
    const element = canvas.current?.parentElement;
    if (!element) return;
    const watch = new ResizeObserver(() => setHeight(element.clientHeight));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  useEffect(() => {
    const paintAll = () => {
      const context = canvas.current?.getContext("2d");
      if (!context || !canvas.current || height === 0) return;
      const style = getComputedStyle(canvas.current);
      const colours = new Map<string, string>();
      const colour = (name: string) => {
        const known = colours.get(name) ?? style.getPropertyValue(`--${name}`);
        colours.set(name, known);
        return known;
      };
      const scale = window.devicePixelRatio || 1;
      canvas.current.width = WIDTH * scale;
      canvas.current.height = height * scale;
      context.scale(scale, scale);
      const each = height / Math.max(1, all.length);
      const tall = Math.max(1, Math.min(6, each - (each > 3 ? 1 : 0)));
      const at = (index: number) => Math.floor(index * each);
      const paint = (name: string, x: number, y: number, width: number, high: number) => {
        context.fillStyle = colour(name);
        context.fillRect(x, y, width, high);
      };
      const found = gravest(review, all);
      all.forEach((line, index) => {
        if (line.kind === "chapter") paint("edge", 0, at(index), WIDTH, 1);
        if (line.kind !== "rule") return;
        const passes = line.rule.verdict === "allow" || line.rule.verdict === "ask";
        context.globalAlpha = line.rule.state === "off" ? 0.2 : 0.75;
        // Letting through is a short bar and stopping a long one, so that colour is not all that tells them apart.
        paint(passes ? "teal" : "madder", 6, at(index), passes ? 5 : 10, tall);
        context.globalAlpha = 1;
        const times = hits?.rules[line.id]?.times;
        if (times) {
          const long = Math.min(1, Math.log10(1 + times) / Math.log10(MOST_HITS));
          paint("ink", 30, at(index), Math.max(1, 9 * long), tall);
        }
      });
      // Where several rules share a pixel, the gravest is painted last and so stays.
      for (const [severity, [name, wide]] of Object.entries(FOUND).reverse())
        for (const index of found.get(severity) ?? []) paint(name, 19, at(index), wide, Math.max(tall, 2));
      paintFall(fall, all, at, paint);
      const selected = all.findIndex((line) => line.id === marked);
      if (selected >= 0) {
        context.strokeStyle = colour("ink");
        context.strokeRect(0.5, at(selected) - 1.5, WIDTH - 1, tall + 3);
      }
    };
    // The stack is drawn first; at ten thousand rules the map takes a while.
    const later = setTimeout(paintAll);
    return () => clearTimeout(later);
  }, [review, hits, fall, marked, theme, all, height]);
  return (
    <div className="relative w-[40px] shrink-0 border-edge border-l bg-plate">
      <canvas
        ref={canvas}
        className="absolute inset-0 h-full w-full cursor-pointer"
        role="img"
        aria-label="Depth map: all rules from the top with verdicts, findings, hits and the fall of the probe"
        onClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          go(Math.floor(((event.clientY - box.top) / box.height) * all.length));
        }}
      />
    </div>
  );
});

/** By severity the places of the rules whose gravest finding is of it. */
function gravest(review: Review | undefined, all: Line[]): Map<string, number[]> {
  const found = new Map<string, number[]>(Object.keys(FOUND).map((severity) => [severity, []]));
  all.forEach((line, index) => {
    if (line.kind !== "rule") return;
    // The findings of a rule come worst first.
    const worst = ofRule(review, line.id).findings.find(isLoud);
    if (worst) found.get(worst.severity)?.push(index);
  });
  return found;
}

function paintFall(
  fall: Fall | undefined,
  all: Line[],
  at: (index: number) => number,
  paint: (name: string, x: number, y: number, width: number, high: number) => void,
) {
  if (!fall) return;
  const target = all.findIndex((line) => line.id === (fall.caughtBy || "last line"));
  if (target < 0) return;
  paint("rust", 2, 0, 2, at(target));
  paint("rust", 0, at(target) - 2, 6, 5);
}
