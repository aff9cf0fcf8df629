import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type RecordedConnection } from "../api/client";
import { goTo } from "../base/address";
import { letsThrough } from "../rules/verdict";
import { useAnswers, useOpenRulebase } from "../session/contexts";
import { type Choices, choicesOf, sentenceOf } from "./widths";

/** A rule about a recorded connection, exactly as wide as wished; it is drafted above the rule that catches it now. */
export function WriteRule({ line }: { line: Pick<RecordedConnection, "probe" | "unsaid"> }) {
  const openRulebase = useOpenRulebase();
  const answers = useAnswers();
  const fall = useQuery({
    queryKey: ["fall of", openRulebase.id, answers.hits?.state, line.probe],
    queryFn: () => api.probe(openRulebase.id, line.probe),
  });
  const person = fall.data?.parts.find((part) => part.detail === "person")?.value;
  const directory = useQuery({
    queryKey: ["directory", person ?? "", ""],
    queryFn: () => api.directory(person ?? "", ""),
    enabled: person !== undefined && person !== "unidentified",
  });
  const catalogue = useQuery({ queryKey: ["catalogue"], queryFn: api.catalogue });
  const [picked, setPicked] = useState<Record<string, string>>({});
  if (!fall.data) return null;
  const choices = choicesOf(
    fall.data.parts,
    directory.data?.shown.find((one) => one.login === person)?.groups ?? [],
    catalogue.data?.applications ?? [],
    line.unsaid,
  );
  const opposite = letsThrough(fall.data.verdict) ? "deny" : "allow";
  const sentence = sentenceOf(picked.verdict ?? opposite, choices, picked);
  return (
    <form
      aria-label="Write a rule"
      className="flex flex-wrap items-center gap-x-2 gap-y-1"
      onSubmit={(event) => {
        event.preventDefault();
        goTo({
          page: "rulebase",
          rule: undefined,
          find: undefined,
          probe: line.probe,
          draft: sentence,
        });
      }}
    >
      <Pick
        name="Verdict"
        value={picked.verdict ?? opposite}
        options={["deny", "allow", "reject"]}
        pick={(verdict) => setPicked({ ...picked, verdict })}
      />
      {(Object.keys(choices) as (keyof Choices)[]).map((part) => (
        <Pick
          key={part}
          name={part}
          value={picked[part] ?? choices[part][0]}
          options={choices[part]}
          pick={(value) => setPicked({ ...picked, [part]: value })}
        />
      ))}
      <button type="submit" className="press text-xs">
        Draft this rule
      </button>
      <span className="basis-full text-dim">{sentence}</span>
    </form>
  );
}

type PickProps = { name: string; value: string; options: string[]; pick: (value: string) => void };

function Pick({ name, value, options, pick }: PickProps) {
  return (
    <label className="flex items-center gap-1 text-dim">
      {name}
      <select
        aria-label={name}
        value={value}
        onChange={(event) => pick(event.target.value)}
        className="max-w-[200px] rounded border border-edge bg-plate px-1 py-0.5 text-ink"
      >
        {options.map((option) => (
          <option key={option} value={option}>
            {option}
          </option>
        ))}
      </select>
    </label>
  );
}
