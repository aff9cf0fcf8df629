import {
  type Announcements,
  DndContext,
  type DragEndEvent,
  type DragOverEvent,
  DragOverlay,
  type DragStartEvent,
  PointerSensor,
  pointerWithin,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { useVirtualizer } from "@tanstack/react-virtual";
import { ChevronDown, ChevronRight } from "lucide-react";
import { memo, useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Chapter, Hits, Review, Rule, Rulebase, RulePatch } from "../api/client";
import { isTyping } from "../base/keys";
import { TERMS } from "../base/terms";
import { useStableCallback } from "../base/useStableCallback";
import { DepthMap } from "../depthMap/DepthMap";
import { steps as stepsOfWork } from "../editor/bulk";
import { added } from "../editor/draft";
import { RuleEditor } from "../editor/RuleEditor";
import { Cell, Grid, Row, Rows } from "../rules/grid";
import { isLoud, marksOf, ofRule, rulesIn } from "../rules/known";
import { calledIn, dropStep, hitsWord, type Line, type Place, percent } from "../rules/order";
import { Plate } from "../rules/Plate";
import { letsThrough } from "../rules/verdict";
import {
  type Answers,
  type OpenRulebase,
  showProbe,
  useAnswers,
  useEditing,
  useOpenRulebase,
} from "../session/contexts";
import { select, useSelected } from "../session/selection";
import type { Meant } from "../session/useImpactPreview";
import type { Edit } from "../session/useSent";
import { FastRow } from "./FastRow";
import { COLUMNS, type DraggedValue, FallSegment, type RowProps, RuleRow, type Standing } from "./RuleRow";
import { useRoom } from "./room";
import { useFastScroll } from "./useFastScroll";

/** What is open for editing: a rule and one of its fields, or a draft and its place. */
export type Editing = {
  rule?: Rule;
  field: string;
  place?: Place;
  initial?: RulePatch;
  /** What the journal says of a draft. */
  what?: string;
};

type Props = {
  all: Line[];
  editing?: Editing;
  startEdit: (editing: Editing) => void;
  stopEdit: () => void;
  toggle: (chapter: string) => void;
  folded: ReadonlySet<string>;
  keys: (event: React.KeyboardEvent) => void;
  /** Puts rules that came as text below the selected one. */
  paste: (text: string) => void;
  chosen: ReadonlySet<string>;
  /** What is shown; when that changes, the selected rule is brought into view again. */
  filter: string;
  /** Chooses a rule; with Shift all up to it, with Ctrl one more or less. */
  choose: (rule: string, event: React.MouseEvent) => void;
  theme: string;
};

const HEIGHT = { chapter: 30, rule: 52, gap: 22, draft: 409, last: 40, editor: 461 };

type FiguresProps = { chapter: Chapter; review?: Review; hits?: Hits };

/** What the depth map shows of a chapter, in figures. */
const ChapterFigures = memo(function ChapterFigures({ chapter: { rules }, review, hits }: FiguresProps) {
  const on = rules.filter((rule) => rule.state === "on");
  const passing = on.filter((rule) => letsThrough(rule.verdict)).length;
  const found = rules.flatMap((rule) => ofRule(review, rule.id).findings.filter(isLoud));
  const times = rules.reduce((sum, rule) => sum + (hits?.rules[rule.id]?.times ?? 0), 0);
  const figures = [
    `${passing} let through`,
    `${on.length - passing} stop`,
    ...["error", "warning", "note"].map((severity) => {
      const count = found.filter((mark) => mark.severity === severity).length;
      return count && `${count} ${severity}${count === 1 ? "" : "s"}`;
    }),
    hits?.days && hitsWord(times),
  ];
  return <span className="figure shrink-0 text-dim text-xs">{figures.filter(Boolean).join(" · ")}</span>;
});

/** Longer than a pointer takes to pass over a row on its way elsewhere. */
const LINGERING = 200;

/** What the journal says of a new rule. */
export const addedWords = (name: string): string =>
  name.trim() ? `added rule ${name.trim()}` : "added a rule without a name";

const INSTRUCTIONS = {
  draggable:
    "Rules and their values can be dragged with a pointer; with keys, Alt and the arrows move a rule.",
};

/** What is read out while something is dragged: rules by what they are called, values as they are written. */
export function spoken(named: (rule: string) => string): Announcements {
  const what = ({ active }: Pick<DragStartEvent, "active">) =>
    (active.data.current as DraggedValue | undefined)?.value ?? named(String(active.id));
  return {
    onDragStart: (event) => `Took up ${what(event)}.`,
    onDragOver: (event) =>
      event.over
        ? `${what(event)} is over ${named(String(event.over.id))}.`
        : `${what(event)} is over nothing.`,
    onDragEnd: (event) =>
      event.over
        ? `Let go of ${what(event)} on ${named(String(event.over.id))}.`
        : `Let go of ${what(event)}.`,
    onDragCancel: (event) => `${what(event)} stays where it was.`,
  };
}

/**
 * The rule a pointer lingers on. Only where it is moved: rows that come under a pointer at rest are not meant by it, and
 * keys go by what is selected. Nothing is drawn for the rows it passes on its way.
 */
function useHovered() {
  const [rule, setRule] = useState<string>();
  const over = useRef<string>(undefined);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);
  const lookAt = (next: string | undefined) => {
    if (over.current === next) return;
    over.current = next;
    clearTimeout(timer.current);
    timer.current = setTimeout(() => setRule(next), LINGERING);
  };
  return {
    rule,
    moved: (event: React.PointerEvent) =>
      lookAt((event.target as Element).closest("[data-rule]")?.getAttribute("data-rule") ?? undefined),
    left: () => lookAt(undefined),
  };
}

/** Where something opens above the stack or below it, a row that was in view stays in view. */
function useKeptInView(
  scroller: React.RefObject<HTMLDivElement | null>,
  id: string | undefined,
  reveal: () => void,
) {
  const height = useRef(0);
  const resized = useStableCallback((view: HTMLElement) => {
    const row = document.getElementById(`row-${id}`);
    const bottom = row && row.getBoundingClientRect().bottom - view.getBoundingClientRect().top;
    if (bottom && bottom > view.clientHeight && bottom <= height.current) reveal();
    height.current = view.clientHeight;
  });
  useEffect(() => {
    const view = scroller.current;
    if (!view) return;
    height.current = view.clientHeight;
    const observer = new ResizeObserver(() => resized(view));
    observer.observe(view);
    return () => observer.disconnect();
  }, [scroller, resized]);
}

/** What a rule takes from the one that is looked at, or loses to it. */
function relationTo(
  { review, number }: Pick<Answers, "review"> & Pick<OpenRulebase, "number">,
  looked: string,
  id: string,
): Pick<RowProps, "relation" | "related"> {
  const taken = (from: string, by: string) =>
    ofRule(review, from).residue?.takers.find((taker) => taker.rule === by)?.share;
  const takes = taken(looked, id);
  if (takes !== undefined)
    return { relation: "takes", related: `takes ${percent(takes)} % of rule ${number(looked)}` };
  const loses = taken(id, looked);
  if (loses !== undefined)
    return { relation: "shielded", related: `loses ${percent(loses)} % to rule ${number(looked)}` };
  return { relation: "", related: "" };
}

/** The rules from the top, with the fall line of the probe that is down. Only what is in view is drawn. */
export const Stack = memo(function Stack({
  all,
  editing,
  startEdit,
  stopEdit,
  toggle,
  folded,
  keys,
  paste,
  chosen,
  filter,
  choose,
  theme,
}: Props) {
  const openRulebase = useOpenRulebase();
  const answers = useAnswers();
  const edits = useEditing();
  const selected = useSelected();
  const hovered = useHovered();
  const scroller = useRef<HTMLDivElement>(null);
  const swift = useFastScroll(scroller);
  const { element: frame, room } = useRoom();
  const rulebase = openRulebase.rulebase;
  // What is carried, in words.
  const [carrying, setCarrying] = useState<string>();
  const dragging = carrying !== undefined;
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  // The same function as long as the lines are the same, or all of them would be laid out at each drawing.
  const key = useCallback((index: number) => all[index].id, [all]);
  const virtual = useVirtualizer({
    count: all.length,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => {
      const line = all[index];
      if (line.kind === "rule" && editing?.rule?.id === line.id) return HEIGHT.editor;
      return HEIGHT[line.kind];
    },
    getItemKey: key,
    overscan: 5,
  });
  useEffect(() => virtual.measure(), [editing, virtual]);

  const stage = answers.fall;
  const caught = stage?.caughtBy;
  const target = answers.fall ? caught || "default verdict" : undefined;
  const reveal = (id: string | undefined, align: "auto" | "center") => {
    const index = all.findIndex((line) => line.id === id);
    if (index < 0) return;
    virtual.scrollToIndex(index, { align });
    // Once more when it is drawn: a list that has just grown has nothing to scroll to yet.
    requestAnimationFrame(() => virtual.scrollToIndex(index, { align }));
  };
  useEffect(() => reveal(selected ?? target, "auto"), [selected, filter]);
  // Where a probe is caught is shown when it is run; an edit later on must not scroll away from itself.
  useEffect(() => reveal(target, "center"), [answers.fall?.text]);
  // A new rule opens in view, wherever it is to stand.
  const draftAt = all.findIndex((line) => line.kind === "draft");
  useEffect(() => {
    if (draftAt >= 0) reveal(all[draftAt].id, "auto");
  }, [draftAt >= 0, editing?.place]);

  useKeptInView(scroller, selected ?? target, () => reveal(selected ?? target, "auto"));

  const steady = {
    named: useStableCallback(openRulebase.named),
    number: useStableCallback(openRulebase.number),
    edit: useStableCallback((rule: Rule, field: string) => startEdit({ rule, field })),
  };
  const go = useStableCallback((index: number) => {
    const line = all[Math.max(0, Math.min(all.length - 1, index))];
    virtual.scrollToIndex(index, { align: "center" });
    if (line.kind !== "gap" && line.kind !== "draft") select(line.id);
  });
  const passed = useMemo(
    () => new Map(stage?.passed.map((pass) => [pass.rule, pass.misses[0]])),
    [stage?.passed],
  );
  if (!rulebase) return null;

  const { named } = openRulebase;
  const standing = (id: string): Standing => {
    if (!stage) return "none";
    if (id === target) return "catch";
    return passed.has(id) ? "passed" : "below";
  };
  const looked = hovered.rule ?? selected ?? "";
  const relation = (id: string) =>
    relationTo({ review: answers.review, number: openRulebase.number }, looked, id);
  const chapterStanding = (index: number): Standing => {
    if (!stage) return "none";
    const next = all.find((line, at) => at > index && (line.kind === "rule" || line.kind === "last"));
    return next && standing(next.id) !== "below" ? "passed" : "none";
  };
  /** What would come of letting go there. */
  const carried = ({ active, over }: DragOverEvent): (Meant & { edit: Edit }) | undefined => {
    const onto = over && openRulebase.byId.get(String(over.id));
    if (!onto) return undefined;
    const dragged = active.data.current as DraggedValue | undefined;
    if (dragged?.value) {
      const steps = stepsOfWork({ what: "add", field: dragged.field, value: dragged.value }, [onto]);
      const what = `gave ${named(onto.id)} ${dragged.value}`;
      return { label: `Given to rule ${onto.number}`, asked: steps, edit: { what, steps } };
    }
    const id = String(active.id);
    const steps = [dropStep(rulebase, id, onto.id)].filter((step) => step !== undefined);
    const side = steps[0]?.place?.after ? "below" : "above";
    const what = (now: Rulebase) => `moved ${calledIn(now, id)}`;
    return { label: `Put ${side} rule ${onto.number}`, asked: steps, edit: { what, steps } };
  };
  const takeUp = ({ active }: DragStartEvent) => {
    const dragged = active.data.current as DraggedValue | undefined;
    setCarrying(dragged?.value ?? named(String(active.id)));
  };
  const dropped = (event?: DragEndEvent) => {
    setCarrying(undefined);
    edits.make(event && carried(event)?.edit);
  };

  const body = (line: Line, index: number) => {
    if (line.kind === "chapter") {
      const closed = folded.has(line.chapter.id);
      return (
        <Row
          id={`row-${line.id}`}
          aria-selected={selected === line.id}
          onClick={() => select(line.id)}
          className={`${COLUMNS} h-[30px] items-center border-edge border-b px-1 ${selected === line.id ? "bg-rust-wash" : "bg-ground"}`}
        >
          <FallSegment standing={chapterStanding(index)} />
          <Cell className="col-span-8 flex min-w-0 items-baseline gap-2">
            <button
              type="button"
              tabIndex={-1}
              aria-expanded={!closed}
              onClick={() => toggle(line.chapter.id)}
              className="flex items-center gap-1 font-semibold"
            >
              {closed ? <ChevronRight size={14} /> : <ChevronDown size={14} />}
              {line.chapter.title}
            </button>
            <span className="shrink-0 text-faint text-xs">{line.chapter.rules.length} rules</span>
            <ChapterFigures chapter={line.chapter} review={answers.review} hits={answers.hits} />
            <span className="truncate text-dim text-xs">{line.chapter.note}</span>
          </Cell>
        </Row>
      );
    }
    if (line.kind === "gap") {
      return (
        <Row className="h-[22px] border-edge border-b border-dashed bg-ground px-14 text-dim text-xs">
          <Cell>
            {line.count.toLocaleString("en")} {line.count === 1 ? "rule" : "rules"} left out here
          </Cell>
        </Row>
      );
    }
    if (line.kind === "last") {
      return (
        <Row
          id={`row-${line.id}`}
          aria-selected={selected === line.id}
          data-standing={standing(line.id)}
          onClick={() => select(line.id)}
          className={`${COLUMNS} h-10 items-center bg-ground px-1 ${selected === line.id ? "bg-rust-wash" : ""}`}
        >
          <FallSegment standing={standing(line.id)} />
          <span />
          <Cell className="col-span-4 text-dim italic">Default verdict: everything no rule catches</Cell>
          <Cell>
            <Plate verdict={rulebase.defaultVerdict} />
          </Cell>
          <Cell className="text-right text-[11px] text-dim">
            {answers.hits?.defaultVerdict && hitsWord(answers.hits.defaultVerdict.times)}
          </Cell>
        </Row>
      );
    }
    if (line.kind === "draft" && editing) {
      return (
        <RuleEditor
          // Another rule to begin with is another draft; the same one in another place is not.
          key={JSON.stringify(editing.initial)}
          rulebase={rulebase.id}
          who={openRulebase.who}
          revision={rulebase.revision}
          rule={undefined}
          initial={editing.initial}
          place={editing.place}
          onPlace={(place) => startEdit({ ...editing, place })}
          begin={editing.field}
          what={editing.what ?? addedWords}
          steps={(patch) => [{ op: "ADD_RULE", place: editing.place, rule: added(patch) }]}
          save={async (edit) => {
            select(rulesIn(await edits.edit(edit))[0]);
          }}
          close={stopEdit}
          named={named}
          drop={showProbe}
          shared={rulebase.parts}
        />
      );
    }
    if (line.kind !== "rule") return null;
    if (swift && editing?.rule?.id !== line.id)
      return (
        <FastRow
          rule={line.rule}
          selected={selected === line.id}
          standing={standing(line.id)}
          residue={ofRule(answers.review, line.id).residue}
          select={choose}
        />
      );
    return (
      <>
        <RuleRow
          rulebase={rulebase.id}
          revision={rulebase.revision}
          rule={line.rule}
          selected={selected === line.id}
          chosen={chosen.has(line.id)}
          {...relation(line.id)}
          standing={standing(line.id)}
          reason={passed.get(line.id)}
          findings={ofRule(answers.review, line.id).findings}
          mark={marksOf(answers.inForce).get(line.id)}
          number={steady.number}
          residue={ofRule(answers.review, line.id).residue}
          hits={answers.hits?.days ? (answers.hits.rules[line.id]?.times ?? 0) : undefined}
          named={steady.named}
          dragging={dragging}
          room={room}
          select={choose}
          edit={steady.edit}
        />
        {editing?.rule?.id === line.id && (
          <RuleEditor
            rulebase={rulebase.id}
            who={openRulebase.who}
            revision={rulebase.revision}
            rule={editing.rule}
            begin={editing.field}
            what={`changed rule ${line.rule.number} ${line.rule.name}`}
            steps={(patch) =>
              Object.keys(patch).length > 0 ? [{ op: "CHANGE_RULE", id: line.id, rule: patch }] : []
            }
            save={edits.edit}
            close={stopEdit}
            named={named}
            drop={showProbe}
            shared={rulebase.parts}
          />
        )}
      </>
    );
  };
  return (
    <div className="tall flex min-h-0 min-w-0 flex-1">
      <div ref={frame} className="flex min-h-0 min-w-0 flex-1 flex-col">
        <div
          className={`${COLUMNS} border-edge border-b bg-ground px-1 py-1 text-dim text-xs`}
          aria-hidden="true"
        >
          <span />
          <span className="text-right">no.</span>
          {room === "slim" ? (
            <span className="col-span-4">Rule</span>
          ) : (
            <>
              <span>From</span>
              <span>To</span>
              <span>Using</span>
              <span>When</span>
            </>
          )}
          <span>Then</span>
          <span className="text-right" title={TERMS.residue}>
            residue
          </span>
          <span />
        </div>
        <DndContext
          sensors={sensors}
          collisionDetection={pointerWithin}
          onDragStart={takeUp}
          onDragOver={(event) => edits.intend(carried(event))}
          onDragCancel={() => dropped()}
          accessibility={{ announcements: spoken(named), screenReaderInstructions: INSTRUCTIONS }}
          onDragEnd={dropped}
        >
          <Grid
            ref={scroller}
            id="stack"
            aria-label="Rules"
            aria-rowcount={all.length}
            aria-activedescendant={selected ? `row-${selected}` : undefined}
            onPointerMove={hovered.moved}
            onPointerLeave={hovered.left}
            onKeyDown={(event) => {
              hovered.left();
              // Escape lets go of what is dragged and of nothing else.
              if (!dragging) keys(event);
            }}
            onPaste={(event) => {
              if (isTyping(event.target)) return;
              event.preventDefault();
              paste(event.clipboardData.getData("text/plain"));
            }}
            className="min-h-0 min-w-0 flex-1 overflow-y-auto overflow-x-hidden bg-ground will-change-scroll"
          >
            <Rows className="relative" style={{ height: virtual.getTotalSize() }}>
              {virtual.getVirtualItems().map((item) => (
                <div
                  key={item.key}
                  role="presentation"
                  data-index={item.index}
                  ref={
                    all[item.index].kind === "draft" || editing?.rule?.id === item.key
                      ? virtual.measureElement
                      : undefined
                  }
                  className="absolute inset-x-0 top-0"
                  style={{ transform: `translateY(${item.start}px)` }}
                >
                  {body(all[item.index], item.index)}
                </div>
              ))}
            </Rows>
          </Grid>
          <DragOverlay dropAnimation={null} style={{ pointerEvents: "none" }}>
            {dragging && (
              <span className="inline-block w-max max-w-72 truncate rounded border border-rust bg-paper px-1.5 py-0.5 text-xs shadow-lg">
                {carrying}
              </span>
            )}
          </DragOverlay>
        </DndContext>
      </div>
      <DepthMap
        review={answers.review}
        hits={answers.hits}
        fall={answers.fall}
        selected={selected}
        theme={theme}
        all={all}
        go={go}
      />
    </div>
  );
});
