import type { DecryptionRule, Parts } from "../api/client";
import { FIELDS } from "../rules/fields";
import { PartFrame, PickLine, TextLine } from "./PartFrame";

const BLANK: DecryptionRule = { id: "", decision: "decrypt", fields: {}, note: "" };
const DECISIONS: [string, string][] = [
  ["decrypt", "decrypt it"],
  ["leave encrypted", "leave it encrypted"],
];
// Content is decrypted before the application is known.
const ASKED = FIELDS.filter((field) => field.key !== "using.applications");

/** Whose encrypted content the gateway decrypts, rule by rule from the top. */
export function Decryption({ parts }: { parts: Parts }) {
  return (
    <PartFrame
      kind="decryption rule"
      title="What is decrypted"
      about={
        <p className="mb-1 text-dim text-xs">
          From the top, the first rule that fits decides; what no rule fits stays encrypted, and features
          inside it are not seen. A new rule goes above the others.
        </p>
      }
      parts={parts.decryption}
      blank={BLANK}
      named={(line) => line.id ?? ""}
      show={(line) => (
        <>
          <b>{line.decision}</b> <span className="text-dim text-xs">{line.id}</span>
          {Object.entries(line.fields ?? {}).map(([key, field]) => (
            <span key={key} className="block text-xs">
              <span className="text-dim">
                {key.replace(".", " ")}
                {field.sense === "is not" ? " not" : ""}
              </span>{" "}
              {(field.values ?? []).join("; ")}
            </span>
          ))}
          {line.note && <span className="block text-dim text-xs">{line.note}</span>}
        </>
      )}
      form={(draft, set, isNew) => (
        <>
          <TextLine
            label="called"
            value={draft.id ?? ""}
            fixed={!isNew}
            set={(id) => set({ ...draft, id: id.replace(/\s/g, "-") })}
          />
          <PickLine
            label="does"
            value={draft.decision ?? "decrypt"}
            options={DECISIONS}
            set={(decision) => set({ ...draft, decision })}
          />
          {ASKED.map((field) => (
            <FieldLine
              key={field.key}
              label={field.key.replace(".", " ")}
              field={draft.fields?.[field.key]}
              set={(next) => {
                const { [field.key]: _, ...others } = draft.fields ?? {};
                set({ ...draft, fields: next ? { ...others, [field.key]: next } : others });
              }}
            />
          ))}
          <TextLine label="note" value={draft.note ?? ""} set={(note) => set({ ...draft, note })} />
        </>
      )}
    />
  );
}

type Field = NonNullable<DecryptionRule["fields"]>[string];

type LineProps = { label: string; field?: Field; set: (field: Field | undefined) => void };

/** The values of one field, and whether they are meant or all others. */
function FieldLine({ label, field, set }: LineProps) {
  const not = field?.sense === "is not";
  return (
    <span className="flex items-center gap-1.5">
      <span className="min-w-0 flex-1">
        <TextLine
          label={label}
          hint="any; several with ; between"
          value={(field?.values ?? []).join("; ")}
          set={(text) => {
            const values = text.split(/;\s*/).filter((value, at, all) => value || at < all.length - 1);
            set(text.trim() ? { sense: field?.sense ?? "is", values } : undefined);
          }}
        />
      </span>
      <button
        type="button"
        className={`press text-xs ${not ? "press-main" : ""}`}
        aria-label={`all but these: ${label}`}
        aria-pressed={not}
        disabled={!field}
        onClick={() => field && set({ ...field, sense: not ? "is" : "is not" })}
      >
        not
      </button>
    </span>
  );
}
