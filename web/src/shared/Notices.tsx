import type { Notice, Parts } from "../api/client";
import { Plate } from "../rules/Plate";
import { PartFrame, PickLine, TextLine } from "./PartFrame";

const BLANK: Notice = { name: "", verdict: "ask", text: "" };
const KINDS: [string, string][] = [
  ["ask", "ask: may go on"],
  ["stop", "stop: may not"],
  ["enrol", "enrol: fix the device first"],
];

/** The pages people are shown. */
export function Notices({ parts }: { parts: Parts }) {
  return (
    <PartFrame
      kind="notice"
      title="Notices"
      about={parts.notices.length === 0 && <p className="text-dim">None yet.</p>}
      parts={parts.notices}
      blank={BLANK}
      named={(notice) => notice.name ?? ""}
      show={(notice) => (
        <>
          <span className="flex items-center gap-2">
            <Plate verdict={notice.verdict ?? ""} /> <b>{notice.name}</b>
          </span>
          <span className="block text-dim text-xs">{notice.text}</span>
        </>
      )}
      form={(draft, set, isNew) => (
        <>
          <TextLine
            label="name"
            value={draft.name ?? ""}
            fixed={!isNew}
            set={(name) => set({ ...draft, name })}
          />
          <PickLine
            label="does"
            value={draft.verdict ?? "ask"}
            options={KINDS}
            set={(verdict) => set({ ...draft, verdict })}
          />
          <TextLine label="says" value={draft.text ?? ""} set={(text) => set({ ...draft, text })} />
        </>
      )}
    />
  );
}
