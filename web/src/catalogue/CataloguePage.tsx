import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Application, api } from "../api/client";
import { goTo, useAddress } from "../base/address";
import { useBetween } from "../reach/useBetween";
import { ZoneChoice } from "../reach/ZoneChoice";
import { type OpenRulebase, useOpenRulebase } from "../session/contexts";
import { ApplicationLens } from "./ApplicationLens";
import { EditionStrip } from "./EditionStrip";
import { Exposure } from "./Exposure";
import { ExposureMap, type Field, passes, Standing } from "./ExposureMap";
import { Fits } from "./Fits";
import { OwnApplication } from "./OwnApplication";
import { useStanding } from "./useStanding";

/** Questions one asks of a catalogue, besides words. */
const QUESTIONS = [
  "every application",
  "only those let through",
  "only those stopped",
  "only those no rule names",
];

/** The catalogue: which applications there are, how they stand in the rulebase, and everything about one of them. */
export function CataloguePage() {
  const openRulebase = useOpenRulebase();
  const address = useAddress();
  const catalogue = useQuery({ queryKey: ["catalogue"], queryFn: api.catalogue, staleTime: 60_000 });
  const between = useBetween();
  const standing = useStanding(between);
  const [field, setField] = useState<Field>();
  /** Whether an application of one's own is being written: a new one, or the one that is open. */
  const [writing, setWriting] = useState<"new" | "open">();
  const question = address.what ?? QUESTIONS[0];
  const find = address.find ?? "";
  const all = catalogue.data?.applications ?? [];
  const named = namedSomewhere(openRulebase);
  const fits = (application: Application) =>
    words(application).includes(find.toLowerCase()) && answers(application);
  const answers = (application: Application) => {
    const cell = standing.get(application.name);
    if (question === QUESTIONS[1]) return passes(cell);
    if (question === QUESTIONS[2]) return cell !== undefined && !passes(cell);
    if (question === QUESTIONS[3])
      return ![application.name, `family ${application.family}`, `category ${application.category}`].some(
        (name) => named.has(name),
      );
    return true;
  };
  const found = all.filter(fits);
  const shown = found.filter(
    (a) => !field || (a.exposure === field.exposure && a.workValue === field.workValue),
  );
  const open = all.find((application) => application.name === address.rule);
  const categories = [...new Set(shown.map((application) => application.category))];
  const choose = (name?: string) => {
    setWriting(undefined);
    goTo({ rule: name });
  };
  return (
    <div className="sides flex min-h-0 flex-1">
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="flex flex-wrap items-center gap-2 border-edge border-b bg-plate p-2">
          <input
            aria-label="Find an application"
            placeholder="find by name, category or feature, or by a host name, address or path"
            value={find}
            onChange={(event) => goTo({ find: event.target.value || undefined })}
            className="w-80 min-w-0 rounded border border-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
          />
          <select
            aria-label="Which applications"
            value={question}
            onChange={({ target }) =>
              goTo({ what: target.value === QUESTIONS[0] ? undefined : target.value })
            }
            className="rounded border border-edge bg-plate px-1 py-0.5"
          >
            {QUESTIONS.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
          <ZoneChoice rulebase={openRulebase.id} label="from" value={between.from} set={between.setFrom} />
          <ZoneChoice rulebase={openRulebase.id} label="to" value={between.to} set={between.setTo} />
          <button type="button" className="press ml-auto" onClick={() => setWriting("new")}>
            New application
          </button>
        </div>
        <EditionStrip />
        <Fits text={find} open={choose} />
        <div className="min-h-0 flex-1 overflow-auto p-3">
          <ExposureMap
            shown={found}
            standing={standing}
            open={open}
            choose={choose}
            field={field}
            setField={setField}
          />
          <p className="my-2 text-dim text-xs" role="status" aria-label="What is shown">
            {shown.length} of {all.length} applications of edition {catalogue.data?.edition}
            {field && `, those of ${field.exposure} exposure and ${word(field.workValue)} work value`}. An
            open hole is let through for anybody identified, a filled one stopped; where it depends, it is
            filled as far as it is stopped.
          </p>
          {catalogue.isSuccess && shown.length === 0 && (
            <p className="text-dim">Nothing in this edition fits{find && ` “${find}”`}.</p>
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
                        onClick={() => choose(application.name)}
                        className={`w-full rounded border px-2 py-1 text-left ${open === application ? "border-rust bg-rust-wash" : "border-edge bg-plate"}`}
                      >
                        <span className="flex items-center gap-1">
                          <Standing cell={standing.get(application.name)} />
                          <b className="min-w-0 flex-1 truncate">{application.name}</b>
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
      {(writing === "new" || (writing === "open" && open)) && (
        <OwnApplication
          key={writing === "new" ? " new" : open?.name}
          who={openRulebase.who}
          application={writing === "open" ? open : undefined}
          all={all}
          done={choose}
        />
      )}
      {open && !writing && (
        <ApplicationLens
          change={open.own ? () => setWriting("open") : undefined}
          application={open}
          all={all}
          standing={standing}
          between={between}
        />
      )}
    </div>
  );
}

function word(workValue: string): string {
  return workValue === "none" ? "no" : workValue;
}

function words(a: Application): string {
  return [a.name, a.category, a.family, a.provider, a.description, ...a.features].join("\n").toLowerCase();
}

/** What rules and sets name as applications; a feature names its application. */
function namedSomewhere(openRulebase: OpenRulebase): Set<string> {
  const values = (openRulebase.rulebase?.chapters ?? [])
    .flatMap((chapter) => chapter.rules)
    .flatMap((rule) => rule.fields["using.applications"]?.values ?? []);
  const inSets = (openRulebase.rulebase?.sets ?? [])
    .filter((set) => set.kind === "application")
    .flatMap((set) => set.values);
  return new Set([...values, ...inSets].map((value) => value.split("/")[0]));
}
