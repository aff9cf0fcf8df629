import { useQuery } from "@tanstack/react-query";
import { api } from "../api/client";
import { moment } from "../base/times";
import { hitsWord } from "../rules/order";
import { useOpenRulebase } from "../session/contexts";

/** How often gateways say that a rule caught something, and when last; nothing where none has. */
export function GatewayHits({ rule }: { rule: string }) {
  const { id } = useOpenRulebase();
  const hits = useQuery({
    queryKey: ["gateway-hits", id],
    queryFn: () => api.gatewayHits(id),
    enabled: id !== "",
  });
  const own = hits.data?.filter((one) => one.rule === rule) ?? [];
  if (own.length === 0)
    return <p className="text-dim text-xs">No gateway has told of a connection that it caught.</p>;
  return (
    <ul className="text-xs">
      {own.map((one) => (
        <li key={one.gateway}>
          <b className="font-medium">{one.gateway}</b>: {hitsWord(one.hits)}, last {moment(one.last)}
        </li>
      ))}
    </ul>
  );
}
