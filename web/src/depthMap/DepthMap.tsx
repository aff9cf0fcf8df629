import { memo, useEffect, useMemo, useRef, useState } from "react";
import type { Fall, Hits, Review } from "../api/client";
import { isLoud, ofRule } from "../rules/known";
import type { Line } from "../rules/order";
import { letsThrough } from "../rules/verdict";

const WIDTH = 40;
/** How the gravest finding of a rule is painted, the gravest first: the graver, the wider. */
const FOUND: [string, string, number][] = [
  ["error", "rust", 9],
  ["warning", "ochre", 6],
  ["note", "dim", 3],
];
const GRAVITY = new Map(FOUND.map(([severity], index) => [severity, index]));
/** Longer than an edit is usually on its way, in milliseconds: what follows it is painted at once with it. */
const ON_ITS_WAY = 120;
/** A rule with this many hits has the longest bar; shorter ones by the logarithm. */
const MOST_HITS = 1e6;

type Props = {
  review?: Review;
  hits?: Hits;
  fall?: Fall;
  selected?: string;
  /** The colours are read from the page; another theme is another picture. */
  theme: string;
  all: Line[];
  /** Goes to a line; must stay the same function. */
  go: (index: number) => void;
};

/**
 * The whole stack at a glance: from the left the fall of the probe, verdicts, findings, and hits. However many rules there
 * are, each row of pixels shows how those it stands for share out. A click goes there.
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
  const painted = useRef<unknown>(undefined);
  // Another rule is selected more often than what there is to see changes.
  const rows = useMemo(() => {
    let known: Pixel[] | undefined;
    return (at: (index: number) => number) => {
      known ??= pixels(all, at, review, hits);
      return known;
    };
  }, [all, review, hits, height]);
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
      const paint: Paint = (name, x, y, width, high) => {
        context.fillStyle = colour(name);
        context.fillRect(x, y, width, high);
      };
      const chapters = all.filter((line) => line.kind === "chapter").length;
      for (const pixel of rows(at)) {
        const { y } = pixel;
        if (pixel.chapter && height / chapters > 8) paint("edge", 0, y, WIDTH, 1);
        paintVerdicts(pixel, y, tall, context, paint);
        if (pixel.times > 0) {
          const long = Math.min(1, Math.log10(1 + pixel.times) / Math.log10(MOST_HITS));
          paint("ink", 30, y, Math.max(1, 9 * long), tall);
        }
        paintFindings(pixel, y, Math.max(tall, pixel.rules > 1 ? 1 : 2), paint);
      }
      paintFall(fall, all, at, paint);
      const selected = all.findIndex((line) => line.id === marked);
      if (selected >= 0) {
        context.strokeStyle = colour("ink");
        context.strokeRect(0.5, at(selected) - 1.5, WIDTH - 1, tall + 3);
      }
    };
    const paintNow = () => {
      paintAll();
      painted.current = rows;
    };
    // The stack comes first; at ten thousand rules the map takes a while.
    if (painted.current === rows || painted.current === undefined) return whenIdle(paintNow);
    let cancel: (() => void) | undefined;
    const timer = setTimeout(() => {
      cancel = whenIdle(paintNow);
    }, ON_ITS_WAY);
    return () => {
      clearTimeout(timer);
      cancel?.();
    };
  }, [rows, fall, marked, theme, all, height]);
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

/** Does some work when there is nothing else to do, but soon; what it returns takes that back. */
function whenIdle(work: () => void): () => void {
  if (window.requestIdleCallback) {
    const idle = window.requestIdleCallback(work, { timeout: 200 });
    return () => window.cancelIdleCallback(idle);
  }
  const later = setTimeout(work, 50);
  return () => clearTimeout(later);
}

/** What one row of pixels stands for; `found` counts its rules by their gravest finding, in the order of FOUND. */
type Pixel = {
  y: number;
  chapter: boolean;
  rules: number;
  passing: number;
  off: number;
  times: number;
  found: number[];
};
type Paint = (name: string, x: number, y: number, width: number, high: number) => void;

function pixels(
  all: Line[],
  at: (index: number) => number,
  review: Review | undefined,
  hits: Hits | undefined,
): Pixel[] {
  const rows: Pixel[] = [];
  let pixel: Pixel | undefined;
  all.forEach((line, index) => {
    const y = at(index);
    if (!pixel || pixel.y !== y) {
      pixel = { y, chapter: false, rules: 0, passing: 0, off: 0, times: 0, found: [0, 0, 0] };
      rows.push(pixel);
    }
    if (line.kind === "chapter") pixel.chapter = true;
    if (line.kind !== "rule") return;
    pixel.rules++;
    if (line.rule.state === "off") pixel.off++;
    else if (letsThrough(line.rule.verdict)) pixel.passing++;
    pixel.times += hits?.rules[line.id]?.times ?? 0;
    // The findings of a rule come worst first.
    const worst = ofRule(review, line.id).findings.find(isLoud);
    const found = worst && GRAVITY.get(worst.severity);
    if (found !== undefined) pixel.found[found]++;
  });
  return rows;
}

/** One rule: a short bar lets through and a long one stops. Several: a bar shared out between those that do. */
function paintVerdicts(
  { rules, passing, off }: Pixel,
  y: number,
  tall: number,
  context: CanvasRenderingContext2D,
  paint: Paint,
) {
  if (rules === 0) return;
  context.globalAlpha = off === rules ? 0.2 : 0.75;
  if (rules === 1) paint(passing ? "teal" : "madder", 6, y, passing ? 5 : 10, tall);
  else if (off === rules) paint("dim", 6, y, 10, tall);
  else {
    const each = 10 / rules;
    paint("teal", 6, y, passing * each, tall);
    paint("madder", 6 + passing * each, y, (rules - passing - off) * each, tall);
  }
  context.globalAlpha = 1;
}

/** One rule: the graver, the wider. Several: as wide as they are many, the gravest first. */
function paintFindings({ rules, found }: Pixel, y: number, tall: number, paint: Paint) {
  let x = 19;
  FOUND.forEach(([, name, wide], severity) => {
    if (found[severity] === 0) return;
    const width = rules === 1 ? wide : (9 * found[severity]) / rules;
    paint(name, x, y, width, tall);
    x += width;
  });
}

function paintFall(fall: Fall | undefined, all: Line[], at: (index: number) => number, paint: Paint) {
  if (!fall) return;
  const target = all.findIndex((line) => line.id === (fall.caughtBy || "default verdict"));
  if (target < 0) return;
  paint("rust", 2, 0, 2, at(target));
  paint("rust", 0, at(target) - 2, 6, 5);
}
