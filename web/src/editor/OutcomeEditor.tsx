import type { Parts } from "../api/client";
import { shown } from "../rules/fields";
import { Plate } from "../rules/Plate";
import type { Draft } from "./draft";

function Choice({
  label,
  options,
  value,
  choose,
}: {
  label: string;
  options: string[];
  value: string;
  choose: (v: string) => void;
}) {
  return (
    <fieldset className="flex items-center gap-3">
      <legend className="sr-only">{label}</legend>
      <span className="w-24 text-dim">{label}</span>
      {options.map((option) => (
        <label key={option} className="flex items-center gap-1">
          <input
            type="radio"
            name={label}
            checked={value === option}
            onChange={() => choose(option)}
            className="accent-rust"
          />
          {label === "Verdict" ? <Plate verdict={option} /> : shown(option)}
        </label>
      ))}
    </fieldset>
  );
}

type PickProps = {
  label: string;
  none: string;
  options: { value: string; text: string }[];
  value: string;
  choose: (value: string) => void;
};

/** One of several named things, or none of them. */
function Pick({ label, none, options, value, choose }: PickProps) {
  return (
    <label className="flex items-center gap-3">
      <span className="w-24 text-dim">{label}</span>
      <select
        value={value}
        onChange={(event) => choose(event.target.value)}
        className="rounded border border-paper-edge bg-paper px-1 py-0.5"
      >
        <option value="">{none}</option>
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.text}
          </option>
        ))}
      </select>
    </label>
  );
}

type ThenProps = { parts?: Parts; draft: Draft; set: (draft: Draft) => void };

/** What happens to what the rule catches. */
export function ThenEditor({ parts, draft, set }: ThenProps) {
  const [word] = draft.verdict.split(" ");
  const allows = word === "allow";
  const lane = draft.verdict.startsWith("allow in ") ? draft.verdict.slice(9) : "";
  const notice = ["ask", "stop", "enrol"].includes(word) ? draft.verdict : "";
  const verdict = (next: string) =>
    set({ ...draft, verdict: next, sheet: next.startsWith("allow") ? draft.sheet : "" });
  return (
    <div className="flex flex-col gap-2 p-2">
      <Choice label="Verdict" options={["allow", "deny", "reject"]} value={word} choose={verdict} />
      <Pick
        label="or a notice"
        none="no notice"
        options={(parts?.notices ?? []).map((n) => ({
          value: `${n.verdict} ${n.name}`,
          text: `${n.verdict}: ${n.name}`,
        }))}
        value={notice}
        choose={(next) => verdict(next || "deny")}
      />
      {allows && (
        <>
          <Pick
            label="Lane"
            none="no lane"
            options={(parts?.lanes ?? []).map((l) => ({ value: l.name ?? "", text: l.name ?? "" }))}
            value={lane}
            choose={(next) => verdict(next ? `allow in ${next}` : "allow")}
          />
          <Pick
            label="Usage sheet"
            none="no sheet"
            options={(parts?.sheets ?? []).map((s) => ({ value: s.name ?? "", text: s.name ?? "" }))}
            value={draft.sheet}
            choose={(sheet) => set({ ...draft, sheet })}
          />
        </>
      )}
      <Choice
        label="Logging"
        options={["logged", "not logged"]}
        value={draft.logging}
        choose={(logging) => set({ ...draft, logging })}
      />
      <Choice
        label="Ports"
        options={["any", "usual"]}
        value={draft.ports}
        choose={(ports) => set({ ...draft, ports })}
      />
      <Choice
        label="State"
        options={["on", "off"]}
        value={draft.state}
        choose={(state) => set({ ...draft, state })}
      />
      <p className="text-dim text-xs">
        Usual ports hold each application to the ports the catalogue knows for it. A rule that is off does not
        exist for decisions and the review.
      </p>
    </div>
  );
}

/** What the rule is called, and what is kept about it. */
export function WordsEditor({ draft, set }: { draft: Draft; set: (draft: Draft) => void }) {
  const line = (key: "name" | "owner" | "changes", label: string, placeholder: string) => (
    <input
      aria-label={label}
      placeholder={placeholder}
      value={draft[key]}
      onChange={(event) => set({ ...draft, [key]: event.target.value })}
      className="rounded border border-paper-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
    />
  );
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-2">
      {line("name", "Name of the rule", "what the rule is called")}
      <div className="grid grid-cols-[1fr_1fr_auto] gap-2">
        {line("owner", "Owner of the rule", "who answers for it")}
        {line("changes", "Change references", "change requests behind it")}
        <label className="flex items-center gap-1.5 text-dim text-xs">
          look again by
          <input
            type="date"
            value={draft.reviewBy}
            onChange={(event) => set({ ...draft, reviewBy: event.target.value })}
            className="rounded border border-paper-edge bg-ground/40 px-1 py-1 text-ink"
          />
        </label>
      </div>
      <textarea
        aria-label="Note on the rule"
        placeholder="why it is there"
        value={draft.note}
        onChange={(event) => set({ ...draft, note: event.target.value })}
        className="min-h-0 flex-1 resize-none rounded border border-paper-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
      />
    </div>
  );
}
