import { PanelRightOpen } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { api, type Rule, type Rulebase, type RulePatch, type StepOf } from "../api/client";
import { Actions } from "../base/actions";
import { focusStack } from "../base/focusStack";
import { isCommand, isSwitchedOff, isTyping, useWindowKeys } from "../base/keys";
import { byName, press, type ShortcutName, written } from "../base/shortcuts";
import { useStableCallback } from "../base/useStableCallback";
import { useStored } from "../base/useStored";
import { BulkStrip } from "../editor/BulkStrip";
import { cloneOf, type Draft, isWritten } from "../editor/draft";
import { PasteStrip, placed } from "../editor/PasteStrip";
import { dropSavedDraft, readSavedDraft, writeSavedDraft } from "../editor/savedDraft";
import { FilterBar } from "../filter/FilterBar";
import { useFilter } from "../filter/useFilter";
import { ImpactPreview } from "../impact/ImpactPreview";
import { KeyPreview } from "../impact/KeyPreview";
import { LastEditStrip, LastEditWord } from "../impact/LastEditImpact";
import { Lens } from "../lens/Lens";
import { ProbeLine } from "../probe/ProbeLine";
import { isLoud, ofRule, rulesIn } from "../rules/known";
import { lines, neighbour, nextMarked, type Place, placeBelow, rules } from "../rules/order";
import { type Commands, commands } from "../session/commands";
import { type Told, useAnswers, useEditing, useOpenRulebase } from "../session/contexts";
import { ReviewStatus } from "../session/ReviewStatus";
import { select, useSelected } from "../session/selection";
import { type Editing, Stack } from "../stack/Stack";
import { DRAFT_FILTER, DraftStrip, DraftWord } from "./DraftWord";

const NONE: Rule[] = [];

/** What is worked on until the rulebase is there. */
const NOTHING_YET: Rulebase = {
  id: "",
  name: "",
  revision: 0,
  state: "",
  faults: [],
  defaultVerdict: "deny",
  sets: [],
  parts: { sheets: [], notices: [], lanes: [], decryption: [] },
  chapters: [],
};

type Props = { told: Told; theme: string };

/** A button that stands for a key. */
type Button = { label: string; shortcut: ShortcutName; onClick?: () => void } & Omit<
  React.ComponentProps<"button">,
  "onClick"
>;

/** Rules that came as text, before they are put in their place. */
type Pasting = { steps: StepOf<"ADD_RULE">[]; place: Place };

/** The main page: probe line, stack and lens, and the keys that work on all three. */
export function RulebasePage({ told, theme }: Props) {
  const openRulebase = useOpenRulebase();
  const answers = useAnswers();
  const edits = useEditing();
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  const [editing, setEditing] = useState<Editing>();
  const [lens, setLens] = useStored("lens", "open");
  const probe = useRef<HTMLInputElement>(null);
  const rulebase = openRulebase.rulebase ?? NOTHING_YET;
  const loaded = openRulebase.rulebase !== undefined;
  const filter = useFilter();
  // What the last edit did stays open from one edit to the next.
  const [telling, setTelling] = useState(false);
  const [foretelling, setForetelling] = useState(false);
  const [pasting, setPasting] = useState<Pasting>();
  // What is meant for several rules waits for a look at what it does.
  const [meantForMany, setMeantForMany] = useState<keyof Commands>();
  const filterInput = useRef<HTMLInputElement>(null);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const all = useMemo(
    () => lines(rulebase, folded, editing?.place, filter.shown),
    [rulebase, folded, editing?.place, filter.shown],
  );
  const selectedId = useSelected();
  const selected = openRulebase.byId.get(selectedId ?? "");

  const marked = { has: (rule: string) => ofRule(answers.review, rule).findings.some(isLoud) };
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
    if (another && isWritten(readSavedDraft<Draft>(openRulebase.id)?.draft))
      return edits.say("What is open has not been kept yet: keep it or leave it first.");
    if (another) dropSavedDraft(openRulebase.id);
    setEditing(next);
  };
  const openFilter = () => {
    // At once, for what is typed next must not fall on the stack, where letters are keys.
    flushSync(filter.open);
    filterInput.current?.focus();
  };
  const isDraftShown = filter.text.trim() === DRAFT_FILTER;
  const toggleDraft = () => (isDraftShown ? filter.close() : filter.set(DRAFT_FILTER));
  /** The ids of the rules in view, from the top. */
  const inView = () => all.filter((line) => line.kind === "rule").map((line) => line.id);
  const quietly = (work: Promise<unknown>) => work.catch(() => undefined);

  const anywhere = {
    // What stands there is chosen, so that what is typed next is another probe and no longer one.
    probe: () => probe.current?.select(),
    filter: openFilter,
    unreleased: toggleDraft,
    lastEdit: () => setTelling(!telling),
    foretell: () => setForetelling(!foretelling),
  };
  /** Keys that work wherever nothing is being typed. */
  useWindowKeys((event) => {
    if (!isTyping(event.target)) press(event, "rulebase", anywhere);
  });
  // On a page just opened nothing has the focus; its keys are the stack's, which has it from then on.
  const onStack = useRef<(event: KeyboardEvent) => void>(undefined);
  useWindowKeys((event) => {
    if (event.target !== document.body || event.defaultPrevented) return;
    onStack.current?.(event);
    if (event.defaultPrevented && document.activeElement === document.body) focusStack();
  });
  const ruleNow = useStableCallback((id: string) => openRulebase.byId.get(id));

  // What was being typed before a reload is opened again where it was.
  useEffect(() => {
    if (!loaded) return;
    const savedDraft = readSavedDraft(openRulebase.id);
    if (savedDraft)
      setEditing({
        rule: ruleNow(savedDraft.rule ?? ""),
        field: "from.zones",
        place: savedDraft.place,
      });
  }, [loaded, openRulebase.id, ruleNow]);

  // Somebody else may take out the rule that is open here; what was typed into it becomes a new rule in its place.
  const open = editing?.rule?.id;
  const gone = loaded && open !== undefined && !openRulebase.byId.has(open);
  const above = useRef<Place>({});
  const at = open === undefined ? -1 : all.findIndex((line) => line.kind === "rule" && line.id === open);
  useEffect(() => {
    if (at > 0) above.current = placeBelow(all[at - 1]);
  });
  useEffect(() => {
    if (!gone) return;
    const place = above.current;
    const savedDraft = readSavedDraft(openRulebase.id);
    if (savedDraft?.rule !== open) {
      setEditing(undefined);
      return;
    }
    writeSavedDraft(openRulebase.id, { ...savedDraft, rule: undefined, place });
    setEditing({ field: "from.zones", place });
    edits.say(
      "Somebody removed the rule that was open here. What you wrote is now a new rule; nothing is lost.",
    );
  }, [gone, open, openRulebase.id, edits.say]);

  const { named } = openRulebase;
  const toggle = (chapter: string) => {
    const next = new Set(folded);
    if (!next.delete(chapter)) next.add(chapter);
    setFolded(next);
  };
  const chapter = rulebase.chapters.find(({ id }) => selectedId === `chapter ${id}`);
  const place = (side: "before" | "after") =>
    selected ? { [side]: selected.id } : { chapter: (chapter ?? rulebase.chapters.at(-1))?.id };
  const can = commands(rulebase, selectedId, chosen);
  const isOfMany = chosen.size > 1;
  const many = isOfMany && meantForMany;
  const carryOut = (name: keyof Commands) => (name === "remove" ? remove() : edits.make(can[name].edit));
  /** What a key does: at once to one rule, and to several once somebody has seen what that does. */
  const run = (name: keyof Commands) => {
    if (isOfMany && can[name].edit) return setMeantForMany(name);
    carryOut(name);
  };
  const leaveMany = () => {
    setMeantForMany(undefined);
    focusStack();
  };
  const applyToMany = (name: keyof Commands) => {
    leaveMany();
    carryOut(name);
  };
  const remove = () => {
    const next = neighbour(all, selectedId, 1);
    edits.make(can.remove.edit);
    if (chosen.size > 0) {
      setChosen(new Set());
      if (chosen.has(selectedId ?? "")) select(undefined);
      return;
    }
    if (selected || chapter?.rules.length === 0) select(next);
  };
  /** One rule, or with Shift all from the selected one, or with Ctrl one more or less. */
  const choose = (rule: string, event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => {
    if (event.shiftKey && selectedId) {
      const shown = inView();
      const [from, to] = [shown.indexOf(selectedId), shown.indexOf(rule)].sort((a, b) => a - b);
      if (from >= 0) setChosen(new Set([...chosen, ...shown.slice(from, to + 1)]));
    } else if (isCommand(event)) {
      const next = new Set(
        chosen.size === 0 && openRulebase.byId.has(selectedId ?? "") ? [selectedId ?? ""] : chosen,
      );
      if (!next.delete(rule)) next.add(rule);
      setChosen(next);
    } else setChosen(new Set());
    select(rule);
  };
  const extend = (by: -1 | 1) => {
    const shown = inView();
    const at = shown.indexOf(selectedId ?? "");
    const next = shown[at + by];
    if (at < 0 || !next) return;
    setChosen(new Set([...chosen, shown[at], next]));
    select(next);
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
      const { text } = await api.copied(openRulebase.id, ids);
      await navigator.clipboard.writeText(text);
      edits.say(ids.length === 1 ? `copied ${named(ids[0])}` : `copied ${ids.length} rules`);
    } catch (error) {
      edits.say(`The rules were not copied: ${(error as Error).message}`);
    }
  };
  const paste = async (text: string) =>
    setPasting({ steps: await edits.pasted(text), place: place("after") });
  const leavePasting = () => {
    setPasting(undefined);
    focusStack();
  };
  const keepPasted = async (meant: Pasting) => {
    const { steps } = meant;
    const what = `pasted ${steps.length} ${steps.length === 1 ? "rule" : "rules"}`;
    leavePasting();
    try {
      const added = rulesIn(await edits.edit({ what, steps: placed(steps, meant.place) }));
      if (added.length === 1) select(added[0]);
    } catch {
      // Why is said beside the keys.
      setPasting(meant);
    }
  };
  const go = (by: number) => () => select(neighbour(all, selectedId, by));
  const nextFinding = () => select(nextMarked(rulebase, marked, selectedId));
  /** What the keys of the stack do now; nothing where one has nothing to do. */
  const does: Partial<Record<ShortcutName, (() => void) | undefined>> = {
    down: go(1),
    up: go(-1),
    pageDown: go(10),
    pageUp: go(-10),
    first: go(-1e9),
    last: go(1e9),
    edit: selected
      ? () => begin({ rule: selected, field: "from.zones" })
      : chapter && (() => toggle(chapter.id)),
    newBelow: () => begin({ field: "from.zones", place: place("after") }),
    newAbove: () => begin({ field: "from.zones", place: place("before") }),
    clone,
    copy,
    moveUp: () => run("moveUp"),
    moveDown: () => run("moveDown"),
    extendUp: () => extend(-1),
    extendDown: () => extend(1),
    choose: selected && (() => choose(selected.id, { shiftKey: false, ctrlKey: true, metaKey: false })),
    switching: () => run("switching"),
    remove: () => run("remove"),
    nextFinding,
    tryWitness: () => document.querySelector<HTMLElement>("[data-witness]")?.click(),
    nothing: () => (chosen.size > 0 ? setChosen(new Set()) : select(undefined)),
  };
  const stackKeys = (event: KeyboardEvent | React.KeyboardEvent) => {
    if (!loaded || isTyping(event.target) || isSwitchedOff(event)) return;
    // Text that is marked is what is meant to be copied.
    press(event, "rulebase", { ...does, copy: getSelection()?.toString() ? undefined : copy });
  };
  useEffect(() => {
    onStack.current = stackKeys;
  });
  const pressing = (shortcut: keyof Commands & ShortcutName): Button => ({
    label: can[shortcut].label,
    shortcut,
    ...edits.making(can[shortcut].label, can[shortcut].edit),
    onClick: () => run(shortcut),
  });
  const buttons: Button[] = [
    { label: "New rule", shortcut: "newBelow", onClick: does.newBelow },
    { label: "Clone", shortcut: "clone", onClick: clone, disabled: !selected },
    pressing("moveUp"),
    pressing("moveDown"),
    pressing("switching"),
    pressing("remove"),
    { label: "Filter", shortcut: "filter", onClick: openFilter },
    { label: "Next finding", shortcut: "nextFinding", onClick: nextFinding },
  ];
  const doable = [
    ...buttons
      .filter(({ disabled }) => !disabled)
      .map(({ label, shortcut, onClick }) => ({
        name: label,
        key: written(shortcut),
        run: () => onClick?.(),
      })),
    ...byName({ newAbove: does.newAbove, copy, ...anywhere, filter: undefined }),
  ];
  const steady = {
    write: useStableCallback((initial: RulePatch, where: Place = place("after")) =>
      begin({ field: "from.zones", place: where, initial }),
    ),
    tell: useStableCallback(() => setTelling(!telling)),
    begin: useStableCallback(begin),
    stopEdit: useStableCallback(stopEdit),
    toggle: useStableCallback(toggle),
    keys: useStableCallback(stackKeys),
    paste: useStableCallback((text: string) => quietly(paste(text))),
    choose: useStableCallback(choose),
    editSelected: useStableCallback((field: string) => selected && begin({ rule: selected, field })),
    fold: useStableCallback(() => setLens("folded")),
    clearChosen: useStableCallback(() => setChosen(new Set())),
  };
  const chosenRules = useMemo(
    () => (chosen.size === 0 ? NONE : rules(rulebase).filter((rule) => chosen.has(rule.id))),
    [chosen, rulebase],
  );
  const { meant } = told;
  if (openRulebase.error)
    return <p className="p-6">The rulebase cannot be loaded: {openRulebase.error.message}</p>;
  if (!loaded) return <p className="p-6 text-dim">Loading the rulebase …</p>;
  return (
    <div className="rulebase-page flex min-h-0 flex-1 flex-col">
      <Actions actions={doable} />
      <ProbeLine named={named} input={probe} write={steady.write} />
      <div className="flex flex-wrap items-center gap-1 border-edge border-b bg-plate px-3 py-1">
        {buttons.map(({ label, shortcut, ...button }) => (
          <button
            key={label}
            type="button"
            className="press text-xs"
            title={`${label} (${written(shortcut)})`}
            {...button}
          >
            {label}
          </button>
        ))}
        <span className="ml-3 flex min-w-0 flex-1 items-center gap-2">
          {meant ? (
            <ImpactPreview {...meant} />
          ) : (
            <>
              <ReviewStatus
                id={openRulebase.id}
                said={told.said}
                keeping={told.keeping}
                reviewing={told.reviewing}
                reviewStopped={told.reviewStopped}
                stopReview={answers.stopReview}
                reviewAnew={answers.reviewAnew}
              />
              <LastEditWord did={told.did} doneEdits={told.doneEdits} open={telling} toggle={steady.tell} />
            </>
          )}
        </span>
        <DraftWord isShown={isDraftShown} toggle={toggleDraft} />
        {lens === "folded" && (
          <button type="button" className="press" aria-label="Open the lens" onClick={() => setLens("open")}>
            <PanelRightOpen size={14} />
          </button>
        )}
      </div>
      {telling && <LastEditStrip told={told} close={() => setTelling(false)} />}
      {foretelling && <KeyPreview can={can} chosen={chosen.size} close={() => setForetelling(false)} />}
      {pasting && (
        <PasteStrip
          {...pasting}
          onPlace={(place) => setPasting({ ...pasting, place })}
          keep={() => keepPasted(pasting)}
          leave={leavePasting}
        />
      )}
      {many && can[many].edit && (
        <BulkStrip command={can[many]} apply={() => applyToMany(many)} leave={leaveMany} />
      )}
      {filter.isOpen && (
        <FilterBar
          text={filter.text}
          choices={filter.choices}
          set={filter.set}
          input={filterInput}
          shown={filter.count}
          total={openRulebase.byId.size}
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
      {isDraftShown && <DraftStrip />}
      <div className="sides flex min-h-0 flex-1">
        <Stack
          all={all}
          editing={editing}
          startEdit={steady.begin}
          stopEdit={steady.stopEdit}
          toggle={steady.toggle}
          folded={folded}
          keys={steady.keys}
          paste={steady.paste}
          chosen={chosen}
          filter={filter.text}
          choose={steady.choose}
          theme={theme}
        />
        {lens === "open" && (
          <Lens
            rule={selected}
            named={named}
            edit={steady.editSelected}
            fold={steady.fold}
            chosen={chosenRules}
            clearChosen={steady.clearChosen}
          />
        )}
      </div>
    </div>
  );
}
