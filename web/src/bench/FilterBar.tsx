import { KEYS } from "./filter";

type Props = {
  text: string;
  set: (text: string) => void;
  input: React.RefObject<HTMLInputElement | null>;
  shown: number;
  total: number;
  /** Whether some of it is still being worked out. */
  waiting: boolean;
  chooseAll: () => void;
  /** Shows everything again. */
  close: () => void;
  leave: () => void;
};

/** Narrows the stack to the rules that are meant, and says how many are left out. */
export function FilterBar({ text, set, input, shown, total, waiting, chooseAll, close, leave }: Props) {
  return (
    <div className="flex items-center gap-2 border-edge border-b bg-paper px-3 py-1">
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
        list="filter-keys"
        placeholder="words, match:10.20.0.0/16, verdict:deny, finding:any, owner:…"
        spellCheck={false}
        autoComplete="off"
        className="min-w-0 flex-1 rounded border border-paper-edge bg-ground/40 px-2 py-0.5 placeholder:text-faint"
      />
      <datalist id="filter-keys">
        {Object.entries(KEYS).map(([key, what]) => (
          <option key={key} value={`${key}:`}>
            {what}
          </option>
        ))}
      </datalist>
      <span className="shrink-0 text-dim text-xs" role="status" aria-label="What is shown">
        {waiting
          ? "Working it out …"
          : text.trim() === ""
            ? `all ${total.toLocaleString("en")} rules`
            : `${shown.toLocaleString("en")} shown in their order, ${(total - shown).toLocaleString("en")} left out`}
      </span>
      {text.trim() !== "" && !waiting && (
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
