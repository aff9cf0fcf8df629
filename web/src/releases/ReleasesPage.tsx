import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, type GatewayState, type Release } from "../api/client";
import { Fault } from "../base/Fault";
import { useOpenRulebase } from "../session/contexts";
import { useSend } from "../session/useSend";

/** So often a page asks while a gateway is on its way to a release, and while none is. */
const SOON = 700;
const SELDOM = 5_000;

const isOnItsWay = (gateway: GatewayState) => ["told", "fetched", "checked"].includes(gateway.state);

/** The releases of the rulebase, the newest first, and what its gateways have in force by their own word. */
export function ReleasesPage() {
  const { id, rulebase, who } = useOpenRulebase();
  const client = useQueryClient();
  const { fault, attempt } = useSend();
  const releases = useQuery({
    queryKey: ["releases", id],
    queryFn: () => api.releases(id),
    enabled: id !== "",
  });
  const gateways = useQuery({
    queryKey: ["gateways"],
    queryFn: api.gateways,
    refetchInterval: (query) => (query.state.data?.some(isOnItsWay) ? SOON : SELDOM),
  });
  const own = gateways.data?.filter((gateway) => gateway.rulebase === id) ?? [];
  const again = () => {
    client.invalidateQueries({ queryKey: ["releases"] });
    client.invalidateQueries({ queryKey: ["gateways"] });
  };
  const change = (work: Promise<unknown>) => attempt(work).finally(again);
  if (!rulebase || !releases.data) return <p className="p-4 text-dim">Looking what is released …</p>;
  const newest = releases.data[0];
  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <Make
        key={newest?.number ?? 0}
        revision={rulebase.revision}
        newest={newest}
        make={(title, reference, note) =>
          change(api.release(id, who, { revision: rulebase.revision, title, reference, note }))
        }
      />
      <div className="px-3">
        <Fault fault={fault} />
      </div>
      <Gateways gateways={own} newest={newest?.number ?? 0} base={id} change={change} />
      <section aria-labelledby="released" className="p-3">
        <h2 id="released" className="font-semibold">
          Releases
        </h2>
        {releases.data.length === 0 && (
          <p className="text-dim">Nothing is released yet: no gateway decides by this rulebase.</p>
        )}
        <ul>
          {releases.data.map((release) => (
            <ReleaseRow
              key={release.number}
              release={release}
              by={own.filter((gateway) => gateway.inForce === release.number).map((gateway) => gateway.name)}
              deliver={() => change(api.deliver(id, release.number))}
              isOlder={release.number < (newest?.number ?? 0)}
              hasGateways={own.length > 0}
            />
          ))}
        </ul>
      </section>
    </div>
  );
}

type MakeProps = {
  revision: number;
  newest?: Release;
  make: (title: string, reference: string, note: string) => Promise<unknown>;
};

/** What is released next, in a few words. */
function Make({ revision, newest, make }: MakeProps) {
  const [title, setTitle] = useState("");
  const [reference, setReference] = useState("");
  const [note, setNote] = useState("");
  const isNew = newest?.revision !== revision;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    make(title, reference, note);
  };
  return (
    <form
      onSubmit={submit}
      aria-label="A release"
      className="flex flex-wrap items-end gap-3 border-edge border-b bg-plate px-3 py-2"
    >
      <p className="w-full">
        {isNew ? (
          <>
            The draft is at revision <b>{revision}</b>
            {newest ? `; release ${newest.number} is of revision ${newest.revision}` : ""}.
          </>
        ) : (
          <>The draft is what release {newest.number} is made of.</>
        )}
      </p>
      <label className="flex flex-col text-dim text-xs">
        What it is for
        <input
          className="field w-72 text-ink"
          required
          maxLength={200}
          value={title}
          onChange={(event) => setTitle(event.target.value)}
        />
      </label>
      <label className="flex flex-col text-dim text-xs">
        Change reference
        <input
          className="field w-32 text-ink"
          value={reference}
          onChange={(event) => setReference(event.target.value)}
        />
      </label>
      <label className="flex flex-col text-dim text-xs">
        Note
        <input
          className="field w-64 text-ink"
          value={note}
          onChange={(event) => setNote(event.target.value)}
        />
      </label>
      <button type="submit" className="press" disabled={title.trim() === ""}>
        Release revision {revision}
      </button>
    </form>
  );
}

type GatewaysProps = {
  gateways: GatewayState[];
  newest: number;
  base: string;
  change: (work: Promise<unknown>) => Promise<unknown>;
};

/** The gateways that read the rulebase; what is in force is what each said last. */
function Gateways({ gateways, newest, base, change }: GatewaysProps) {
  const [name, setName] = useState("");
  const [code, setCode] = useState<{ of: string; code: string }>();
  const invite = (of: string) =>
    change(api.inviteGateway(of, base).then((answer) => setCode({ of, code: answer.code })));
  return (
    <section aria-labelledby="gateways" className="border-edge border-b p-3">
      <h2 id="gateways" className="font-semibold">
        Gateways
      </h2>
      {gateways.length === 0 && <p className="text-dim">No gateway reads this rulebase.</p>}
      <ul>
        {gateways.map((gateway) => (
          <li key={gateway.name} className="flex items-center gap-3 border-edge border-b py-1">
            <b className="w-40">{gateway.name}</b>
            <span className="w-44">
              {gateway.inForce ? `release ${gateway.inForce} is in force` : "nothing is in force"}
            </span>
            <span className={gateway.state === "failed" ? "text-rust" : "text-dim"}>
              {sentence(gateway, newest)}
            </span>
            <button type="button" className="press ml-auto" onClick={() => invite(gateway.name)}>
              Enrol anew
            </button>
            <button type="button" className="press" onClick={() => change(api.removeGateway(gateway.name))}>
              Remove
            </button>
          </li>
        ))}
      </ul>
      {code && (
        <p role="status" className="my-2">
          The code of {code.of}, which is shown once: <code>{code.code}</code>
        </p>
      )}
      <form
        aria-label="A gateway"
        className="mt-2 flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          invite(name.trim()).then(() => setName(""));
        }}
      >
        <label className="flex flex-col text-dim text-xs">
          Name of a gateway
          <input
            className="field w-40 text-ink"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <button type="submit" className="press" disabled={name.trim() === ""}>
          Add
        </button>
      </form>
    </section>
  );
}

/** How far a gateway is with what it was told. */
function sentence(gateway: GatewayState, newest: number): string {
  if (gateway.state === "failed") return `release ${gateway.wanted} failed: ${gateway.why}`;
  if (gateway.state === "not enrolled") return "not enrolled yet";
  if (isOnItsWay(gateway)) return `release ${gateway.wanted}: ${gateway.state}`;
  return gateway.inForce && gateway.inForce < newest ? `release ${newest} is newer` : "";
}

type ReleaseRowProps = {
  release: Release;
  /** The gateways that decide by it. */
  by: string[];
  deliver: () => void;
  isOlder: boolean;
  hasGateways: boolean;
};

function ReleaseRow({ release, by, deliver, isOlder, hasGateways }: ReleaseRowProps) {
  return (
    <li className="flex items-center gap-3 border-edge border-b py-1">
      <b className="w-24 shrink-0">Release {release.number}</b>
      <span className="min-w-0">
        {release.title}
        <span className="ml-2 text-dim text-xs">
          {[
            `revision ${release.revision}`,
            release.reference,
            release.note,
            `${release.who}, ${new Date(release.at).toLocaleString()}`,
          ]
            .filter((part) => part)
            .join(" · ")}
        </span>
      </span>
      <span className="ml-auto text-xs">{by.length > 0 && `in force on ${by.join(", ")}`}</span>
      {hasGateways && (
        <button type="button" className="press" onClick={deliver}>
          {isOlder ? "Go back to this" : "Put in force"}
        </button>
      )}
    </li>
  );
}
