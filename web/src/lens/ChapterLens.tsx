import { useState } from "react";
import type { Chapter } from "../api/client";
import { written } from "../base/shortcuts";
import { isLoud, ofRule } from "../rules/known";
import { commands } from "../session/commands";
import { useAnswers, useEditing, useOpenRulebase } from "../session/contexts";

/** Everything about the selected chapter: its title and note, what is in it, and what can be done with it. */
export function ChapterLens({ chapter }: { chapter: Chapter }) {
  const answers = useAnswers();
  const edits = useEditing();
  const openRulebase = useOpenRulebase();
  const [title, setTitle] = useState(chapter.title);
  const [note, setNote] = useState(chapter.note);
  const [added, setAdded] = useState("");
  const changed = title.trim() !== chapter.title || note !== chapter.note;
  const quietly = (work: Promise<unknown>) => work.catch(() => undefined);
  const verdicts = new Map<string, number>();
  for (const rule of chapter.rules) verdicts.set(rule.verdict, (verdicts.get(rule.verdict) ?? 0) + 1);
  const loud = chapter.rules.flatMap((rule) =>
    ofRule(answers.review, rule.id).findings.filter(isLoud),
  ).length;
  const keep = () =>
    quietly(
      edits.edit({
        what: `changed chapter ${title.trim()}`,
        steps: [{ op: "CHANGE_CHAPTER", id: chapter.id, text: { title: title.trim(), note } }],
      }),
    );
  const add = () =>
    edits
      .edit({
        what: `added chapter ${added.trim()}`,
        steps: [{ op: "ADD_CHAPTER", place: { after: chapter.id }, text: { title: added.trim(), note: "" } }],
      })
      .then(() => setAdded(""))
      .catch(() => undefined);
  const can = openRulebase.rulebase && commands(openRulebase.rulebase, `chapter ${chapter.id}`);
  const box = "rounded border border-paper-edge bg-paper px-2 py-1 placeholder:text-faint";
  return (
    <section aria-label="Chapter" className="flex flex-col gap-3 px-3 py-2">
      <form
        className="flex flex-col gap-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          if (changed && title.trim()) keep();
        }}
      >
        <input
          aria-label="Title of the chapter"
          value={title}
          onChange={(event) => setTitle(event.target.value)}
          className={box}
        />
        <textarea
          aria-label="Note on the chapter"
          placeholder="what belongs in it, and what does not"
          value={note}
          rows={4}
          onChange={(event) => setNote(event.target.value)}
          className={box}
        />
        <button type="submit" className="press press-main self-start" disabled={!changed || !title.trim()}>
          Save
        </button>
      </form>
      <p className="text-dim">
        {chapter.rules.length} rules
        {[...verdicts].map(([verdict, count]) => ` · ${count} ${verdict}`)}
        {` · ${loud} ${loud === 1 ? "finding" : "findings"}`}
      </p>
      <div className="flex gap-1">
        <button
          type="button"
          className="press text-xs"
          title={`Move up (${written("moveUp")})`}
          {...edits.making("Move up", can?.moveUp.edit)}
        >
          Move up
        </button>
        <button
          type="button"
          className="press text-xs"
          title={`Move down (${written("moveDown")})`}
          {...edits.making("Move down", can?.moveDown.edit)}
        >
          Move down
        </button>
        <button
          type="button"
          className="press text-xs"
          title={chapter.rules.length > 0 ? "Only an empty chapter can be removed" : "Remove (Del)"}
          {...edits.making("Remove", chapter.rules.length > 0 ? undefined : can?.remove.edit)}
        >
          Remove
        </button>
      </div>
      <form
        className="flex gap-1"
        onSubmit={(event) => {
          event.preventDefault();
          if (added.trim()) add();
        }}
      >
        <input
          aria-label="Title of a new chapter"
          placeholder="a new chapter below this one"
          value={added}
          onChange={(event) => setAdded(event.target.value)}
          className={`min-w-0 flex-1 ${box}`}
        />
        <button type="submit" className="press" disabled={!added.trim()}>
          Add
        </button>
      </form>
    </section>
  );
}
