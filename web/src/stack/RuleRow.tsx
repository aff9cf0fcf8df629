import { useDraggable, useDroppable } from "@dnd-kit/core";
import { memo, useRef, useState } from "react";
import type { Gauge, Mark, Reason, Rule } from "../api/client";
import { Chip } from "../rules/Chip";
import { FIELDS, type FieldInfo, GROUPS, type Group } from "../rules/fields";
import { Cell, Pressable, Row } from "../rules/grid";
import { Marks } from "../rules/Marks";
import { hitsWord } from "../rules/order";
import { Plate } from "../rules/Plate";
import { ResidueGauge } from "../rules/ResidueGauge";
import type { Room } from "./room";

/** The columns of the stack; header and rows share them. */
export const COLUMNS =
  "grid grid-cols-[22px_34px_minmax(0,1.35fr)_minmax(0,1fr)_minmax(0,1.25fr)_minmax(0,0.55fr)_82px_64px_40px] gap-x-2";

/** How a rule stands to the probe that is down. */
export type Standing = "passed" | "catch" | "below" | "none";

export type RowProps = {
  rulebase: string;
  /** Another revision may number the rules it speaks of otherwise. */
  revision: number;
  rule: Rule;
  selected: boolean;
  /** Whether it is one of several chosen to work on. */
  chosen: boolean;
  /** Whether this rule takes from the one that is looked at, or loses to it, and how much, in words. */
  relation: "takes" | "shielded" | "";
  related: string;
  standing: Standing;
  reason?: Reason;
  findings: Mark[];
  residue?: Gauge;
  /** How often recorded traffic fell on it; nothing where none was recorded. */
  hits?: number;
  /** How it differs from what is in force: new, changed or moved. */
  mark?: string;
  number: (rule: string) => number | undefined;
  named: (rule: string) => string;
  /** How wide the stack is. */
  room: Room;
  /** Whether something is being dragged, which could be dropped here. */
  dragging: boolean;
  select: (rule: string, event: React.MouseEvent) => void;
  edit: (rule: Rule, field: string) => void;
};

/** One rule as a sentence in columns, at most two lines high; drawn again only when something about it changes. */
export const RuleRow = memo(function RuleRow(props: RowProps) {
  const { rule, selected, standing, reason, findings, residue } = props;
  // What only a pointer needs is made when one comes near: at full speed rows come and go by the hundred.
  const [near, setNear] = useState(false);
  // A quick click may begin on what is made ready before it ends; then there is no click, but there is a release.
  const press = useRef<"none" | "down" | "done">("none");
  const off = rule.state === "off";
  return (
    <Row
      onPointerEnter={() => setNear(true)}
      id={`row-${rule.id}`}
      aria-selected={selected}
      aria-label={`rule ${rule.number} ${rule.name}${props.chosen ? ", chosen" : ""}${off ? ", off" : ""}${props.mark ? `, ${props.mark} in the draft` : ""}: ${rule.sentence}`}
      onPointerDown={() => {
        press.current = "down";
      }}
      onPointerUp={(event) => {
        if (press.current !== "down" || event.button !== 0 || props.dragging) return;
        press.current = "done";
        props.select(rule.id, event);
      }}
      onClick={(event) => {
        if (event.detail === 2) props.edit(rule, "from.zones");
        else if (press.current !== "done") props.select(rule.id, event);
      }}
      data-rule={rule.id}
      data-standing={standing}
      className={`${COLUMNS} relative h-[52px] items-center [contain:strict] border-edge border-b px-1 ${
        selected
          ? "bg-rust-wash"
          : standing === "catch"
            ? "bg-paper"
            : standing === "below"
              ? "bg-ground"
              : "bg-plate"
      } ${props.chosen ? "shadow-[inset_4px_0_0_var(--rust)]" : ""} ${standing === "below" ? "saturate-[.35]" : ""}`}
    >
      <FallSegment standing={standing} />
      <Cell className="text-right">
        {near ? (
          <Handle rule={rule} relation={props.relation} />
        ) : (
          <Grip rule={rule} relation={props.relation} />
        )}
      </Cell>
      <Cell className="col-span-4 grid grid-cols-subgrid">
        <p className="col-span-4 flex gap-2 truncate leading-[18px]">
          <span
            className={`${props.room === "slim" ? "truncate" : "shrink-0"} font-medium ${off ? "text-faint line-through" : ""}`}
          >
            {rule.name || "unnamed rule"}
          </span>
          {off && <span className="shrink-0 text-faint text-xs">off</span>}
          {props.mark && (
            <span
              className="shrink-0 rounded-sm border border-edge border-dashed px-1 text-dim text-xs leading-4"
              title="Not as in force"
              data-mark={props.mark}
            >
              {props.mark}
            </span>
          )}
          {reason ? (
            <span className="truncate text-rust text-xs" data-reason>
              {reason.label} is <b>{reason.had}</b>, rule wants {reason.wanted}
            </span>
          ) : props.related ? (
            <span className="truncate text-rust text-xs" data-relation={props.relation}>
              {props.related}
            </span>
          ) : (
            <span className="truncate text-faint text-xs">
              {rule.metadata?.owner && `${rule.metadata.owner} · `}
              {rule.note}
            </span>
          )}
        </p>
        {props.room === "slim" ? (
          <p className="col-span-4 truncate text-dim text-xs">{rule.sentence}</p>
        ) : (
          GROUPS.map((group) => <FieldGroup key={group} group={group} near={near} {...props} />)
        )}
      </Cell>
      <Cell>
        <Pressable className="w-fit max-w-full" onClick={() => props.edit(rule, "then")}>
          <Plate verdict={rule.verdict} />
        </Pressable>
        <span className="block text-[11px] text-faint leading-tight">
          {rule.sheet
            ? "by sheet"
            : rule.outcome.includes(" in ")
              ? "in a lane"
              : rule.logging === "logged"
                ? "logged"
                : "not logged"}
        </span>
      </Cell>
      <Cell>
        {residue && <ResidueGauge residue={residue} named={props.named} near={near} />}
        {props.hits !== undefined && residue && (
          <span
            className={`block text-right text-[11px] leading-tight ${props.hits === 0 ? "text-faint italic" : "text-dim"}`}
            title={`${props.hits.toLocaleString("en")} recorded connections fall on this rule`}
          >
            {hitsWord(props.hits)}
          </span>
        )}
      </Cell>
      <Cell>
        <Marks findings={findings} number={props.number} />
      </Cell>
      {props.dragging && <DropTarget rule={rule.id} />}
    </Row>
  );
});

type GripProps = { rule: Rule; relation: RowProps["relation"] } & React.ComponentProps<"button">;

/** The number of a rule, by which it is dragged. */
function Grip({ rule, relation, ...rest }: GripProps) {
  return (
    <button
      type="button"
      tabIndex={-1}
      aria-label={`move rule ${rule.number}`}
      className={`cursor-grab text-right tabular-nums ${relation ? "font-semibold text-rust" : "text-dim"}`}
      {...rest}
    >
      {relation === "takes" && <span aria-hidden="true">◂</span>}
      {relation === "shielded" && <span aria-hidden="true">▸</span>}
      {rule.number}
    </button>
  );
}

function Handle({ rule, relation }: GripProps) {
  const drag = useDraggable({ id: rule.id });
  return <Grip ref={drag.setNodeRef} rule={rule} relation={relation} {...drag.listeners} />;
}

/** Covers a row while something is dragged; one for every row at all times would draw them all again as they come and go. */
function DropTarget({ rule }: { rule: string }) {
  const drop = useDroppable({ id: rule });
  return (
    <span
      ref={drop.setNodeRef}
      className={`pointer-events-none absolute inset-0 ${drop.isOver ? "ring-2 ring-rust ring-inset" : ""}`}
    />
  );
}

/** The part of the fall line beside one row: through a rule passed, to its end at the catch. */
export function FallSegment({ standing }: { standing: Standing }) {
  if (standing === "none" || standing === "below") return <span />;
  return (
    <span className="relative block h-full" aria-hidden="true">
      <span
        className={`absolute left-[10px] w-0.5 bg-rust ${standing === "catch" ? "top-0 h-1/2" : "inset-y-0"}`}
      />
      {standing === "catch" ? (
        <span className="absolute top-1/2 left-[3px] h-4 w-4 -translate-y-1/2 rounded-full border-[3px] border-rust bg-paper" />
      ) : (
        <span className="absolute top-1/2 left-[7px] h-2 w-2 -translate-y-1/2 rounded-full border border-rust bg-plate" />
      )}
    </span>
  );
}

function FieldGroup({
  group,
  near,
  rulebase,
  rule,
  room,
  dragging,
  edit,
}: RowProps & { group: Group; near: boolean }) {
  const filled = FIELDS.filter((info) => info.group === group && rule.fields[info.key]);
  return (
    <Pressable
      className="flex min-w-0 items-center gap-1 overflow-hidden"
      onClick={(event) => {
        if (event.detail < 2) return;
        event.stopPropagation();
        edit(rule, filled[0]?.key ?? FIELDS.find((info) => info.group === group)?.key ?? "");
      }}
    >
      {filled.length === 0 ? (
        // Of a narrow row nothing is taken by what says nothing.
        <span className="truncate text-faint text-xs">
          any{group === "When" && room === "wide" && " time"}
        </span>
      ) : (
        filled
          .slice(0, room === "wide" ? filled.length : 1)
          .map((info) => (
            <FieldChips
              key={info.key}
              info={info}
              rulebase={rulebase}
              rule={rule}
              near={near}
              dragging={dragging}
              most={filled.length > 1 || room !== "wide" ? 1 : 2}
              besides={room === "wide" ? [] : filled.slice(1).flatMap(({ key }) => rule.fields[key].values)}
            />
          ))
      )}
      {group === "Using" && rule.ports === "usual" && (
        <span className="shrink-0 text-dim text-xs" title="each application on its usual ports only">
          {room === "wide" ? "usual ports" : "usual"}
        </span>
      )}
    </Pressable>
  );
}

/** What is dragged when it is a value and not a rule. */
export type DraggedValue = { field: string; value: string };

type DraggedProps = DraggedValue & { rule: string; near: boolean; children: React.ReactNode };

const VALUE = "min-w-6 max-w-fit flex-1";

/** A value that can be dragged onto another rule, which then has it too. */
function Dragged({ near, ...value }: DraggedProps) {
  return near ? <Draggable {...value} /> : <span className={VALUE}>{value.children}</span>;
}

function Draggable({ rule, field, value, children }: Omit<DraggedProps, "near">) {
  const drag = useDraggable({ id: `${rule} ${field} ${value}`, data: { field, value } });
  return (
    <span
      ref={drag.setNodeRef}
      {...drag.listeners}
      className={`${VALUE} ${drag.isDragging ? "opacity-50" : ""}`}
    >
      {children}
    </span>
  );
}

type ChipsProps = {
  info: FieldInfo;
  rulebase: string;
  rule: Rule;
  near: boolean;
  dragging: boolean;
  most: number;
  /** Values of other fields that are only counted. */
  besides: string[];
};

function FieldChips({ info, rulebase, rule, near, dragging, most, besides }: ChipsProps) {
  const field = rule.fields[info.key];
  const not = field.sense === "is not";
  const more = [...field.values.slice(most), ...besides];
  return (
    <>
      {field.values.slice(0, most).map((value) => (
        <Dragged key={value} near={near} rule={rule.id} field={info.key} value={value}>
          {/* What is carried past it is not asked what it is. */}
          <Chip rulebase={rulebase} kind={info.kind} value={value} not={not} near={near && !dragging} />
        </Dragged>
      ))}
      {more.length > 0 && (
        <span className="shrink-0 text-dim text-xs" title={more.join(", ")}>
          +{more.length}
        </span>
      )}
    </>
  );
}
