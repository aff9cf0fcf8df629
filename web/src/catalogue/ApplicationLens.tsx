import { useQuery } from "@tanstack/react-query";
import { type Application, api, type ReachCell } from "../api/client";
import { goTo } from "../base/address";
import { PendingAnswer } from "../base/PendingAnswer";
import { Figure, Hole, stopped, told } from "../reach/Hole";
import type { Between } from "../reach/useBetween";
import { percent, rules } from "../rules/order";
import { Plate } from "../rules/Plate";
import { useOpenRulebase } from "../session/contexts";
import { Standing } from "./ExposureMap";

type Props = {
  application: Application;
  all: Application[];
  standing: Map<string, ReachCell>;
  between: Between;
  /** Changes it, where it is the organisation's own. */
  change?: () => void;
};

/** Everything about one application: what it is, what it takes to work, who can use it now and by which rule. */
export function ApplicationLens({ application, all, standing, between, change }: Props) {
  const facts: [string, string][] = [
    ["category", application.category],
    ["family", application.family || "none"],
    ["provider", application.provider],
    ["exposure", application.exposure],
    ["work value", application.workValue],
    ["usual ports", application.usualPorts.join(", ") || "any"],
  ];
  return (
    <aside
      aria-label={application.name}
      className="side w-[380px] shrink-0 overflow-auto border-edge border-l bg-plate p-3"
    >
      <h2 className="flex items-center gap-2 font-semibold">
        {application.name}
        {change && (
          <button type="button" className="press ml-auto font-normal text-xs" onClick={change}>
            Change
          </button>
        )}
      </h2>
      {application.own && <p className="text-dim text-xs">Your own, beside those of the edition.</p>}
      <p className="mb-2">{application.description}</p>
      <dl className="grid grid-cols-[80px_1fr_80px_1fr] gap-x-2 gap-y-0.5 text-xs">
        {facts.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-dim">{name}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      <Wiring {...{ application, between, all, standing }} />
      <Title>How it is recognised</Title>
      {application.signatures.length === 0 ? (
        <p className="text-dim text-xs">It has no signature: no capture tells it.</p>
      ) : (
        <ul className="font-mono text-xs">
          {application.signatures.map((signature) => (
            <li key={signature} className="break-words">
              {signature}
            </li>
          ))}
        </ul>
      )}
      <Users application={application} between={between} />
      <Naming application={application} />
      <button
        type="button"
        className="press mt-2 text-xs"
        onClick={() =>
          goTo({
            page: "rulebase",
            rule: undefined,
            find: undefined,
            probe: `from ${between.from || "Offices"} to ${between.to || "Internet"} using ${application.name}`,
          })
        }
      >
        Run a probe that uses it
      </button>
    </aside>
  );
}

function Title({ children }: { children: string }) {
  return <h3 className="mt-3 mb-1 font-semibold text-dim text-xs">{children}</h3>;
}

type WiringProps = Pick<Props, "application" | "between" | "all" | "standing">;

/** What asks for it above, what it asks for below: a picture of what must be let through together. */
function Wiring({ application, between, all, standing }: WiringProps) {
  const neededBy = all.filter((other) => other.needs.includes(application.name)).map((other) => other.name);
  const known = new Set(all.map((other) => other.name));
  const row = (label: string, names: string[], none: string) => (
    <div className="grid grid-cols-[64px_minmax(0,1fr)] gap-2 py-0.5">
      <span className="pt-0.5 text-dim text-xs">{label}</span>
      <span className="flex flex-wrap gap-1">
        {names.length === 0 && <span className="pt-0.5 text-faint text-xs">{none}</span>}
        {names.slice(0, 12).map((name) => (
          <button
            key={name}
            type="button"
            disabled={!known.has(name)}
            onClick={() => goTo({ rule: name })}
            className="press flex items-center gap-1 text-xs"
          >
            <Standing cell={standing.get(name)} size={13} />
            {name}
          </button>
        ))}
        {names.length > 12 && <span className="pt-0.5 text-dim text-xs">and {names.length - 12} more</span>}
      </span>
    </div>
  );
  return (
    <section aria-label="Dependencies">
      <Title>Dependencies</Title>
      {row("needed by", neededBy, "nothing")}
      <div className="my-0.5 ml-[72px] border-rust border-l-2 pl-2">
        <b className="flex items-center gap-1.5 font-medium">
          <Standing cell={standing.get(application.name)} />
          {application.name}
        </b>
        <span className="text-dim text-xs">
          {application.features.length > 0 ? application.features.join(" · ") : "no features told apart"}
        </span>
      </div>
      {application.features.length > 0 && <Sight {...{ application, between }} />}
      {row("needs", application.needs, "nothing else")}
      {row("rides on", application.ridesOn, "nothing: it stands on its own ports")}
    </section>
  );
}

/** Whether a rule about its features would ever match there: where content stays encrypted, none is seen. */
function Sight({ application, between: { from, to } }: UsersProps) {
  const openRulebase = useOpenRulebase();
  const sight = useQuery({
    queryKey: ["sight", openRulebase.id, openRulebase.state, application.name, from, to],
    queryFn: () => api.sight(openRulebase.id, application.name, from, to),
  });
  if (!sight.data) return null;
  const where = `from ${from || "anywhere"} to ${to || "anywhere"}`;
  const { seen, share } = sight.data;
  return (
    <p className="my-0.5 ml-[72px] pl-2 text-xs" role="note" aria-label="Whether its features are seen">
      {seen === "always" && `Its features are seen ${where}.`}
      {seen === "partly" &&
        `Its features are seen in ${percent(share)} % ${where}; elsewhere it stays encrypted.`}
      {seen === "never" &&
        `Its features are not seen ${where}: it stays encrypted, and a rule about one never matches.`}{" "}
      {seen !== "always" && (
        <button type="button" className="underline" onClick={() => goTo({ page: "shared" })}>
          What is decrypted
        </button>
      )}
    </p>
  );
}

type UsersProps = Pick<Props, "application" | "between">;

/** Who can use it: the groups for which the same rules decide stand together. */
function Users({ application, between }: UsersProps) {
  const openRulebase = useOpenRulebase();
  const people = useQuery({
    queryKey: ["choices", openRulebase.id, "person", "group"],
    queryFn: () => api.choices(openRulebase.id, "person", "group "),
  });
  const asked = [
    ...(people.data ?? []).filter((choice) => choice.kind === "group").map((choice) => choice.value),
    "unidentified",
  ];
  const { from, to } = between;
  const reach = useQuery({
    queryKey: ["reach", openRulebase.id, openRulebase.state, application.name, asked, from, to],
    queryFn: () => api.reach(openRulebase.id, asked, [application.name], from ? [from] : [], to ? [to] : []),
    enabled: people.data !== undefined,
  });
  const title = `Who can use it from ${from || "anywhere"} to ${to || "anywhere"}`;
  if (!reach.data)
    return (
      <section aria-label={title}>
        <Title>{title}</Title>
        <PendingAnswer query={people.error ? people : reach} what="who can use it" />
      </section>
    );
  const alike = new Map<string, { people: string[]; cell: ReachCell }>();
  reach.data.people.forEach((person, i) => {
    const cell = reach.data.rows[i][0];
    const key = `${told(cell)} ${cell.deciders.map((decider) => decider.rule).join(" ")}`;
    const known = alike.get(key) ?? { people: [], cell };
    known.people.push(person.replace("group ", ""));
    alike.set(key, known);
  });
  return (
    <section aria-label={title}>
      <Title>{title}</Title>
      {[...alike.values()].map(({ people, cell }) => (
        <div key={people[0]} className="mb-1 rounded border border-edge px-2 py-1">
          <p className="flex items-start gap-1.5 text-xs">
            <Hole standing={cell.standing} stopped={stopped(cell)} />
            <Figure cell={cell} />
            <span className="min-w-0">
              <b className="font-medium" title={people.join(", ")}>
                {people.slice(0, 4).join(", ")}
                {people.length > 4 && ` and ${people.length - 4} more groups`}
              </b>
              {cell.deciders.length === 0 && <span className="text-dim"> – nobody is in it</span>}
              {cell.dependsOn.length > 0 && (
                <span className="text-dim"> – it depends on {cell.dependsOn.join(", ")}</span>
              )}
            </span>
          </p>
          {cell.deciders.slice(0, 3).map((decider) => (
            <p key={decider.rule + decider.outcome} className="flex items-center gap-2 pl-5 text-xs">
              <Plate verdict={decider.verdict} />
              <button
                type="button"
                className="truncate text-left underline decoration-edge"
                onClick={() => goTo({ page: "rulebase", rule: decider.rule || undefined, find: undefined })}
              >
                {openRulebase.named(decider.rule)}
              </button>
              <button
                type="button"
                className="ml-auto shrink-0 text-rust underline"
                aria-label={`try it: ${decider.probe}`}
                onClick={() =>
                  goTo({ page: "rulebase", rule: undefined, find: undefined, probe: decider.probe })
                }
              >
                try it
              </button>
            </p>
          ))}
        </div>
      ))}
    </section>
  );
}

/** The rules and sets that name it, or its family or category. */
function Naming({ application }: Pick<Props, "application">) {
  const openRulebase = useOpenRulebase();
  const rulesNaming = openRulebase.rulebase
    ? rules(openRulebase.rulebase).filter((rule) =>
        names(rule.fields["using.applications"]?.values, application),
      )
    : [];
  const setsNaming = (openRulebase.rulebase?.sets ?? []).filter(
    (set) => set.kind === "application" && names(set.values, application),
  );
  return (
    <section aria-label="Where it is named">
      <Title>Rules and sets that name it, its family or its category</Title>
      {rulesNaming.length + setsNaming.length === 0 && <p className="text-dim text-xs">None.</p>}
      {rulesNaming.map((rule) => (
        <p key={rule.id} className="text-xs">
          <button
            type="button"
            className="text-left underline decoration-edge"
            onClick={() => goTo({ page: "rulebase", rule: rule.id, find: undefined })}
          >
            {openRulebase.named(rule.id)}
          </button>{" "}
          <span className="text-dim">{rule.verdict}</span>
        </p>
      ))}
      {setsNaming.map((set) => (
        <p key={set.name} className="text-xs">
          <button
            type="button"
            className="text-left underline decoration-edge"
            onClick={() => goTo({ page: "sets", rule: undefined, find: set.name })}
          >
            set {set.name}
          </button>
        </p>
      ))}
    </section>
  );
}

function names(values: string[] | undefined, application: Application): boolean {
  return (values ?? []).some(
    (value) =>
      value === application.name ||
      value.startsWith(`${application.name}/`) ||
      value === `family ${application.family}` ||
      value === `category ${application.category}`,
  );
}
