import { memo } from "react";
import type { Gauge, Rule } from "../api/client";
import { Cell, Row } from "../rules/grid";
import { percent } from "../rules/order";
import { COLUMNS, FallSegment, type Standing } from "./RuleRow";

type Props = {
  rule: Rule;
  selected: boolean;
  standing: Standing;
  residue?: Gauge;
  select: (rule: string, event: React.MouseEvent) => void;
};

/** A rule while the stack rushes past: the same words without chips and plates, which take longer to draw. */
export const FastRow = memo(function FastRow({ rule, selected, standing, residue, select }: Props) {
  return (
    <Row
      id={`row-${rule.id}`}
      aria-selected={selected}
      onClick={(event) => select(rule.id, event)}
      className={`${COLUMNS} h-[52px] items-center [contain:strict] border-edge border-b px-1 ${selected ? "bg-rust-wash" : "bg-plate"}`}
    >
      <FallSegment standing={standing} />
      <Cell className="text-right text-dim tabular-nums">{rule.number}</Cell>
      <Cell className="col-span-4 min-w-0">
        <p className="truncate font-medium">{rule.name || "unnamed rule"}</p>
        <p className="truncate text-dim text-xs">{rule.sentence}</p>
      </Cell>
      <Cell>{rule.verdict}</Cell>
      <Cell className="text-right text-[11px] text-dim">{residue && `${percent(residue.share)} %`}</Cell>
    </Row>
  );
});
