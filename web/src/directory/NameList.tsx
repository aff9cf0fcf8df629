import { X } from "lucide-react";
import { useId, useState } from "react";

type Props = { label: string; names: string[]; known: string[]; set: (names: string[]) => void };

/** Some of the names there are, added by typing and taken away one by one. */
export function NameList({ label, names, known, set }: Props) {
  const list = useId();
  const [text, setText] = useState("");
  const add = () => {
    const found = known.find((name) => name.toLowerCase() === text.trim().toLowerCase());
    if (!found) return;
    if (!names.includes(found)) set([...names, found]);
    setText("");
  };
  const missing =
    text.trim() !== "" && !known.some((name) => name.toLowerCase().includes(text.trim().toLowerCase()));
  return (
    <div className="flex gap-2 text-xs">
      <span className="w-24 shrink-0 text-dim">{label}</span>
      <div className="flex min-w-0 flex-1 flex-wrap items-center gap-1">
        {names.map((name) => (
          <span
            key={name}
            className="inline-flex items-center gap-0.5 rounded-sm border border-edge bg-plate pl-1"
          >
            {name}
            <button
              type="button"
              className="min-h-6 p-1"
              aria-label={`take ${name} away`}
              onClick={() => set(names.filter((other) => other !== name))}
            >
              <X size={11} />
            </button>
          </span>
        ))}
        <input
          aria-label={`Add to ${label.toLowerCase()}`}
          list={list}
          value={text}
          placeholder="type a name, Enter adds it"
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Enter" && text.trim()) {
              event.preventDefault();
              add();
            } else if (event.key === "Backspace" && text === "") set(names.slice(0, -1));
          }}
          className="min-w-40 flex-1 rounded border border-paper-edge bg-ground/40 px-2 py-0.5 placeholder:text-faint"
        />
        {missing && <span className="text-madder">there is no such group</span>}
        <datalist id={list}>
          {known.map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
      </div>
    </div>
  );
}
