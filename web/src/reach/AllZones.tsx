import { useQuery } from "@tanstack/react-query";
import { ApiError, api, type ZoneGroup } from "../api/client";
import { goTo } from "../base/address";
import { PendingAnswer } from "../base/PendingAnswer";
import { useOpenRulebase } from "../session/contexts";
import { Hole } from "./Hole";

const MOST = 8;

/** What one person can use between all zones: pairs of zones where that is the same, together. */
export function AllZones({ who, what }: { who: string; what: string }) {
  const openRulebase = useOpenRulebase();
  const reach = useQuery({
    queryKey: ["reach", openRulebase.id, openRulebase.state, "all zones", who, what],
    queryFn: () => api.reachBetweenZones(openRulebase.id, who, what ? [what] : []),
    placeholderData: (before) => before,
    retry: false,
  });
  if (reach.error instanceof ApiError) return <p className="text-madder">{reach.error.problem.detail}</p>;
  if (!reach.data) return <PendingAnswer query={reach} what={`what ${who} can use between all zones`} />;
  return (
    <section aria-label="Between all zones" className="max-w-[980px]">
      <h2 className="mb-2 font-semibold">
        {what ? `Between which zones ${who} can use ${what}` : `What ${who} can use, by where it goes`}
      </h2>
      {!reach.data.complete && <p className="text-madder">It is too much to look at; choose a zone.</p>}
      <ul className="flex flex-col gap-2">
        {reach.data.groups.map((group) => (
          <li
            key={`${group.ways[0]?.from[0]} ${group.ways[0]?.to[0]}`}
            className="rounded border border-edge bg-plate px-3 py-2"
          >
            <Ways group={group} />
            <Uses standing="allowed" names={group.allowed} total={total(group)} />
            <Uses standing="depends" names={group.depends} total={total(group)} />
            <Uses standing="blocked" names={group.blocked} total={total(group)} />
          </li>
        ))}
      </ul>
    </section>
  );
}

const total = (group: ZoneGroup) => group.allowed.length + group.depends.length + group.blocked.length;

/** Which zones: each pair is a way to the question about these two. */
function Ways({ group }: { group: ZoneGroup }) {
  return (
    <ul className="mb-1">
      {group.ways.map(({ from, to }) => (
        <li key={`${from[0]} ${to[0]}`}>
          <button
            type="button"
            className="text-left"
            title={`from ${from.join(", ")} to ${to.join(", ")}`}
            onClick={() => goTo({ from: from[0], to: to[0] })}
          >
            from <b className="font-medium">{some(from)}</b> to <b className="font-medium">{some(to)}</b>
          </button>
        </li>
      ))}
    </ul>
  );
}

function some(names: string[]): string {
  const rest = names.length - 5;
  return rest > 1 ? `${names.slice(0, 5).join(", ")} and ${rest} more` : names.join(", ");
}

/** What is allowed, blocked or depends there; all of it is one word, and what is left long is folded. */
function Uses({ standing, names, total }: { standing: string; names: string[]; total: number }) {
  if (names.length === 0) return null;
  const whole = names.length === total && total > 1;
  return (
    <details className="text-xs" open={!whole && names.length <= MOST}>
      <summary className="flex cursor-pointer items-center gap-1.5 py-0.5">
        <Hole standing={standing} size={13} />
        {whole ? `everything ${standing === "depends" ? "depends on more than the zones" : standing}` : ""}
        {!whole && `${standing}: ${names.length}`}
        {!whole && names.length > MOST && (
          <span className="truncate text-dim">{names.slice(0, 4).join(", ")} …</span>
        )}
      </summary>
      <p className="pl-5 text-dim">{names.join(" · ")}</p>
    </details>
  );
}
