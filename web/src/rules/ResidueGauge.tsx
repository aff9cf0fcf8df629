import { Tooltip } from "radix-ui";
import type { Gauge } from "../api/client";
import { percent } from "./order";

type Props = {
  residue: Gauge;
  named: (rule: string) => string;
  /** Whether a pointer is near; who took what shows on hover. */
  near?: boolean;
};

/**
 * How much of a claim still reaches its rule: iron where it does, worn through where others took it, in the order
 * of what they took. An empty gauge means that nothing reaches the rule.
 */
export function ResidueGauge({ residue, named, near = true }: Props) {
  const left = residue.share;
  const label = `${residue.estimated ? "about " : ""}${percent(left)} % of what this rule matches is left to it`;
  const face = (
    <span className="block w-full" role="img" aria-label={label}>
      <span
        className={`worn flex h-2.5 w-full overflow-hidden rounded-sm border ${left === 0 ? "border-rust border-dashed" : "border-edge"}`}
      >
        <span className="bg-dim" style={{ width: `${left * 100}%`, minWidth: left > 0 ? 2 : 0 }} />
        {residue.takers.map((taker) => (
          <span
            key={taker.rule}
            className={`border-plate border-l ${taker.verdict === "allow" ? "bg-teal/35" : "bg-madder/35"}`}
            style={{ width: `${taker.share * 100}%` }}
          />
        ))}
      </span>
      <span
        className={`block text-right text-[11px] leading-tight ${left === 0 ? "font-semibold text-rust" : "text-dim"}`}
      >
        {residue.estimated ? "≈" : ""}
        {percent(left)} %
      </span>
    </span>
  );
  if (!near) return face;
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{face}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          side="left"
          className="z-50 max-w-80 rounded border border-edge bg-plate px-2 py-1.5 text-xs text-ink shadow-lg"
        >
          <p>{label}.</p>
          {residue.takers.slice(0, 8).map((taker) => (
            <p key={taker.rule} className="text-dim">
              {percent(taker.share)} % taken by {named(taker.rule)} ({taker.verdict})
            </p>
          ))}
          {residue.takers.length + residue.more > 8 && (
            <p className="text-dim">… and {residue.takers.length + residue.more - 8} more</p>
          )}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}
