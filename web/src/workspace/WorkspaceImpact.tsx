import { keepPreviousData, useQuery } from "@tanstack/react-query";
import {
  ApiError,
  api,
  type WorkspaceImpact as Impact,
  type OnRulebase,
  type WorkspaceStep,
} from "../api/client";
import { goTo } from "../base/address";
import { PendingAnswer } from "../base/PendingAnswer";
import { useSettled } from "../base/useSettled";
import { ImpactText } from "../impact/ImpactText";

type Props = {
  version: number;
  steps: WorkspaceStep[];
  /** Why there is nothing to be done yet, where that is not because nothing was changed. */
  missing?: string;
};

/** What a change of the workspace would do to every rulebase, worked out before it is made. */
export function WorkspaceImpact({ version, steps, missing }: Props) {
  const settled = useSettled(JSON.stringify(steps), 250);
  const asked: WorkspaceStep[] = JSON.parse(settled);
  const impact = useQuery({
    queryKey: ["workspace impact", version, settled],
    queryFn: ({ signal }) => api.workspaceImpact(asked, signal),
    enabled: asked.length > 0,
    // What the server refuses it refuses again; a line that broke is tried anew.
    retry: (times, error) => !(error instanceof ApiError) && times < 2,
    placeholderData: keepPreviousData,
  });
  if (asked.length === 0) return <p className="text-dim text-xs">{missing ?? "Nothing is changed yet."}</p>;
  if (impact.error instanceof ApiError)
    return <p className="text-madder text-xs">This cannot be: {impact.error.problem.detail}</p>;
  if (impact.error)
    return (
      <p className="text-madder text-xs">
        It could not be asked for ({String(impact.error)}).{" "}
        <button type="button" className="press text-xs" onClick={() => impact.refetch()}>
          Ask again
        </button>
      </p>
    );
  if (!impact.data || impact.isPlaceholderData)
    return <PendingAnswer query={impact} what="what it does to every rulebase" />;
  return <ImpactOnAll impact={impact.data} />;
}

/** What a change of the workspace would do, once that is known. */
export function ImpactOnAll({ impact }: { impact: Impact }) {
  const { changes, checked, rulebases } = impact;
  if (changes === 0) return <p className="text-dim text-xs">Nothing would be different.</p>;
  return (
    <section aria-label="What this would do" className="text-xs">
      <p className="font-medium">
        {changes === 1 ? "One record changes" : `${changes.toLocaleString("en")} records change`};{" "}
        {rulebases.length === 0
          ? `nothing is different in ${checked === 1 ? "the rulebase" : `any of ${checked} rulebases`}.`
          : `of ${checked} ${checked === 1 ? "rulebase" : "rulebases"} ${rulebases.length} would notice.`}
      </p>
      {rulebases.map((one) => (
        <OnOne key={one.id} one={one} open={rulebases.length === 1} />
      ))}
    </section>
  );
}

function OnOne({ one, open }: { one: OnRulebase; open: boolean }) {
  return (
    <details open={open} className="mt-1 border-paper-edge border-t pt-1">
      <summary className="cursor-pointer py-1 font-semibold">
        {one.name}
        <span className="font-normal text-dim">
          {" "}
          · {one.kinds.length} {one.kinds.length === 1 ? "group" : "groups"} of connections
          {one.begun.length > 0 && ` · ${one.begun.length} new findings`}
          {one.broken.length > 0 && ` · breaks ${one.broken.length} promises`}
        </span>
      </summary>
      {one.unknown.length > 0 && (
        <p className="text-madder">Rules would go on without a name they use: {one.unknown.join("; ")}.</p>
      )}
      <ImpactText
        impact={one}
        tense="would be"
        named={(rule) => (rule ? `rule ${rule}` : "the default verdict")}
        drop={(probe) => goTo({ page: "rulebase", base: one.id, probe, find: undefined })}
      />
    </details>
  );
}
