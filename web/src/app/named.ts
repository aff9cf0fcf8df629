import type { Catalogue, Choice, PromiseCheck, Rulebase } from "../api/client";
import { type Address, NOTHING_ASKED } from "../base/address";
import { PAGES, WORKSPACE_PAGES } from "../base/pages";
import { rules } from "../rules/order";

/** Something that has a name, and where it is looked at. */
export type Named = { kind: string; name: string; where: Partial<Address> };

/** What a text may mean, what begins with it first; of each kind in the order it has elsewhere. */
export function named(
  { rulebase, promises }: { rulebase?: Rulebase; promises?: PromiseCheck[] },
  catalogue: Catalogue | undefined,
  people: Choice[],
  text: string,
): Named[] {
  const wanted = text.toLowerCase().trim();
  const fits = (one: Named) => `${one.kind} ${one.name}`.toLowerCase().includes(wanted);
  const begins = (one: Named) =>
    `${one.kind} ${one.name}`.toLowerCase().startsWith(wanted) || one.name.toLowerCase().startsWith(wanted);
  const found = [
    ...[...PAGES, ...WORKSPACE_PAGES].map(([page, label]) => at("go to", label, { page })),
    ...(rulebase ? ofRulebase(rulebase) : []),
    ...(promises ?? []).map(({ name }) => at("promise", name, { page: "promises" })),
    ...(wanted
      ? (catalogue?.applications ?? []).map(({ name }) =>
          at("application", name, { page: "catalogue", rule: name }),
        )
      : []),
  ].filter(fits);
  // Who is meant the server has already found out, also by what else is known of somebody.
  const whom = people.map(({ kind, value }) => at(kind, value, { page: "reach", who: value }));
  const first = found.filter(begins);
  // An address or a network has no name, but there are rules that can match it.
  const addressed = /^[0-9a-f]*[.:][0-9a-f.:]*(\/\d+)?$/i.test(wanted)
    ? [at("rules that can match", wanted, { page: "rulebase", find: `match:${wanted}` })]
    : [];
  return [...addressed, ...first, ...whom, ...found.filter((one) => !begins(one))];
}

function ofRulebase(rulebase: Rulebase): Named[] {
  const { sheets, notices, lanes } = rulebase.parts;
  return [
    ...rulebase.chapters.map(({ id, title }) =>
      at("chapter", title, { page: "rulebase", rule: `chapter ${id}` }),
    ),
    ...rules(rulebase).map(({ id, number, name }) =>
      at(`rule ${number}`, name, { page: "rulebase", rule: id }),
    ),
    ...rules(rulebase)
      .filter(({ metadata }) => metadata?.changes)
      .map(({ id, number, name, metadata }) =>
        at("change", `${metadata?.changes} · rule ${number} ${name}`, { page: "rulebase", rule: id }),
      ),
    ...rulebase.sets.map(({ kind, name }) => at(`${kind} set`, name, { page: "sets", find: name })),
    ...sheets.map(({ name }) => at("sheet", name, { page: "shared" })),
    ...notices.map(({ name }) => at("notice", name, { page: "shared" })),
    ...lanes.map(({ name }) => at("lane", name, { page: "shared" })),
  ];
}

function at(kind: string, name: string | undefined, where: Partial<Address>): Named {
  return { kind, name: name ?? "", where: { ...NOTHING_ASKED, ...where } };
}
