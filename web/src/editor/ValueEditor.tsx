import { useQuery } from "@tanstack/react-query";
import { Command } from "cmdk";
import { TriangleAlert, X } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { api, type FieldError, type RuleField } from "../api/client";
import { focusOnOpen } from "../base/focusOnOpen";
import { isCommand } from "../base/keys";
import { useStableCallback } from "../base/useStableCallback";
import { valuesOf } from "../base/valuesOf";
import { ChipMark } from "../rules/ChipMark";
import { chipText, SET_KINDS } from "../rules/fields";
import { TimePicker } from "./TimePicker";

type Props = {
  rulebase: string;
  kind: string;
  label: string;
  field: RuleField;
  onChange: (field: RuleField) => void;
  /** Whether the values can be turned round to "anything but"; sets cannot. */
  canNegate: boolean;
  /** Whether the cursor goes here at once. */
  focused: boolean;
  /** Asked when the values are to become a named set; the field then holds the set instead. */
  onMakeSet?: (name: string, values: string[]) => void;
  /** What is wrong with the field, and with which of its values. */
  faults?: FieldError[];
};

const oneOf = (label: string) => `${/^[aeiou]/.test(label) ? "an" : "a"} ${label}`;

/** How values of each kind may be spelt, shown while nothing is typed. */
const SPELLINGS: Record<string, string> = {
  network: "10.20.0.7 · 10.20.0.0/16 · 10.20.0.1-10.20.0.9 · host NAME · country XA · list NAME",
  person: "login · group NAME · home port=NAME · identified · unidentified",
  device: "company laptop · company laptop, healthy · any device, unhealthy",
  site: "shop.example · *.shop.example · category NAME · no host name",
  service: "tcp/443 · udp/5000-5100 · tcp · icmp/8 · ip/47",
  application: "NAME · NAME/feature · family NAME · category NAME but not NAME · where exposure >= serious",
  time: "mon-fri 08:00-18:00 · 22:00-06:00 · 2026-12-24..2026-12-26",
};

/** The values of one field: type to filter, Enter to add, Backspace to take the last away. */
export function ValueEditor({
  rulebase,
  kind,
  label,
  field,
  onChange,
  canNegate,
  focused,
  onMakeSet,
  faults = [],
}: Props) {
  const [text, setText] = useState("");
  const [chosen, setChosen] = useState("");
  const [setName, setSetName] = useState<string>();
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (focused) input.current?.focus();
  }, [focused]);
  const choices = useQuery({
    queryKey: ["choices", rulebase, kind, text],
    queryFn: () => api.choices(rulebase, kind, text),
    placeholderData: (before) => before,
  });
  const add = (value: string) => {
    if (!field.values.includes(value)) onChange({ ...field, values: [...field.values, value] });
    setText("");
    input.current?.focus();
  };
  const take = useStableCallback(add);
  const remove = (value: string) => onChange({ ...field, values: field.values.filter((v) => v !== value) });
  const shown = (choices.data ?? []).filter((choice) => !field.values.includes(choice.value));
  // The list arrives after the typing; Enter takes its first line unless another one was chosen.
  const active = shown.some((choice) => choice.value === chosen) ? chosen : (shown[0]?.value ?? "");
  // Enter pressed before the list for what was typed is there waits for it, and takes its first line then.
  const [hasty, setHasty] = useState(false);
  const fresh = choices.isSuccess && !choices.isPlaceholderData;
  const first = shown[0]?.value;
  useEffect(() => {
    if (!hasty || !fresh) return;
    setHasty(false);
    if (first) take(first);
  }, [hasty, fresh, first, take]);
  const wrongWith = (value: string) => faults.find((fault) => fault.value === value)?.message;
  const canMakeSet = onMakeSet && SET_KINDS.includes(kind) && field.values.length > 0;
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-1.5">
      <div className="flex flex-wrap items-center gap-1">
        {canNegate && (
          <button
            type="button"
            className="press text-xs"
            aria-pressed={field.sense === "is not"}
            onClick={() => onChange({ ...field, sense: field.sense === "is" ? "is not" : "is" })}
          >
            {field.sense === "is" ? "is any of" : "is anything but"}
          </button>
        )}
        {field.values.length === 0 && <span className="text-dim">any {label}</span>}
        {field.values.map((value) => (
          <span
            key={value}
            title={wrongWith(value)}
            className={`inline-flex items-center gap-0.5 rounded-sm border bg-plate pl-1 text-xs ${wrongWith(value) ? "border-madder text-madder" : "border-edge"}`}
          >
            {wrongWith(value) && <TriangleAlert size={11} role="img" aria-label={wrongWith(value)} />}
            <ChipMark value={value} />
            {chipText(value)}
            <button
              type="button"
              className="p-0.5"
              aria-label={`take away ${value}`}
              onClick={() => remove(value)}
            >
              <X size={11} />
            </button>
          </span>
        ))}
        {canMakeSet && setName === undefined && (
          <button type="button" className="press ml-auto text-xs" onClick={() => setSetName("")}>
            Make a set of {field.values.length === 1 ? "this" : "these"}
          </button>
        )}
      </div>
      {canMakeSet && setName !== undefined && (
        <form
          className="flex gap-1"
          onSubmit={(event) => {
            event.preventDefault();
            event.stopPropagation();
            if (!setName.trim()) return;
            onMakeSet(setName.trim(), field.values);
            setSetName(undefined);
            input.current?.focus();
          }}
        >
          <input
            ref={focusOnOpen}
            aria-label="Name of the new set"
            placeholder="name of the new set"
            value={setName}
            onChange={(event) => setSetName(event.target.value)}
            className="flex-1 rounded border border-paper-edge bg-ground/40 px-2 py-0.5"
          />
          <button type="submit" className="press press-main text-xs" disabled={!setName.trim()}>
            Name it
          </button>
        </form>
      )}
      <Command
        shouldFilter={false}
        value={active}
        onValueChange={setChosen}
        label={`Add ${oneOf(label)}`}
        className="flex min-h-0 flex-1 flex-col"
      >
        <Command.Input
          ref={input}
          value={text}
          onValueChange={setText}
          placeholder={SPELLINGS[kind] ?? `type to find ${oneOf(label)}, or paste a list`}
          className="rounded border border-paper-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
          onPaste={(event) => {
            const list = valuesOf(event.clipboardData.getData("text"));
            if (list.length < 2) return;
            event.preventDefault();
            onChange({ ...field, values: [...new Set([...field.values, ...list])] });
          }}
          onKeyDown={(event) => {
            if (event.key === "Enter" && !isCommand(event) && !event.altKey) {
              event.preventDefault();
              event.stopPropagation();
              if (!fresh) setHasty(true);
              else if (active) add(active);
            } else if (event.key === "Enter") {
              // With Ctrl or Alt it is for the editor around, and adds nothing here.
              event.preventDefault();
            } else if (event.key === "Backspace" && text === "" && field.values.length > 0) {
              remove(field.values[field.values.length - 1]);
            }
          }}
        />
        <Command.List className="min-h-0 flex-1 overflow-auto rounded-b border border-paper-edge border-t-0">
          <Command.Empty className="px-2 py-1 text-dim">
            {choices.isFetching ? "Looking …" : `Nothing here is called “${text}”.`}
          </Command.Empty>
          {shown.map((choice) => (
            <Command.Item
              key={choice.value}
              value={choice.value}
              onSelect={() => add(choice.value)}
              className="flex justify-between gap-4 px-2 py-0.5 data-[selected=true]:bg-rust-wash"
            >
              <span>
                <ChipMark value={choice.value} />
                {chipText(choice.value)}
              </span>
              <span className="truncate text-dim text-xs">
                {choice.kind}
                {choice.detail && ` · ${choice.detail}`}
              </span>
            </Command.Item>
          ))}
        </Command.List>
      </Command>
      {kind === "time" && <TimePicker add={add} />}
    </div>
  );
}
