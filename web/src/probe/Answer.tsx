import { useEffect } from "react";
import { api, type Fall, type RulePatch } from "../api/client";
import { goTo, useAddressPart } from "../base/address";
import { useStableCallback } from "../base/useStableCallback";
import type { Place } from "../rules/order";
import { letsThrough } from "../rules/verdict";
import { useEditing, useOpenRulebase } from "../session/contexts";
import { select } from "../session/selection";

/** How the address says that a rule is to be drafted from what is probed; anything else is the rule itself. */
export const DRAFT_FROM_PROBE = "probe";

type Props = {
  fall: Fall;
  write: (patch: RulePatch, place?: Place) => void;
};

/** Which rule caught a probe, why, and which rules below come too late; and what one does next with that. */
export function Answer({ fall, write }: Props) {
  const openRulebase = useOpenRulebase();
  const edits = useEditing();
  const { named } = openRulebase;
  const opposite = letsThrough(fall.verdict) ? "deny" : "allow";
  const draft = (sentence = ruleSentence(fall.parts, opposite)) =>
    api.sentence(openRulebase.id, sentence).then(
      // Above the rule that catches it now; anywhere else it would come too late.
      (patch) => write(patch, fall.caughtBy ? { before: fall.caughtBy } : undefined),
      (error) => edits.say(error.message),
    );
  // Who came here to write a rule from this connection need not ask for it again.
  const wanted = useAddressPart("draft");
  const asked = useStableCallback(draft);
  useEffect(() => {
    if (!wanted) return;
    goTo({ draft: undefined });
    asked(wanted === DRAFT_FROM_PROBE ? undefined : wanted);
  }, [wanted, asked]);
  const copy = () =>
    navigator.clipboard.writeText(inWords(fall, named)).then(
      () => edits.say("copied the answer"),
      (error) => edits.say(`The answer was not copied: ${error.message}`),
    );
  return (
    <div className="mt-1 flex flex-wrap items-center gap-x-3 gap-y-0.5 pl-16 text-xs">
      <p role="note" aria-label="Why">
        {reason(fall, named)}
      </p>
      {fall.below.length > 0 && (
        <p role="note" aria-label="Too late" className="text-dim">
          Below, {also(fall)}:{" "}
          {fall.below.slice(0, SHOWN).map((one, index) => (
            <span key={one.rule}>
              {index > 0 && ", "}
              <button type="button" className="underline" onClick={() => select(one.rule)}>
                {named(one.rule)}
              </button>{" "}
              ({one.outcome})
            </span>
          ))}
          {more(fall) > 0 && ` and ${more(fall)} more`}
        </p>
      )}
      <span className="flex gap-1">
        <button type="button" className="press text-xs" onClick={() => draft()}>
          Write a rule from this
        </button>
        <button type="button" className="press text-xs" onClick={copy}>
          Copy the answer
        </button>
      </span>
    </div>
  );
}

const SHOWN = 3;

const more = (fall: Fall) => fall.below.length - Math.min(SHOWN, fall.below.length) + fall.belowMore;

const also = (fall: Fall) => {
  const count = fall.below.length + fall.belowMore;
  return count === 1 ? "1 rule matches too" : `${count} rules match too`;
};

/** Which rule catches it, and what of the rule holds it. */
export function reason(fall: Fall, named: (rule: string) => string): string {
  if (!fall.caughtBy) return `No rule matches; the default verdict is ${fall.outcome}.`;
  const why = fall.matches.map((match) => `${match.label} ${match.had}`).join(", ");
  const rule = named(fall.caughtBy);
  return `${rule[0].toUpperCase()}${rule.slice(1)} catches it (${fall.outcome})${why && `: ${why}`}.`;
}

/**
 * A rule about what was said of a probe, in the words of a rule: what was filled in it leaves open, and it holds at any
 * time. What is seen over a carrier is named by itself.
 */
export function ruleSentence(parts: Fall["parts"], verdict: string): string {
  const said = new Map(parts.filter((part) => !part.filledIn).map((part) => [part.detail, part.value]));
  const words = (lead: string, ...details: string[]) => {
    const values = details.map((detail) => said.get(detail)).filter((value) => value && !NOBODY.has(value));
    return values.length > 0 ? ` ${lead} ${values.join(" ")}` : "";
  };
  const application = said.get("application")?.replace(/ over .*$/, "");
  if (application) said.set("application", application).delete("service");
  const site = said.get("site");
  if (site && !NOBODY.has(site)) said.delete("to address");
  return (
    verdict +
    words("from", "from zone", "from address") +
    words("as", "person") +
    words("on", "device") +
    words("to", "to zone", "to address", "site") +
    words("using", "application", "service")
  );
}

/** What a probe says where there is nothing to name. */
const NOBODY = new Set(["unidentified", "unknown", "no host name"]);

/** The whole answer as text, for a ticket or a letter. */
export function inWords(fall: Fall, named: (rule: string) => string): string {
  const lines = [fall.text, `→ ${fall.outcome}. ${reason(fall, named)}`];
  for (const { rule, misses } of fall.passed)
    lines.push(`passed ${named(rule)}: ${misses[0]?.label} is ${misses[0]?.had}, not ${misses[0]?.wanted}`);
  for (const { rule, outcome } of fall.below) lines.push(`too late: ${named(rule)} (${outcome})`);
  if (fall.belowMore > 0) lines.push(`too late: ${fall.belowMore} more`);
  return lines.join("\n");
}
