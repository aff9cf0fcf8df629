import { ChevronDown, Moon, Redo2, Sun, Undo2 } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { memo, useEffect, useState } from "react";
import { setReason } from "../api/client";
import { goTo, NOTHING_ASKED } from "../base/address";
import { Link } from "../base/Link";
import { PAGES, WORKSPACE_PAGES } from "../base/pages";
import { useStored } from "../base/useStored";
import { useAnswers, useEditing, useOpenRulebase } from "../session/contexts";

/** Who edits; taken over when it is written in full, for everything one may undo is asked for by it. */
function EditorName({ who, set }: { who: string; set: (who: string) => void }) {
  const [text, setText] = useState(who);
  const take = () => {
    const name = text.trim();
    if (name) set(name);
    setText(name || who);
  };
  return (
    <label className="text-dim" title="Whose edits these are">
      <span className="sr-only">Editing as</span>
      <input
        value={text}
        maxLength={100}
        onChange={(event) => setText(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === "Enter") event.currentTarget.blur();
          else if (event.key === "Escape") setText(who);
        }}
        className="w-28 max-[1400px]:w-27 rounded border border-edge bg-plate px-1.5 py-0.5 text-ink"
      />
    </label>
  );
}

/** Why one edits: a reason or a change reference, which every edit carries until it is another one. */
function Reason() {
  const [text, setText] = useStored("reason", "");
  useEffect(() => setReason(text), [text]);
  return (
    <label className="text-dim" title="Kept in the history with each edit you make">
      <span className="sr-only">Reason for changes</span>
      <input
        value={text}
        maxLength={200}
        placeholder="reason, change"
        onChange={(event) => setText(event.target.value)}
        className="w-32 max-[1400px]:w-28 rounded border border-edge bg-plate px-1.5 py-0.5 text-ink placeholder:text-faint"
      />
    </label>
  );
}

/** The pages of what all rulebases are read against, in a menu beside those of the open rulebase. */
function WorkspaceMenu({ page }: { page: string }) {
  const here = WORKSPACE_PAGES.find(([one]) => one === page);
  const [open, setOpen] = useState(false);
  return (
    <DropdownMenu.Root open={open} onOpenChange={setOpen}>
      <DropdownMenu.Trigger
        className={`flex items-center rounded px-1.5 py-1 max-[1400px]:px-1 ${here ? "bg-plate font-semibold shadow-[inset_0_-2px_0_var(--rust)]" : "text-dim"}`}
      >
        {here ? here[1] : "Workspace"} <ChevronDown size={12} aria-hidden="true" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          // A link goes to its page by itself, of which the menu learns nothing.
          onClick={() => setOpen(false)}
          className="z-50 flex min-w-36 flex-col rounded border border-edge bg-plate py-1 shadow-xl"
        >
          {WORKSPACE_PAGES.map(([one, label]) => (
            <DropdownMenu.Item key={one} asChild>
              <Link
                to={{ page: one, ...NOTHING_ASKED }}
                aria-current={one === page ? "page" : undefined}
                className="px-3 py-1.5 data-[highlighted]:bg-rust-wash"
              >
                {label}
              </Link>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

type TakeBackProps = { which: "undo" | "redo"; who: string };

/** Takes the last edit back, or makes it again; what that would do is weighed while a pointer is on it. */
function TakeBack({ which, who }: TakeBackProps) {
  const openRulebase = useOpenRulebase();
  const edits = useEditing();
  const label = which === "undo" ? "Undo" : "Redo";
  const Icon = which === "undo" ? Undo2 : Redo2;
  const what = openRulebase.rulebase?.[which];
  return (
    <button
      type="button"
      className="press"
      aria-label={label}
      title={what ? `${label}: ${what}` : `Nothing to ${which}`}
      disabled={!what}
      onClick={() => {
        edits.intend(undefined);
        edits.takeBack(which);
      }}
      {...edits.weighing(label, () => ({ action: which, who }))}
    >
      <Icon size={14} />
    </button>
  );
}

type HeaderProps = {
  page: string;
  who: string;
  setWho: (who: string) => void;
  theme: string;
  setTheme: (theme: string) => void;
};

/** Where one can go, which rulebase is open, what can be taken back, and who is at it. */
export const Header = memo(function Header({ page: here, who, setWho, theme, setTheme }: HeaderProps) {
  const openRulebase = useOpenRulebase();
  const answers = useAnswers();
  const { rulebase } = openRulebase;
  const broken = answers.promises?.filter((promise) => !promise.kept).length ?? 0;
  return (
    <header className="bar flex min-h-10 max-[1180px]:flex-wrap shrink-0 items-center gap-3 max-[1400px]:gap-2 whitespace-nowrap border-edge border-b bg-ground px-3">
      <h1 className="flex items-center gap-2 font-semibold">
        <img src="/sieve.svg" alt="" width="20" height="20" className="shrink-0" />
        <span className="max-[1400px]:sr-only">Iron Sieve</span>
      </h1>
      <nav aria-label="Places" className="flex max-[1180px]:flex-wrap">
        {PAGES.map(([page, label]) => (
          <Link
            key={page}
            to={{ page, ...NOTHING_ASKED }}
            aria-current={here === page ? "page" : undefined}
            className={`rounded px-1.5 py-1 max-[1400px]:px-1 ${here === page ? "bg-plate font-semibold shadow-[inset_0_-2px_0_var(--rust)]" : "text-dim"}`}
          >
            {label}
            {page === "promises" && broken > 0 && (
              <span className="ml-1.5 rounded bg-rust px-1 text-paper text-xs dark-ink">{broken} broken</span>
            )}
          </Link>
        ))}
        <WorkspaceMenu page={here} />
      </nav>
      <span className="flex items-center gap-1 text-dim">
        {openRulebase.heads.length > 1 ? (
          <select
            aria-label="Rulebase"
            value={openRulebase.id}
            onChange={(event) => goTo({ base: event.target.value, rule: undefined, probe: undefined })}
            className="max-w-36 rounded border border-edge bg-plate px-1 py-0.5 text-ink"
          >
            {openRulebase.heads
              .filter((head) => head.standing === "active" || head.id === openRulebase.id)
              .map((head) => (
                <option key={head.id} value={head.id}>
                  {head.standing === "active" ? head.name : `${head.name} (retired)`}
                </option>
              ))}
          </select>
        ) : (
          rulebase?.name
        )}
        {rulebase && <span>· revision {rulebase.revision}</span>}
      </span>
      <span className="ml-auto flex items-center gap-1">
        <TakeBack which="undo" who={who} />
        <TakeBack which="redo" who={who} />
      </span>
      {/* Somebody else begins with their own name, not with what was written of the one before. */}
      <EditorName key={who} who={who} set={setWho} />
      <Reason />
      <button
        type="button"
        className="press"
        aria-label={theme === "dark" ? "Light surface" : "Dark surface"}
        onClick={() => setTheme(theme === "dark" ? "light" : "dark")}
      >
        {theme === "dark" ? <Sun size={14} /> : <Moon size={14} />}
      </button>
    </header>
  );
});
