/** Something to look at, and what looks at it. */
export type Note = { key: string; name: string; detail?: string; open?: () => void };

/** Things of one kind that are worth a look. */
export type Notes = {
  title: string;
  /** Why they are, in a few words. */
  why?: string;
  notes: Note[];
  /** How many there are, where not all of them are listed. */
  total?: number;
};

type Props = {
  label: string;
  sections: Notes[];
  /** What is said where nothing is worth a look. */
  nothing: string;
  /** What one can do here besides. */
  hint: string;
};

const SHOWN = 12;

/** What a page begins with while nothing is chosen: what on it is worth a look, each a press away. */
export function Noteworthy({ label, sections, nothing, hint }: Props) {
  const worth = sections.filter(({ notes }) => notes.length > 0);
  return (
    <section aria-label={label} className="min-w-0 flex-1 overflow-auto bg-paper p-4">
      {worth.length === 0 && <p>{nothing}</p>}
      {worth.map(({ title, why, notes, total = notes.length }) => (
        <div key={title} className="mb-4">
          <h2 className="font-semibold">
            {title} <span className="font-normal text-dim tabular-nums">{total.toLocaleString("en")}</span>
          </h2>
          {why && <p className="text-dim text-xs">{why}</p>}
          <ul>
            {notes.slice(0, SHOWN).map(({ key, name, detail, open }) => (
              <li key={key} className="flex min-w-0 gap-2 border-paper-edge border-b py-1">
                {open ? (
                  <button type="button" className="shrink-0 underline decoration-edge" onClick={open}>
                    {name}
                  </button>
                ) : (
                  <span className="shrink-0">{name}</span>
                )}
                {detail && <span className="min-w-0 truncate text-dim">{detail}</span>}
              </li>
            ))}
          </ul>
          {total > Math.min(SHOWN, notes.length) && (
            <p className="text-dim text-xs">
              and {(total - Math.min(SHOWN, notes.length)).toLocaleString("en")} more
            </p>
          )}
        </div>
      ))}
      <p className="text-dim">{hint}</p>
    </section>
  );
}
