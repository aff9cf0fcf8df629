import { PanelRightOpen } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { api, type Rule, type StepOf } from "../api/client";
import { useKept } from "../frame/kept";
import { isCommand, isTyping, useWindowKeys } from "../frame/keys";
import { DidStrip, DidWord } from "./Did";
import { type Deed, deeds } from "./deeds";
import { cloneOf, type Draft, isWritten } from "./draft";
import { FilterBar } from "./FilterBar";
import { isLoud, ofRule, rulesIn } from "./known";
import { Lens } from "./Lens";
import { lines, neighbour, nextMarked, type Place, placeBelow, rules } from "./order";
import { PasteStrip, placed } from "./PasteStrip";
import { ProbeLine } from "./ProbeLine";
import { Reviewing } from "./Reviewing";
import { type Editing, Stack } from "./Stack";
import { dropUnkept, readUnkept, writeUnkept } from "./unkept";
import type { BenchState } from "./useBench";
import { useFilter } from "./useFilter";
import { Weighed } from "./Weighed";
import { WouldStrip } from "./WouldStrip";

const NONE: Rule[] = [];

/** A button that stands for a key. */
type Button = { label: string; key: string } & Omit<React.ComponentProps<"button">, "key">;

/** Rules that came as text, before they are put in their place. */
type Pasting = { steps: StepOf<"ADD_RULE">[]; place: Place };

/** The bench: probe line, stack and lens, and the keys that work on all three. */
export function BenchPage({ bench, theme }: { bench: BenchState; theme: string }) {
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  const [editing, setEditing] = useState<Editing>();
  const [lens, setLens] = useKept("lens", "open");
  const probe = useRef<HTMLInputElement>(null);
  const rulebase = bench.rulebase;
  const filter = useFilter(bench);
  // What the last edit did stays open from one edit to the next.
  const [told, setTold] = useState(false);
  const [foretelling, setForetelling] = useState(false);
  const [pasting, setPasting] = useState<Pasting>();
  const filterInput = useRef<HTMLInputElement>(null);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const all = useMemo(
    () => (rulebase ? lines(rulebase, folded, editing?.place, filter.shown) : []),
    [rulebase, folded, editing?.place, filter.shown],
  );
  const selected = bench.byId.get(bench.selected ?? "");

  const marked = { has: (rule: string) => ofRule(bench.review, rule).findings.some(isLoud) };
  const focusStack = () => document.getElementById("stack")?.focus();
  const stopEdit = () => {
    setEditing(undefined);
    // The editor that had the focus is gone only after the next drawing.
    requestAnimationFrame(focusStack);
  };
  /** Opens a rule or a draft; what has been written into another one is kept or left first. */
  const begin = (next: Editing) => {
    const another =
      editing !== undefined &&
      (next.rule?.id !== editing.rule?.id || (next.initial && next.initial !== editing.initial));
    if (another && isWritten(readUnkept<Draft>(bench.id)?.draft))
      return bench.say("What is open has not been kept yet: keep it or leave it first.");
    if (another) dropUnkept(bench.id);
    setEditing(next);
  };
  const openFilter = () => {
    // At once, for what is typed next must not fall on the stack, where letters are keys.
    flushSync(filter.open);
    filterInput.current?.focus();
  };
  /** The ids of the rules in view, from the top. */
  const inView = () => all.filter((line) => line.kind === "rule").map((line) => line.id);
  const quietly = (work: Promise<unknown>) => work.catch(() => undefined);

  /** Keys that work wherever nothing is being typed. */
  useWindowKeys((event) => {
    if (isTyping(event.target) || isCommand(event) || event.altKey) return;
    if (event.key === "p") probe.current?.focus();
    else if (event.key === "/") openFilter();
    else if (event.key === "e") setTold(!told);
    else if (event.key === "w") setForetelling(!foretelling);
    else return;
    event.preventDefault();
  });
  // On a page just opened nothing has the focus; its keys are the stack's, which has it from then on.
  const onStack = useRef<(event: KeyboardEvent) => void>(undefined);
  useWindowKeys((event) => {
    if (event.target !== document.body || event.defaultPrevented) return;
    onStack.current?.(event);
    if (event.defaultPrevented && document.activeElement === document.body) focusStack();
  });
  const latestById = useRef(bench.byId);
  latestById.current = bench.byId;

  // What was being typed before a reload is opened again where it was.
  const loaded = rulebase !== undefined;
  useEffect(() => {
    if (!loaded) return;
    const unkept = readUnkept(bench.id);
    if (unkept)
      setEditing({
        rule: latestById.current.get(unkept.rule ?? ""),
        field: "from.zones",
        place: unkept.place,
      });
  }, [loaded, bench.id]);

  // Somebody else may take out the rule that is open here; what was typed into it becomes a new rule in its place.
  const open = editing?.rule?.id;
  const gone = loaded && open !== undefined && !bench.byId.has(open);
  const above = useRef<Place>({});
  const at = open === undefined ? -1 : all.findIndex((line) => line.kind === "rule" && line.id === open);
  if (at > 0) above.current = placeBelow(all[at - 1]);
  useEffect(() => {
    if (!gone) return;
    const place = above.current;
    const unkept = readUnkept(bench.id);
    if (unkept?.rule !== open) {
      setEditing(undefined);
      return;
    }
    writeUnkept(bench.id, { ...unkept, rule: undefined, place });
    setEditing({ field: "from.zones", place });
    bench.say(
      "Somebody removed the rule that was open here. What you wrote is now a new rule; nothing is lost.",
    );
  }, [gone, open, bench.id, bench.say]);

  if (bench.error) return <p className="p-6">The rulebase cannot be loaded: {bench.error.message}</p>;
  if (!rulebase) return <p className="p-6 text-dim">Loading the rulebase …</p>;

  const { named } = bench;
  const toggle = (chapter: string) => {
    const next = new Set(folded);
    if (!next.delete(chapter)) next.add(chapter);
    setFolded(next);
  };
  const chapter = rulebase.chapters.find(({ id }) => bench.selected === `chapter ${id}`);
  const place = (side: "before" | "after") =>
    selected ? { [side]: selected.id } : { chapter: (chapter ?? rulebase.chapters.at(-1))?.id };
  const can = deeds(rulebase, bench.selected, chosen);
  const remove = () => {
    const next = neighbour(all, bench.selected, 1);
    bench.make(can.removing.edit);
    if (chosen.size > 0) {
      setChosen(new Set());
      if (chosen.has(bench.selected ?? "")) bench.select(undefined);
      return;
    }
    if (selected || chapter?.rules.length === 0) bench.select(next);
  };
  /** One rule, or with Shift all from the selected one, or with Ctrl one more or less. */
  const choose = (rule: string, event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => {
    if (event.shiftKey && bench.selected) {
      const shown = inView();
      const [from, to] = [shown.indexOf(bench.selected), shown.indexOf(rule)].sort((a, b) => a - b);
      if (from >= 0) setChosen(new Set([...chosen, ...shown.slice(from, to + 1)]));
    } else if (isCommand(event)) {
      const next = new Set(
        chosen.size === 0 && bench.byId.has(bench.selected ?? "") ? [bench.selected ?? ""] : chosen,
      );
      if (!next.delete(rule)) next.add(rule);
      setChosen(next);
    } else setChosen(new Set());
    bench.select(rule);
  };
  const extend = (by: -1 | 1) => {
    const shown = inView();
    const at = shown.indexOf(bench.selected ?? "");
    const next = shown[at + by];
    if (at < 0 || !next) return;
    setChosen(new Set([...chosen, shown[at], next]));
    bench.select(next);
  };
  const clone = () => {
    if (!selected) return;
    const what = `cloned ${named(selected.id)}`;
    begin({ field: "from.zones", place: { after: selected.id }, initial: cloneOf(selected), what });
  };
  /** The chosen rules, or the one rule, as text that can be pasted here or elsewhere. */
  const copy = async () => {
    const ids = chosen.size > 0 ? [...chosen] : selected ? [selected.id] : [];
    if (ids.length === 0) return;
    try {
      const { text } = await api.copied(bench.id, ids);
      await navigator.clipboard.writeText(text);
      bench.say(ids.length === 1 ? `copied ${named(ids[0])}` : `copied ${ids.length} rules`);
    } catch (error) {
      bench.say(`The rules were not copied: ${(error as Error).message}`);
    }
  };
  const paste = async (text: string) =>
    setPasting({ steps: await bench.pasted(text), place: place("after") });
  const leavePasting = () => {
    setPasting(undefined);
    focusStack();
  };
  const keepPasted = async (meant: Pasting) => {
    const { steps } = meant;
    const what = `pasted ${steps.length} ${steps.length === 1 ? "rule" : "rules"}`;
    leavePasting();
    try {
      const added = rulesIn(await bench.edit({ what, steps: placed(steps, meant.place) }));
      if (added.length === 1) bench.select(added[0]);
    } catch {
      // Why is said beside the keys.
      setPasting(meant);
    }
  };
  const stackKeys = (event: KeyboardEvent | React.KeyboardEvent) => {
    if (isTyping(event.target)) return;
    const step = { ArrowDown: 1, j: 1, ArrowUp: -1, k: -1, PageDown: 10, PageUp: -10, Home: -1e9, End: 1e9 }[
      event.key
    ];
    const by = event.key === "ArrowUp" ? -1 : 1;
    if (event.altKey && step && Math.abs(step) === 1) bench.make((by < 0 ? can.up : can.down).edit);
    else if (event.shiftKey && (event.key === "ArrowUp" || event.key === "ArrowDown")) extend(by);
    else if (isCommand(event) && event.key === "c" && !getSelection()?.toString()) copy();
    else if (isCommand(event) || event.altKey) return;
    else if (step) bench.select(neighbour(all, bench.selected, step));
    else if (event.key === "Enter" && selected) begin({ rule: selected, field: "from.zones" });
    else if (event.key === "Enter" && chapter) toggle(chapter.id);
    else if (event.key === "n") begin({ field: "from.zones", place: place("after") });
    else if (event.key === "N") begin({ field: "from.zones", place: place("before") });
    else if (event.key === "c") clone();
    else if (event.key === "x") bench.make(can.switching.edit);
    else if (event.key === "Delete") remove();
    else if (event.key === "f") bench.select(nextMarked(rulebase, marked, bench.selected));
    else if (event.key === "v" && selected)
      choose(selected.id, { shiftKey: false, ctrlKey: true, metaKey: false });
    else if (event.key === "Escape" && chosen.size > 0) setChosen(new Set());
    else if (event.key === "Escape") bench.select(undefined);
    else return;
    event.preventDefault();
  };
  onStack.current = stackKeys;
  const pressing = ({ label, key, edit }: Deed): Button => ({ label, key, ...bench.making(label, edit) });
  const buttons: Button[] = [
    {
      label: "New rule",
      key: "n",
      onClick: () => begin({ field: "from.zones", place: place("after") }),
    },
    { label: "Clone", key: "c", onClick: clone, disabled: !selected },
    pressing(can.up),
    pressing(can.down),
    pressing(can.switching),
    { ...pressing(can.removing), onClick: remove },
    { label: "Filter", key: "/", onClick: openFilter },
    {
      label: "Next finding",
      key: "f",
      onClick: () => bench.select(nextMarked(rulebase, marked, bench.selected)),
    },
  ];
  const { meant } = bench.weighing;
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <ProbeLine
        bench={bench}
        named={named}
        input={probe}
        write={(initial) => begin({ field: "from.zones", place: place("after"), initial })}
      />
      <div className="flex flex-wrap items-center gap-1 border-edge border-b bg-plate px-3 py-1">
        {buttons.map(({ label, key, ...button }) => (
          <button key={label} type="button" className="press text-xs" title={`${label} (${key})`} {...button}>
            {label}
          </button>
        ))}
        <span className="ml-3 flex min-w-0 flex-1 items-center gap-2">
          {meant ? (
            <Weighed bench={bench} {...meant} />
          ) : (
            <>
              <Reviewing bench={bench} />
              <DidWord bench={bench} open={told} toggle={() => setTold(!told)} />
            </>
          )}
        </span>
        {lens === "folded" && (
          <button
            type="button"
            className="press ml-auto"
            aria-label="Open the lens"
            onClick={() => setLens("open")}
          >
            <PanelRightOpen size={14} />
          </button>
        )}
      </div>
      {told && <DidStrip bench={bench} close={() => setTold(false)} />}
      {foretelling && (
        <WouldStrip bench={bench} can={can} chosen={chosen.size} close={() => setForetelling(false)} />
      )}
      {pasting && (
        <PasteStrip
          bench={bench}
          {...pasting}
          onPlace={(place) => setPasting({ ...pasting, place })}
          keep={() => keepPasted(pasting)}
          leave={leavePasting}
        />
      )}
      {filter.isOpen && (
        <FilterBar
          text={filter.text}
          set={filter.set}
          input={filterInput}
          shown={filter.count}
          total={bench.byId.size}
          waiting={filter.waiting}
          problem={filter.problem}
          answered={filter.answered}
          narrow={filter.narrow}
          setNarrow={filter.setNarrow}
          named={named}
          chooseAll={() => setChosen(new Set(filter.meant))}
          close={filter.close}
          leave={focusStack}
        />
      )}
      <div className="sides flex min-h-0 flex-1">
        <Stack
          bench={bench}
          all={all}
          editing={editing}
          startEdit={begin}
          stopEdit={stopEdit}
          toggle={toggle}
          folded={folded}
          keys={stackKeys}
          paste={(text) => quietly(paste(text))}
          chosen={chosen}
          filter={filter.text}
          choose={choose}
          theme={theme}
        />
        {lens === "open" && (
          <Lens
            bench={bench}
            rule={selected}
            named={named}
            edit={(field) => selected && begin({ rule: selected, field })}
            fold={() => setLens("folded")}
            chosen={chosen.size === 0 ? NONE : rules(rulebase).filter((rule) => chosen.has(rule.id))}
            clearChosen={() => setChosen(new Set())}
          />
        )}
      </div>
    </div>
  );
}
