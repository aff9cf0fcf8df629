import type { Question } from "../api/client";
import type { FilterChoice } from "./useFilterChoices";

type Props = {
  text: string;
  /** Ways to go on with it. */
  choices: FilterChoice[];
  set: (text: string) => void;
  input: React.RefObject<HTMLInputElement | null>;
  shown: number;
  total: number;
  /** Whether some of it is still being worked out. */
  waiting: boolean;
  /** What is wrong with what was typed. */
  problem?: string;
  /** What the rules have to do with what a sentence asks about, and which of them are shown. */
  answered?: Question;
  narrow: "can" | "get";
  setNarrow: (narrow: "can" | "get") => void;
  named: (rule: string) => string;
  chooseAll: () => void;
  /** Shows everything again. */
  close: () => void;
  leave: () => void;
};

/** Narrows the stack to the rules that are meant, and says how many are left out. */
export function FilterBar(props: Props) {
  const { text, choices, set, input, shown, total, waiting, problem, answered, chooseAll, close, leave } =
    props;
  return (
    <div className="flex flex-wrap items-center gap-2 border-edge border-b bg-paper px-3 py-1">
      <label htmlFor="filter" className="font-medium">
        Show
      </label>
      <input
        id="filter"
        ref={input}
        value={text}
        onChange={(event) => set(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Escape") {
            close();
            leave();
          } else if (event.key === "Enter") leave();
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
        list="filter-choices"
        placeholder="from Offices to Internet using tcp/443 · match:10.20.0.7 · verdict:deny · words"
        spellCheck={false}
        autoComplete="off"
        className="min-w-0 flex-1 rounded border border-paper-edge bg-ground/40 px-2 py-0.5 placeholder:text-faint"
      />
      <datalist id="filter-choices">
        {choices.map(({ value, detail }) => (
          <option key={value} value={value}>
            {detail}
          </option>
        ))}
      </datalist>
      <span className="shrink-0 text-dim text-xs" role="status" aria-label="What is shown">
        {problem
          ? ""
          : waiting
            ? "Working it out …"
            : text.trim() === ""
              ? `all ${total.toLocaleString("en")} rules`
              : `${shown.toLocaleString("en")} shown in their order, ${(total - shown).toLocaleString("en")} left out`}
      </span>
      {problem && (
        <p role="alert" className="order-last w-full text-madder text-xs">
          {problem}
        </p>
      )}
      {answered && <Answer {...props} answered={answered} />}
      {text.trim() !== "" && !waiting && !problem && (
        <>
          <button type="button" className="press text-xs" disabled={shown === 0} onClick={chooseAll}>
            Choose all shown
          </button>
          <button type="button" className="press text-xs" onClick={() => set("")}>
            Show all
          </button>
        </>
      )}
    </div>
  );
}

const MOST_NAMED = 6;

/** Which rules can match some of what was asked, and which get it; either can be shown. */
function Answer({ answered, narrow, setNarrow, named }: Props & { answered: Question }) {
  const { can, get, defaultVerdict, complete } = answered;
  const getting = [...get.map(named), ...(defaultVerdict ? [named("")] : [])];
  const all = complete && getting.length === 1;
  const rest = getting.length - MOST_NAMED;
  return (
    <p className="order-last flex w-full items-center gap-2 text-xs">
      <button
        type="button"
        className="press text-xs"
        aria-pressed={narrow === "can"}
        onClick={() => setNarrow("can")}
      >
        {can.length} can match some of it
      </button>
      <button
        type="button"
        className="press text-xs"
        aria-pressed={narrow === "get"}
        onClick={() => setNarrow("get")}
      >
        {get.length} {get.length === 1 ? "gets" : "get"} some of it
      </button>
      <span className="min-w-0 truncate text-dim">
        {all ? "All of it goes to " : "It goes to "}
        {getting.slice(0, MOST_NAMED).join(" · ")}
        {rest > 0 && ` and ${rest} more`}
        {!complete && " · working it out was stopped: more rules may get some"}
      </span>
    </p>
  );
}
