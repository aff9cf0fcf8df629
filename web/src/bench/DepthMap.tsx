import { memo, useEffect, useRef, useState } from "react";
import type { Fall, Review } from "../api/client";
import { isLoud, ofRule } from "./known";
import type { Line } from "./order";

const WORST = ["error", "warning", "note"];

type Props = {
  review?: Review;
  fall?: Fall;
  selected?: string;
  /** The colours are read from the page; another theme is another picture. */
  theme?: string;
  all: Line[];
  /** Goes to a line; must stay the same function. */
  go: (index: number) => void;
};

/**
 * The whole stack at a glance: from the left the fall of the probe, verdicts, and findings. However many rules there
 * are, each pixel shows the gravest of those it stands for. A click goes there.
 */
export const DepthMap = memo(function DepthMap({ review, fall, selected: marked, theme, all, go }: Props) {
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
    const context = canvas.current?.getContext("2d");
    if (!context || !canvas.current || height === 0) return;
    const style = getComputedStyle(canvas.current);
    const colour = (name: string) => style.getPropertyValue(`--${name}`);
    const scale = window.devicePixelRatio || 1;
    canvas.current.width = 30 * scale;
    canvas.current.height = height * scale;
    context.scale(scale, scale);
    const each = height / Math.max(1, all.length);
    const tall = Math.max(1, Math.min(6, each - (each > 3 ? 1 : 0)));
    const at = (index: number) => Math.floor(index * each);
    const paint = (name: string, x: number, y: number, width: number, high: number) => {
      context.fillStyle = colour(name);
      context.fillRect(x, y, width, high);
    };
    all.forEach((line, index) => {
      if (line.kind === "chapter") paint("edge", 0, at(index), 30, 1);
      if (line.kind !== "rule") return;
      const passes = line.rule.verdict === "allow" || line.rule.verdict === "ask";
      context.globalAlpha = line.rule.state === "off" ? 0.2 : 0.75;
      // Letting through is a short bar and stopping a long one, so that colour is not all that tells them apart.
      paint(passes ? "teal" : "madder", 6, at(index), passes ? 5 : 10, tall);
      context.globalAlpha = 1;
    });
    for (const severity of [...WORST].reverse()) {
      const name = { error: "rust", warning: "ochre", note: "dim" }[severity] ?? "dim";
      all.forEach((line, index) => {
        if (line.kind !== "rule") return;
        const has = ofRule(review, line.id).findings.some(
          (finding) => isLoud(finding) && finding.severity === severity,
        );
        const wide = { error: 9, warning: 6, note: 3 }[severity] ?? 3;
        if (has) paint(name, 19, at(index), wide, Math.max(tall, 2));
      });
    }
    paintFall(fall, all, at, paint);
    const selected = all.findIndex((line) => line.id === marked);
    if (selected >= 0) {
      context.strokeStyle = colour("ink");
      context.strokeRect(0.5, at(selected) - 1.5, 29, tall + 3);
    }
  }, [review, fall, marked, theme, all, height]);
  return (
    <div className="relative w-[30px] shrink-0 border-edge border-l bg-plate">
      <canvas
        ref={canvas}
        className="absolute inset-0 h-full w-full cursor-pointer"
        role="img"
        aria-label="Depth map: all rules from the top with verdicts, findings and the fall of the probe"
        onClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          go(Math.floor(((event.clientY - box.top) / box.height) * all.length));
        }}
      />
    </div>
  );
});

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
