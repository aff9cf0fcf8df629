import { useQuery } from "@tanstack/react-query";
import { memo, useEffect, useId, useState } from "react";
import { api, type Completions, type RulePatch } from "../api/client";
import { focusOnOpen } from "../base/focusOnOpen";
import { useStableCallback } from "../base/useStableCallback";
import type { Place } from "../rules/order";
import { showProbe, useAnswers, useEditing, useOpenRulebase } from "../session/contexts";
import { Answer } from "./Answer";
import { InForceAnswer } from "./InForceAnswer";
import { Unfolding } from "./Unfolding";

const EXAMPLE =
  "from ZONE or address as PERSON on DEVICE to ZONE, host or address using SERVICE or APPLICATION at TIME";
const QUIET_PARTS = new Set(["from address", "to address"]);

/** The choices of a list; of one for an earlier text, those that what was typed since still fits. */
function fitting(list: Completions, typed?: string): Completions["choices"] {
  if (typed === undefined) return list.choices;
  const fragment = typed.slice(list.from).toLowerCase();
  return list.choices.filter((choice) => choice.text.toLowerCase().startsWith(fragment));
}

/** The probe line: a typed sentence with completion; Enter drops it, Escape takes it up again. */
export const ProbeLine = memo(function ProbeLine({
  named,
  input,
  write,
}: {
  /** Writes what a sentence says as the draft of a rule. */
  write: (patch: RulePatch, place?: Place) => void;
  named: (rule: string) => string;
  input: React.RefObject<HTMLInputElement | null>;
}) {
  const answers = useAnswers();
  const openRulebase = useOpenRulebase();
  const edits = useEditing();
  const down = answers.fall?.text;
  const [text, setText] = useState("");
  const [open, setOpen] = useState(false);
  const [at, setAt] = useState(-1);
  const [hasty, setHasty] = useState<"take" | "drop">();
  const [promising, setPromising] = useState<string>();
  const list = useId();
  const completions = useQuery({
    queryKey: ["completions", text],
    queryFn: () => api.completions(text),
    enabled: open,
    placeholderData: (before) => before,
  });
  const fresh = completions.isSuccess && !completions.isPlaceholderData;
  const choices = open && completions.data ? fitting(completions.data, fresh ? undefined : text) : [];

  const isRule = /^\s*(allow|deny|reject|ask|stop|enrol)\b/i.test(text);

  // A witness dropped from the lens shows its sentence here too.
  useEffect(() => {
    if (down) setText(down);
  }, [down]);

  const take = (index: number) => {
    const choice = choices[index];
    if (!choice || !completions.data) return undefined;
    const completed = `${text.slice(0, completions.data.from)}${choice.text} `;
    setText(completed);
    setAt(-1);
    return completed;
  };
  // Tab pressed before there is any list for what was typed waits for it, and so does an Enter after that Tab.
  const complete = useStableCallback(take);
  useEffect(() => {
    if (!hasty || !fresh) return;
    const completed = complete(0);
    setHasty(undefined);
    if (hasty === "drop" && completed && !isRule) showProbe(completed.trim());
  }, [hasty, fresh, complete, showProbe, isRule]);
  const [unread, setUnread] = useState<string>();
  const drop = () => {
    setOpen(false);
    setUnread(undefined);
    if (!isRule) return showProbe(text.trim());
    api.sentence(openRulebase.id, text).then(
      (patch) => {
        write(patch);
        setText("");
      },
      (error) => setUnread(error.message),
    );
  };
  const takeUp = () => {
    showProbe(undefined);
    setText("");
  };
  const keys = (event: React.KeyboardEvent) => {
    if (event.key === "ArrowDown" && choices.length > 0) setAt((at + 1) % choices.length);
    else if (event.key === "ArrowUp" && choices.length > 0) setAt((at - 1 + choices.length) % choices.length);
    else if (event.key === "Tab" && open && choices.length > 0 && !event.shiftKey) take(Math.max(at, 0));
    else if (event.key === "Tab" && open && !fresh && !event.shiftKey) setHasty("take");
    else if (event.key === "Enter" && hasty) setHasty("drop");
    else if (event.key === "Enter") at >= 0 ? take(at) : drop();
    else if (event.key === "Escape") {
      if (open && choices.length > 0) setOpen(false);
      else {
        // What is not dropped yet stays to be typed on; a probe that is down is taken up.
        if (answers.fall || answers.probeError) takeUp();
        input.current?.blur();
      }
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const problem = answers.probeError;
  const parts = answers.fall?.parts ?? [];
  return (
    <div className="relative border-edge border-b bg-paper px-3 py-1.5">
      <div className="flex items-center gap-2">
        <label htmlFor="probe" className="flex items-center gap-1.5 font-medium">
          <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true" className="text-rust">
            <circle cx="7" cy="4" r="3" fill="currentColor" />
            <path d="M7 8 V13 M4.5 11 L7 13.5 L9.5 11" stroke="currentColor" fill="none" strokeWidth="1.4" />
          </svg>
          Probe
        </label>
        <input
          id="probe"
          ref={input}
          value={text}
          onChange={(event) => {
            setText(event.target.value);
            setUnread(undefined);
            setOpen(true);
            setHasty(undefined);
            setAt(-1);
          }}
          onKeyDown={keys}
          onBlur={() => setOpen(false)}
          placeholder={EXAMPLE}
          role="combobox"
          aria-expanded={choices.length > 0}
          aria-controls={list}
          aria-activedescendant={at >= 0 ? `${list}-${at}` : undefined}
          autoComplete="off"
          spellCheck={false}
          className="min-w-0 flex-1 rounded border border-paper-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
        />
        <button type="button" className="press press-main" onClick={drop} disabled={!text.trim()}>
          {isRule ? "Write the rule" : "Run"}
        </button>
        <button type="button" className="press" disabled={!answers.fall && !problem} onClick={takeUp}>
          Clear
        </button>
        <button
          type="button"
          className="press"
          disabled={!answers.fall}
          title="Save this probe with the verdict it gets now"
          onClick={() => setPromising("")}
        >
          Promise
        </button>
      </div>
      {answers.fall && promising !== undefined && (
        <form
          className="mt-1 flex gap-2 pl-16"
          onSubmit={(event) => {
            event.preventDefault();
            const stage = answers.fall;
            if (!stage || !promising.trim()) return;
            const promise = { name: promising.trim(), probe: answers.fall?.text, verdict: stage.verdict };
            edits
              .edit({ what: `promised “${promising.trim()}”`, steps: [{ op: "SAVE_PROMISE", promise }] })
              .then(() => setPromising(undefined))
              .catch(() => undefined);
          }}
        >
          <input
            ref={focusOnOpen}
            aria-label="Name of the promise"
            placeholder={`what is promised: this stays ${answers.fall.verdict}`}
            value={promising}
            onChange={(event) => setPromising(event.target.value)}
            onKeyDown={(event) => event.key === "Escape" && setPromising(undefined)}
            className="w-96 rounded border border-paper-edge bg-ground/40 px-2 py-0.5 placeholder:text-faint"
          />
          <button type="submit" className="press press-main" disabled={!promising.trim()}>
            Save the promise
          </button>
        </form>
      )}
      {unread && (
        <p role="alert" className="mt-1 pl-16 text-madder text-xs">
          {unread}
        </p>
      )}
      {problem && (
        <p role="alert" className="mt-1 pl-16 text-madder text-xs">
          {problem.detail}
          {problem.errors?.[0]?.position !== undefined &&
            ` (from character ${(problem.errors[0].position ?? 0) + 1})`}
        </p>
      )}
      {!problem && !unread && parts.length > 0 && (
        <p className="mt-1 flex flex-wrap gap-x-3 gap-y-0.5 pl-16 text-xs">
          {parts.map((part) => (
            <span key={part.detail} className={part.filledIn ? "text-faint italic" : ""}>
              {!QUIET_PARTS.has(part.detail) && <span className="text-faint not-italic">{part.detail} </span>}
              <span className={part.filledIn ? "border-edge border-b border-dashed" : "font-medium"}>
                {part.value}
              </span>
              {part.filledIn && <span className="sr-only"> (filled in)</span>}
            </span>
          ))}
        </p>
      )}
      {!problem && !unread && answers.fall && (
        <>
          <Unfolding fall={answers.fall} named={named} />
          <Answer fall={answers.fall} write={write} />
          <InForceAnswer fall={answers.fall} />
        </>
      )}
      {choices.length > 0 && (
        <div
          id={list}
          role="listbox"
          aria-label="Ways to go on"
          className="absolute top-full left-16 z-40 max-h-80 w-[460px] overflow-auto rounded-b border border-edge bg-plate shadow-lg"
        >
          {choices.map((choice, index) => (
            <div
              key={`${choice.kind} ${choice.text}`}
              id={`${list}-${index}`}
              role="option"
              aria-selected={index === at}
              tabIndex={-1}
              onMouseDown={(event) => {
                event.preventDefault();
                take(index);
              }}
              className={`flex justify-between gap-4 px-2 py-0.5 ${index === at ? "bg-rust-wash" : ""}`}
            >
              <span className={choice.kind === "word" ? "font-medium text-rust" : ""}>{choice.text}</span>
              <span className="truncate text-dim text-xs">{choice.detail || choice.kind}</span>
            </div>
          ))}
        </div>
      )}
    </div>
  );
});
