import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type DeliveryOrder, type GatewayState, type Release } from "../api/client";
import { Fault } from "../base/Fault";
import { focusOnOpen } from "../base/focusOnOpen";
import { moment } from "../base/times";
import { useOpenRulebase } from "../session/contexts";
import { useSend } from "../session/useSend";
import { NewestDecided } from "./NewestDecided";
import { NextRelease } from "./NextRelease";
import { OrderFields } from "./OrderFields";
import { AT_ONCE, request } from "./order";
import { PlanStrip } from "./PlanStrip";
import { ReleaseEffect } from "./ReleaseEffect";
import { TryIt } from "./TryIt";

/** So often a page asks while a gateway is on its way to a release, and while none is. */
const SOON = 700;
const SELDOM = 5_000;

const isOnItsWay = (gateway: GatewayState) => ["told", "fetched", "checked"].includes(gateway.state);

/** The releases of the rulebase, the newest first, and what its gateways have in force by their own word. */
export function ReleasesPage() {
  const { id, who, rulebase } = useOpenRulebase();
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
  const names = own.map(({ name }) => name);
  const again = () => {
    client.invalidateQueries({ queryKey: ["releases"] });
    client.invalidateQueries({ queryKey: ["gateways"] });
    client.invalidateQueries({ queryKey: ["release-preview"] });
    client.invalidateQueries({ queryKey: ["in-force"] });
    client.invalidateQueries({ queryKey: ["delivery-plan"] });
  };
  const change = (work: Promise<unknown>) => attempt(work).finally(again);
  if (!rulebase || !releases.data) return <p className="p-4 text-dim">Looking what is released …</p>;
  const newest = releases.data[0];
  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <NextRelease key={id} done={again} gateways={names} />
      <div className="px-3">
        <Fault fault={fault} />
      </div>
      <PlanStrip base={id} gateways={own} every={own.some(isOnItsWay) ? SOON : SELDOM} change={change} />
      <Gateways gateways={own} newest={newest?.number ?? 0} base={id} change={change} />
      {own.length > 0 && <NewestDecided base={id} />}
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
              base={id}
              release={release}
              by={own.filter((gateway) => gateway.inForce === release.number).map((gateway) => gateway.name)}
              gateways={names}
              deliver={(order) => change(api.deliver(id, who, release.number, order))}
              isOlder={release.number < (newest?.number ?? 0)}
              isWanted={own.some((gateway) => gateway.inForce !== release.number)}
            />
          ))}
        </ul>
      </section>
    </div>
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
          <li key={gateway.name} className="flex flex-wrap items-center gap-3 border-edge border-b py-1">
            <b className="w-40">{gateway.name}</b>
            <span className="w-44">
              {gateway.inForce
                ? `release ${gateway.inForce} ${gateway.away ? "was" : "is"} in force`
                : "nothing is in force"}
            </span>
            <span className={isWrong(gateway) ? "text-rust" : "text-dim"}>{sentence(gateway, newest)}</span>
            <button type="button" className="press ml-auto" onClick={() => invite(gateway.name)}>
              Enrol anew
            </button>
            <button type="button" className="press" onClick={() => change(api.removeGateway(gateway.name))}>
              Remove
            </button>
            <TryIt gateway={gateway} />
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

const isWrong = (gateway: GatewayState) =>
  gateway.state === "failed" || gateway.away || gateway.clockAhead !== 0 || gateway.dropped > 0;

/** What is to be known of a gateway: whether it is heard of, its clock, and how far it is with what it was told. */
function sentence(gateway: GatewayState, newest: number): string {
  const { clockAhead, said } = gateway;
  const off = `its clock is ${Math.abs(clockAhead)} s ${clockAhead > 0 ? "ahead" : "behind"}, and schedules hold by it`;
  return [
    gateway.away && said && `not heard of since ${moment(said)}`,
    progress(gateway, newest),
    clockAhead !== 0 && off,
    gateway.dropped > 0 && `it could not tell of ${gateway.dropped.toLocaleString("en")} connections`,
  ]
    .filter(Boolean)
    .join("; ");
}

/** How far a gateway is with what it was told. */
function progress(gateway: GatewayState, newest: number): string {
  if (gateway.state === "failed") return `release ${gateway.wanted} failed: ${gateway.why}`;
  if (gateway.state === "not enrolled") return "not enrolled yet";
  if (isOnItsWay(gateway)) return `release ${gateway.wanted}: ${gateway.state}`;
  return [gateway.inForce && gateway.inForce < newest && `release ${newest} is newer`, gateway.why]
    .filter(Boolean)
    .join("; ");
}

type ReleaseRowProps = {
  base: string;
  release: Release;
  /** The gateways that decide by it. */
  by: string[];
  /** Those that read the rulebase. */
  gateways: string[];
  deliver: (order?: DeliveryOrder) => Promise<unknown>;
  isOlder: boolean;
  /** Whether a gateway decides by something else. */
  isWanted: boolean;
};

/** One release, what was said of it, and the way to put it in force; what that would do is seen first. */
function ReleaseRow({ base, release, by, gateways, deliver, isOlder, isWanted }: ReleaseRowProps) {
  const [asked, setAsked] = useState(false);
  const label = isOlder ? "Go back to this" : "Put in force";
  return (
    <li className="border-edge border-b py-1">
      <div className="flex items-center gap-3">
        <b className="w-24 shrink-0">Release {release.number}</b>
        <span className="min-w-0">
          {release.title}
          <span className="ml-2 text-dim text-xs">
            {[
              `revision ${release.revision}`,
              release.leftOut.length > 0 && `without ${release.leftOut.join(", ")}`,
              release.reference,
              release.note,
              `${release.who}, ${moment(release.at)}`,
            ]
              .filter((part) => part)
              .join(" · ")}
          </span>
        </span>
        <span className="ml-auto text-xs">{by.length > 0 && `in force on ${by.join(", ")}`}</span>
        {isWanted && (
          <button type="button" className="press" aria-expanded={asked} onClick={() => setAsked(!asked)}>
            {label}
          </button>
        )}
      </div>
      {release.overrides.length > 0 && (
        <details className="pl-27 text-xs">
          <summary className="cursor-pointer text-dim">
            {release.overrides.length} {release.overrides.length === 1 ? "thing" : "things"} overridden
          </summary>
          <ul>
            {release.overrides.map((one) => (
              <li key={one.stop}>
                {one.words}: <i>{one.reason}</i>
              </li>
            ))}
          </ul>
        </details>
      )}
      {asked && (
        <Delivery
          base={base}
          release={release}
          gateways={gateways}
          deliver={(order) => deliver(order).then(() => setAsked(false))}
          leave={() => setAsked(false)}
        />
      )}
    </li>
  );
}

type DeliveryProps = {
  base: string;
  release: Release;
  gateways: string[];
  deliver: (order?: DeliveryOrder) => void;
  leave: () => void;
};

/** What it would do to put a release in force that was made before; the draft stays as it is. */
function Delivery({ base, release, gateways, deliver, leave }: DeliveryProps) {
  const [order, setOrder] = useState(AT_ONCE);
  const { state } = useOpenRulebase();
  const preview = useQuery({
    queryKey: ["delivery-preview", base, release.number, state],
    queryFn: () => api.deliveryPreview(base, release.number),
    retry: false,
    gcTime: 0,
  });
  return (
    <section aria-label={`Release ${release.number} in force`} className="my-1 flex flex-col gap-2 pl-4">
      {preview.isPending && <p className="text-dim text-xs">Working out what it would do …</p>}
      {preview.error && <Fault fault={preview.error.message} />}
      {preview.data && <ReleaseEffect beside={preview.data.beside} />}
      <OrderFields gateways={gateways} order={order} set={setOrder} />
      <p className="flex items-center gap-2">
        <button
          type="button"
          className="press press-main"
          ref={focusOnOpen}
          onClick={() => deliver(request(order, gateways))}
        >
          Put release {release.number} in force
        </button>
        <button type="button" className="press" onClick={leave}>
          Cancel
        </button>
        <span className="text-dim text-xs">The draft stays as it is.</span>
      </p>
    </section>
  );
}
