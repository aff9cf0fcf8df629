import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, type ReleasePreview } from "../api/client";
import { goTo } from "../base/address";
import { Fault } from "../base/Fault";
import { grouped } from "../base/grouped";
import { moment } from "../base/times";
import { useOpenRulebase } from "../session/contexts";
import { select } from "../session/selection";
import { useSend } from "../session/useSend";
import { OrderFields } from "./OrderFields";
import { AT_ONCE, request } from "./order";
import { ReleaseEffect } from "./ReleaseEffect";

/** What is released next: what of the draft, what that would do, what stands against it, and what it is for. */
export function NextRelease({ done, gateways }: { done: () => void; gateways: string[] }) {
  const { id, who, rulebase, state } = useOpenRulebase();
  const { fault, attempt } = useSend();
  const [leftOut, setLeftOut] = useState<number[]>([]);
  const [words, setWords] = useState({ title: "", reference: "", note: "" });
  const [order, setOrder] = useState(AT_ONCE);
  const [reasons, setReasons] = useState<Record<string, string>>({});
  const preview = useQuery({
    queryKey: ["release-preview", id, state, leftOut],
    queryFn: ({ signal }) => api.releasePreview(id, leftOut, signal),
    enabled: state !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
  });
  if (!rulebase) return null;
  const shown = preview.data;
  const waiting = preview.isPending || preview.isPlaceholderData;
  const unmet = shown?.stops.filter((stop) => !reasons[stop.id]?.trim()).length ?? 0;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (!shown) return;
    const { revision, after } = shown;
    const made = await attempt(
      api
        .release(id, who, { revision, after, leftOut, ...words, reasons, order: request(order, gateways) })
        .catch((error) => {
          preview.refetch();
          throw error;
        }),
    );
    if (made) {
      setWords({ title: "", reference: "", note: "" });
      setLeftOut([]);
      setReasons({});
      setOrder(AT_ONCE);
    }
    done();
  };
  const word = (name: keyof typeof words, label: string, width: string, more = {}) => (
    <label className="flex flex-col text-dim text-xs">
      {label}
      <input
        className={`field ${width} text-ink`}
        value={words[name]}
        onChange={(event) => setWords({ ...words, [name]: event.target.value })}
        {...more}
      />
    </label>
  );
  return (
    <section aria-labelledby="next" className="border-edge border-b bg-plate px-3 py-2">
      <h2 id="next" className="font-semibold">
        The next release
      </h2>
      <div aria-busy={waiting} className="my-2 flex flex-col gap-2">
        {preview.error && <Fault fault={preview.error.message} />}
        {!shown && !preview.error && <p className="text-dim">Working out what it would do …</p>}
        {shown && <OpenChanges open={shown.open} leftOut={leftOut} set={setLeftOut} />}
        {shown && <ReleaseEffect beside={shown.beside} />}
        {shown && shown.beside.length === 0 && (
          <p>Nothing was released before, and no gateway reads this rulebase: there is nothing to compare.</p>
        )}
        {shown && <Stops preview={shown} reasons={reasons} set={setReasons} />}
      </div>
      <form onSubmit={submit} aria-label="A release" className="flex flex-wrap items-end gap-3">
        {word("title", "What it is for", "w-72", { required: true, maxLength: 200 })}
        {word("reference", "Change reference", "w-32")}
        {word("note", "Note", "w-64")}
        {gateways.length > 0 && <OrderFields gateways={gateways} order={order} set={setOrder} />}
        <button
          type="submit"
          className="press press-main"
          disabled={words.title.trim() === "" || waiting || unmet > 0 || !shown}
        >
          Release revision {rulebase.revision}
          {leftOut.length > 0 && ` without ${leftOut.length} ${leftOut.length === 1 ? "change" : "changes"}`}
        </button>
        {unmet > 0 && (
          <span className="text-madder text-xs">
            {unmet === 1 ? "One thing stands" : `${unmet} things stand`} against it.
          </span>
        )}
      </form>
      <Fault fault={fault} />
    </section>
  );
}

type OpenProps = {
  open: ReleasePreview["open"];
  leftOut: number[];
  set: (leftOut: number[]) => void;
};

/** The edits that no release has in it, by their reason or change reference; each of these can be left out as a whole. */
function OpenChanges({ open, leftOut, set }: OpenProps) {
  if (open.length === 0) return <p>No edit is open: the newest release has all of them in it.</p>;
  return (
    <fieldset className="text-xs">
      <legend className="font-medium">
        {open.length} open {open.length === 1 ? "change" : "changes"}
      </legend>
      {grouped(open, ({ reason }) => reason).map(([reason, changes]) => {
        const revisions = changes.map(({ revision }) => revision);
        const out = revisions.every((revision) => leftOut.includes(revision));
        const others = leftOut.filter((revision) => !revisions.includes(revision));
        return (
          <details key={reason}>
            <summary className="cursor-pointer py-0.5">
              <label className="inline-flex items-center gap-1">
                <input
                  type="checkbox"
                  checked={!out}
                  onChange={() => set(out ? others : [...others, ...revisions])}
                />
                {reason || "without a reason"}
              </label>{" "}
              <span className="text-dim">
                {changes.length} {changes.length === 1 ? "edit" : "edits"} by{" "}
                {[...new Set(changes.map(({ who }) => who))].join(", ")}
              </span>
            </summary>
            <ul className="pl-6">
              {changes.map((change) => (
                <li key={change.revision}>
                  <span className="text-dim">
                    {change.revision} · {moment(change.at)} · {change.who}
                  </span>{" "}
                  {change.what}
                </li>
              ))}
            </ul>
          </details>
        );
      })}
    </fieldset>
  );
}

type StopProps = {
  preview: ReleasePreview;
  reasons: Record<string, string>;
  set: (reasons: Record<string, string>) => void;
};

/** What stands against a release: to be mended, or overridden one by one, each with a reason that is kept. */
function Stops({ preview, reasons, set }: StopProps) {
  const { stops, overrides } = preview;
  const said = stops.map((stop) => reasons[stop.id]?.trim() ?? "").find((reason) => reason !== "");
  const left = stops.filter((stop) => !reasons[stop.id]?.trim());
  const sayOfAll = () =>
    set({ ...reasons, ...Object.fromEntries(left.map((stop) => [stop.id, said ?? ""])) });
  const look = (rule?: string) => {
    goTo({ page: rule ? "rulebase" : "promises" });
    if (rule) select(rule);
  };
  return (
    <>
      {stops.length > 0 && (
        <section aria-label="Stands against it" className="text-xs">
          <h3 className="font-medium text-madder">
            Stands against it: mend it, or say for each why it is released so
            {said && left.length > 0 && (
              <button type="button" className="press ml-3 text-xs" onClick={sayOfAll}>
                Say “{said}” of {left.length === 1 ? "the other" : `the other ${left.length}`} too
              </button>
            )}
          </h3>
          <ul>
            {stops.map((stop) => (
              <li key={stop.id} className="flex items-center gap-2 border-edge border-b py-0.5">
                <button type="button" className="min-w-0 text-left underline" onClick={() => look(stop.rule)}>
                  {stop.words}
                </button>
                <input
                  className="field ml-auto w-64 shrink-0"
                  aria-label={`Why it is released although ${stop.words}`}
                  placeholder="why it is released so"
                  value={reasons[stop.id] ?? ""}
                  onChange={(event) => set({ ...reasons, [stop.id]: event.target.value })}
                />
              </li>
            ))}
          </ul>
        </section>
      )}
      {overrides.length > 0 && (
        <details className="text-xs">
          <summary className="cursor-pointer text-dim">
            {overrides.length} {overrides.length === 1 ? "thing" : "things"} overridden before
          </summary>
          <ul className="pl-6">
            {overrides.map((one) => (
              <li key={one.stop}>
                {one.words}: <i>{one.reason}</i>
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
