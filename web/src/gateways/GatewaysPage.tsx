import { useState } from "react";
import { api, type Card, type Workspace } from "../api/client";
import { goTo, useAddress } from "../base/address";
import { Link } from "../base/Link";
import { useOpenRulebase } from "../session/contexts";
import { ChangeBar } from "../workspace/ChangeBar";
import { useWorkspace, useWorkspaceChange } from "../workspace/useWorkspace";
import { AsText } from "./AsText";
import { NewRulebase } from "./NewRulebase";

const FORMATS: [string, string][] = [
  ["rules", "text"],
  ["json", "JSON"],
  ["csv", "CSV"],
  ["acl", "RFC 8519"],
];

/** The gateways of the organisation, each with its rulebase: opened, copied, renamed, retired, and new ones made. */
export function GatewaysPage() {
  const openRulebase = useOpenRulebase();
  const workspace = useWorkspace(openRulebase.who);
  const change = useWorkspaceChange(openRulebase.who);
  const address = useAddress();
  const find = address.find ?? "";
  const [asText, setAsText] = useState<string>();
  if (!workspace.data) return <p className="p-6 text-dim">Looking which gateways there are …</p>;
  const all = workspace.data.rulebases;
  const wanted = find.toLowerCase();
  const fits = (card: Card) => card.name.toLowerCase().includes(wanted) || card.id.includes(wanted);
  const shown = (standing: string) => all.filter((card) => card.standing === standing && fits(card));
  const written = all.find((card) => card.id === asText && card.standing === "active");
  const list = (title: string, standing: string) => {
    const some = shown(standing);
    if (some.length === 0) return null;
    return (
      <section aria-label={title}>
        <h2 className="border-edge border-b bg-ground px-3 py-1 font-semibold text-dim text-xs">
          {title} · {some.length}
        </h2>
        <ul>
          {some.map((card) => (
            <CardRow
              key={card.id}
              card={card}
              open={card.id === (asText ?? openRulebase.id)}
              who={openRulebase.who}
              change={change}
              asText={() => setAsText(card.id)}
            />
          ))}
        </ul>
      </section>
    );
  };
  return (
    <>
      <div className="sides flex min-h-0 flex-1">
        <div className="side flex w-[520px] shrink-0 flex-col border-edge border-r bg-plate">
          <div className="border-edge border-b p-2">
            <p className="mb-1.5">
              <b>{workspace.data.organisation || "Your organisation"}</b>{" "}
              <span className="text-dim">{glance(workspace.data)}</span>{" "}
              <a href="/api/workspace/archive" download className="whitespace-nowrap text-rust underline">
                Save everything as an archive
              </a>{" "}
              <a
                href="/api/workspace/archive?history=true"
                download
                className="whitespace-nowrap text-rust underline"
              >
                with its history
              </a>
            </p>
            <input
              aria-label="Find a gateway"
              placeholder={`find among ${all.length} by name`}
              value={find}
              onChange={(event) => goTo({ find: event.target.value || undefined })}
              className="w-full rounded border border-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
            />
          </div>
          <div className="min-h-0 flex-1 overflow-auto">
            {all.length === 0 && <NextStep workspace={workspace.data} />}
            {list("In use", "active")}
            {list("Retired: shown and not edited", "archived")}
            {list("Removed: can be brought back", "removed")}
          </div>
        </div>
        {written ? (
          <AsText
            key={written.id}
            who={openRulebase.who}
            card={written}
            change={change}
            close={() => setAsText(undefined)}
          />
        ) : (
          <NewRulebase
            who={openRulebase.who}
            cards={shown("active")}
            version={workspace.data?.version ?? 0}
            change={change}
          />
        )}
      </div>
      <ChangeBar workspace={workspace} change={change} />
    </>
  );
}

/** How much there is of what rulebases are read against. */
function glance({ zones, people, groups, applications, edition }: Workspace): string {
  return [
    `${zones} zones`,
    `${people.toLocaleString("en")} people in ${groups.toLocaleString("en")} groups`,
    applications > 0 && `${applications} own applications`,
    edition > 0 ? `catalogue edition ${edition}` : "no catalogue",
  ]
    .filter(Boolean)
    .join(" · ");
}

/** What somebody with nothing yet does first. */
function NextStep({ workspace }: { workspace: Workspace }) {
  return (
    <p className="p-4">
      There is no rulebase yet.{" "}
      {workspace.zones === 0 ? (
        <>
          Say first what lies around the gateway:{" "}
          <Link to={{ page: "zones" }} className="text-rust underline">
            make the zones
          </Link>
          . Then make a rulebase here.
        </>
      ) : (
        "Make one on the right: empty, or from a file you have."
      )}
    </p>
  );
}

type RowProps = {
  card: Card;
  open: boolean;
  asText: () => void;
  who: string;
  change: ReturnType<typeof useWorkspaceChange>;
};

function CardRow({ card, open, who, change, asText }: RowProps) {
  const [name, setName] = useState<string>();
  const stand = (standing: string, what: string) =>
    change.tried(`${what} ${card.name}`, () => api.standing(who, card.id, { standing }));
  const rename = () =>
    change
      .tried(`renamed ${card.name} to ${name}`, () => api.standing(who, card.id, { name: name?.trim() }))
      .then((done) => done && setName(undefined));
  return (
    <li className={`border-edge border-b px-3 py-1.5 ${open ? "bg-rust-wash" : ""}`}>
      <div className="flex items-baseline gap-2">
        {name === undefined ? (
          card.standing === "removed" ? (
            <b>{card.name}</b>
          ) : (
            <Link
              to={{ page: "rulebase", base: card.id, rule: undefined, probe: undefined, find: undefined }}
              className="font-semibold underline decoration-edge"
            >
              {card.name}
            </Link>
          )
        ) : (
          <form
            className="flex gap-1"
            onSubmit={(event) => {
              event.preventDefault();
              rename();
            }}
          >
            <input
              aria-label={`New name of ${card.name}`}
              value={name}
              maxLength={200}
              onChange={(event) => setName(event.target.value)}
              className="rounded border border-edge bg-paper px-1.5"
            />
            <button type="submit" className="press press-main text-xs" disabled={!name.trim()}>
              Rename
            </button>
            <button type="button" className="press text-xs" onClick={() => setName(undefined)}>
              Cancel
            </button>
          </form>
        )}
        <span className="ml-auto text-dim text-xs">
          {card.rules.toLocaleString("en")} rules · revision {card.revision}
        </span>
      </div>
      <div className="mt-1 flex flex-wrap items-center gap-1.5 text-xs">
        {card.standing === "active" ? (
          <>
            <button type="button" className="press" onClick={() => setName(card.name)}>
              Rename
            </button>
            <button type="button" className="press" onClick={asText}>
              As text
            </button>
            <button type="button" className="press" onClick={() => stand("archived", "retired")}>
              Retire
            </button>
            <button type="button" className="press" onClick={() => stand("removed", "removed")}>
              Remove
            </button>
          </>
        ) : (
          <button type="button" className="press" onClick={() => stand("active", "brought back")}>
            Bring back
          </button>
        )}
        {card.standing !== "removed" && (
          <span className="ml-auto text-dim">
            Save as{" "}
            {FORMATS.map(([format, label]) => (
              <a
                key={format}
                className="ml-1 underline decoration-edge"
                download={`${card.id}.${format === "acl" ? "acl.json" : format}`}
                href={`/api/rulebases/${encodeURIComponent(card.id)}/file?format=${format}${format === "csv" ? "&mark=true" : ""}`}
                aria-label={`Save ${card.name} as ${label}`}
              >
                {label}
              </a>
            ))}
          </span>
        )}
      </div>
    </li>
  );
}
