import { useQuery } from "@tanstack/react-query";
import { type Application, api } from "../api/client";
import { rules } from "../bench/order";
import type { BenchState } from "../bench/useBench";
import { goTo, useAddress } from "../frame/address";
import { EditionStrip } from "./EditionStrip";

const EXPOSURES = ["slight", "moderate", "serious", "severe"];

/** The catalogue: what an application is, what it needs, and which rules name it. */
export function CataloguePage({ bench }: { bench: BenchState }) {
  const address = useAddress();
  const catalogue = useQuery({ queryKey: ["catalogue"], queryFn: api.catalogue, staleTime: 60_000 });
  const find = address.find ?? "";
  const wanted = find.toLowerCase();
  const all = catalogue.data?.applications ?? [];
  const shown = all.filter((application) =>
    [
      application.name,
      application.category,
      application.family,
      application.provider,
      application.description,
      ...application.features,
    ]
      .join("\n")
      .toLowerCase()
      .includes(wanted),
  );
  const open = all.find((application) => application.name === address.rule);
  const categories = [...new Set(shown.map((application) => application.category))];
  return (
    <div className="sides flex min-h-0 flex-1">
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="flex items-center gap-3 border-edge border-b bg-plate p-2">
          <input
            aria-label="Find an application"
            placeholder="find by name, category, family, feature or what it does"
            value={find}
            onChange={(event) => goTo({ find: event.target.value || undefined })}
            className="w-[420px] min-w-0 rounded border border-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
          />
          <span className="text-dim">
            {shown.length} of {all.length} applications · edition {catalogue.data?.edition}
          </span>
        </div>
        <EditionStrip bench={bench} />
        <div className="min-h-0 flex-1 overflow-auto p-3">
          {catalogue.isSuccess && shown.length === 0 && (
            <p className="text-dim">Nothing in this edition fits “{find}”.</p>
          )}
          {categories.map((category) => (
            <section key={category} className="mb-3">
              <h2 className="mb-1 font-semibold text-dim text-xs">{category}</h2>
              <ul className="grid grid-cols-[repeat(auto-fill,minmax(190px,1fr))] gap-1">
                {shown
                  .filter((application) => application.category === category)
                  .map((application) => (
                    <li key={application.name}>
                      <button
                        type="button"
                        aria-current={open === application}
                        onClick={() => goTo({ rule: application.name })}
                        className={`w-full rounded border px-2 py-1 text-left ${open === application ? "border-rust bg-rust-wash" : "border-edge bg-plate"}`}
                      >
                        <span className="flex items-center justify-between gap-1">
                          <b className="truncate">{application.name}</b>
                          <Exposure level={application.exposure} />
                        </span>
                        <span className="block truncate text-dim text-xs">{application.description}</span>
                      </button>
                    </li>
                  ))}
              </ul>
            </section>
          ))}
        </div>
      </div>
      {open && <ApplicationLens application={open} all={all} bench={bench} />}
    </div>
  );
}

/** Exposure as a rod with one to four notches. */
function Exposure({ level }: { level: string }) {
  const notches = EXPOSURES.indexOf(level) + 1;
  return (
    <span
      className="flex shrink-0 items-center gap-px"
      role="img"
      aria-label={`exposure ${level}`}
      title={`exposure ${level}`}
    >
      {EXPOSURES.map((name, index) => (
        <span key={name} className={`h-2.5 w-1 border border-dim ${index < notches ? "bg-dim" : ""}`} />
      ))}
    </span>
  );
}

function ApplicationLens({
  application,
  all,
  bench,
}: {
  application: Application;
  all: Application[];
  bench: BenchState;
}) {
  const rulesNaming = bench.rulebase
    ? rules(bench.rulebase).filter((rule) => names(rule.fields["using.applications"]?.values, application))
    : [];
  const setsNaming = (bench.rulebase?.sets ?? []).filter(
    (set) => set.kind === "application" && names(set.values, application),
  );
  const neededBy = all.filter((other) => other.needs.includes(application.name));
  const facts: [string, string][] = [
    ["category", application.category],
    ["family", application.family || "none"],
    ["provider", application.provider],
    ["exposure", application.exposure],
    ["work value", application.workValue],
    ["usual ports", application.usualPorts.join(", ") || "any"],
    ["rides on", application.ridesOn.join(", ") || "nothing"],
    ["needs", application.needs.join(", ") || "nothing else"],
    ["needed by", neededBy.map((other) => other.name).join(", ") || "nothing"],
    ["features", application.features.join(", ") || "none told apart"],
  ];
  return (
    <aside
      aria-label={application.name}
      className="side w-[340px] shrink-0 overflow-auto border-edge border-l bg-plate p-3"
    >
      <h2 className="font-semibold">{application.name}</h2>
      <p className="mb-2">{application.description}</p>
      <dl className="grid grid-cols-[90px_1fr] gap-y-1">
        {facts.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-dim">{name}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      <button
        type="button"
        className="press mt-2"
        onClick={() =>
          goTo({
            page: "rulebase",
            rule: undefined,
            find: undefined,
            probe: `from Offices to Internet using ${application.name}`,
          })
        }
      >
        Drop a probe that uses it
      </button>
      <h3 className="mt-3 font-semibold text-dim text-xs">Rules that name it, or its family or category</h3>
      {rulesNaming.length === 0 && <p className="text-dim">None directly.</p>}
      {rulesNaming.map((rule) => (
        <p key={rule.id}>
          <button
            type="button"
            className="text-left underline decoration-edge"
            onClick={() => goTo({ page: "rulebase", rule: rule.id, find: undefined })}
          >
            rule {rule.number} {rule.name}
          </button>{" "}
          <span className="text-dim">{rule.verdict}</span>
        </p>
      ))}
      {setsNaming.map((set) => (
        <p key={set.name}>
          <button
            type="button"
            className="text-left underline decoration-edge"
            onClick={() => goTo({ page: "sets", rule: undefined, find: set.name })}
          >
            set {set.name}
          </button>
        </p>
      ))}
    </aside>
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
