import { useQuery } from "@tanstack/react-query";
import { api } from "../api/client";
import { Link } from "../base/Link";
import { PendingAnswer } from "../base/PendingAnswer";

const SHOWN = 12;

/** The rules and sets of all rulebases that use a name of the workspace. */
export function Uses({ kind, id }: { kind: string; id: string }) {
  const uses = useQuery({ queryKey: ["uses", kind, id], queryFn: () => api.uses(kind, id) });
  if (!uses.data) return <PendingAnswer query={uses} what="where it is used" />;
  return (
    <section aria-label="Where it is used" className="text-xs">
      <h2 className="font-semibold text-dim">Where it is used</h2>
      {uses.data.length === 0 && <p className="text-dim">No rule, set, sheet or decryption rule names it.</p>}
      {uses.data.map((use) => (
        <div key={use.rulebase}>
          <p className="font-medium">{use.name}</p>
          <ul className="pl-3">
            {use.rules.slice(0, SHOWN).map((rule) => (
              <li key={rule.id}>
                <Link
                  to={{ page: "rulebase", base: use.rulebase, rule: rule.id, find: undefined }}
                  className="underline decoration-edge"
                >
                  rule {rule.number} {rule.name}
                </Link>
                {rule.through && <span className="text-dim"> through set {rule.through}</span>}
              </li>
            ))}
            {use.rules.length > SHOWN && <li>and {use.rules.length - SHOWN} more rules</li>}
            {use.sets.map((set) => (
              <li key={set} className="text-dim">
                set {set}
              </li>
            ))}
            {use.others.map((other) => (
              <li key={other} className="text-dim">
                {other}
              </li>
            ))}
          </ul>
        </div>
      ))}
    </section>
  );
}
