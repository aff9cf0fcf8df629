import { useId, useState } from "react";
import type { NameChoice, UnknownName, WorkspaceStep } from "../api/client";
import { WorkspaceImpact } from "../workspace/WorkspaceImpact";
import { making } from "./making";

type Props = {
  unknown: UnknownName[];
  choices: NameChoice[];
  choose: (choices: NameChoice[]) => void;
  /** Makes what a name is to stand for; whether it was made. */
  make: (what: string, step: WorkspaceStep) => Promise<boolean>;
  version: number;
};

/**
 * The names of a rulebase from elsewhere that stand for nothing here, each with what may be meant. Enter takes what is
 * written, and goes on to the next; a name for which nothing is chosen stays and is told as a finding.
 */
export function UnknownNames({ unknown, choices, choose, make, version }: Props) {
  if (unknown.length === 0 && choices.length === 0) return null;
  const chosen = (choice: NameChoice) => [
    ...choices.filter((one) => one.kind !== choice.kind || one.value !== choice.value),
    choice,
  ];
  const sure = unknown.filter((one) => one.near.length > 0);
  return (
    <section aria-label="Names that are unknown here">
      <h3 className="flex items-center gap-3 font-semibold">
        {unknown.length === 0
          ? "Every name stands for something here."
          : `${unknown.length} ${unknown.length === 1 ? "name stands" : "names stand"} for nothing here`}
        {sure.length > 1 && (
          <button
            type="button"
            className="press text-xs"
            onClick={() =>
              choose([...choices, ...sure.map(({ kind, value, near }) => ({ kind, value, other: near[0] }))])
            }
          >
            Take the nearest for {sure.length} of them
          </button>
        )}
      </h3>
      <p className="text-dim text-xs">
        Say what is meant, make it, or leave the name out. What you leave as it is matches nothing, and the
        review tells you; make the zone, the person or the list later, and it means what it says.
      </p>
      <ul className="mt-1">
        {unknown.map((one) => (
          <NameRow
            key={`${one.kind} ${one.value}`}
            one={one}
            choose={(choice) => choose(chosen(choice))}
            make={make}
            version={version}
          />
        ))}
      </ul>
      {choices.length > 0 && (
        <p className="mt-1 text-xs">
          {choices.map((choice) => (
            <button
              key={`${choice.kind} ${choice.value}`}
              type="button"
              className="press mr-1"
              title="Take this back"
              onClick={() => choose(choices.filter((other) => other !== choice))}
            >
              {choice.value} → {choice.other ?? "left out"}
            </button>
          ))}
        </p>
      )}
    </section>
  );
}

type RowProps = { one: UnknownName; choose: (choice: NameChoice) => void } & Pick<Props, "make" | "version">;

function NameRow({ one, choose, make, version }: RowProps) {
  const list = useId();
  const [isMaking, setMaking] = useState(false);
  const way = making(one);
  const [other, setOther] = useState(one.near[0] ?? "");
  const { kind, value } = one;
  return (
    <li className="flex flex-wrap items-center gap-2 border-paper-edge border-t py-1">
      <span className="w-44 truncate" title={one.why}>
        <span className="text-dim">{kind}</span> <b>{value}</b>
      </span>
      <input
        aria-label={`What ${value} is here`}
        list={list}
        value={other}
        placeholder="what it is called here"
        onChange={(event) => setOther(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== "Enter") return;
          event.preventDefault();
          const next = event.currentTarget.closest("li")?.nextElementSibling?.querySelector("input");
          if (other.trim()) choose({ kind, value, other: other.trim() });
          next?.focus();
        }}
        className="w-48 rounded border border-paper-edge bg-ground/40 px-2 py-0.5"
      />
      <datalist id={list}>
        {one.near.map((near) => (
          <option key={near} value={near} />
        ))}
      </datalist>
      <button
        type="button"
        className="press text-xs"
        disabled={!other.trim()}
        onClick={() => choose({ kind, value, other: other.trim() })}
      >
        Use this name
      </button>
      <button type="button" className="press text-xs" onClick={() => choose({ kind, value })}>
        Leave it out
      </button>
      {way && (
        <button
          type="button"
          className="press text-xs"
          aria-expanded={isMaking}
          onClick={() => setMaking(!isMaking)}
        >
          Make it
        </button>
      )}
      <span className="text-dim text-xs" title={one.places.join(", ")}>
        {one.places.length === 1 ? one.places[0] : `${one.places.length} places`}
      </span>
      {way && isMaking && <Make one={one} way={way} make={make} version={version} />}
    </li>
  );
}

type MakeProps = { one: UnknownName; way: NonNullable<ReturnType<typeof making>> } & Pick<
  Props,
  "make" | "version"
>;

/** What is still to be said of a name that is being made, and what making it does to the other rulebases. */
function Make({ one, way, make, version }: MakeProps) {
  const [text, setText] = useState("");
  const { wanted } = way;
  const can = !wanted || text.trim() !== "";
  const step = way.step(text);
  const go = () => can && make(`made ${one.kind} ${one.value}`, step);
  return (
    <div className="flex w-full flex-col gap-1 border-rust border-l-2 pl-2">
      <span className="flex items-center gap-2">
        {wanted && (
          <input
            aria-label={`The ${wanted.label} of ${one.value}`}
            placeholder={`${wanted.label}: ${wanted.hint}`}
            value={text}
            onChange={(event) => setText(event.target.value)}
            onKeyDown={(event) => {
              if (event.key !== "Enter") return;
              event.preventDefault();
              go();
            }}
            className="w-96 rounded border border-paper-edge bg-ground/40 px-2 py-0.5 placeholder:text-faint"
          />
        )}
        <button type="button" className="press press-main text-xs" disabled={!can} onClick={go}>
          Make {one.value}
        </button>
      </span>
      {can && <WorkspaceImpact version={version} steps={[step]} />}
    </div>
  );
}
