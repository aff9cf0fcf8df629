import { useQuery } from "@tanstack/react-query";
import { api, type DeliveryPlan, type GatewayState } from "../api/client";
import { moment } from "../base/times";

type Props = {
  base: string;
  gateways: GatewayState[];
  every: number;
  change: (work: Promise<unknown>) => Promise<unknown>;
};

/** How a release gets to its gateways in waves, and what somebody can have it do. */
export function PlanStrip({ base, gateways, every, change }: Props) {
  const { data: plan } = useQuery({
    queryKey: ["delivery-plan", base],
    queryFn: () => api.deliveryPlan(base),
    refetchInterval: every,
  });
  if (!plan) return null;
  const act = (what: "pause" | "go-on" | "stop") => change(api.actOnPlan(base, what));
  const isOver = plan.state === "done" || plan.state === "stopped";
  return (
    <section aria-label="Delivery in waves" className="border-edge border-b bg-plate p-3 text-xs">
      <div className="flex flex-wrap items-center gap-3">
        <b>
          Release {plan.release}, wave {plan.told} of {plan.waves.length}
        </b>
        <span className={plan.state === "held" ? "text-madder" : ""}>{sentence(plan, gateways)}</span>
        {!isOver && (
          <span className="ml-auto flex gap-2">
            <button type="button" className="press" onClick={() => act("go-on")}>
              Tell the next now
            </button>
            {plan.state === "going" && (
              <button type="button" className="press" onClick={() => act("pause")}>
                Pause
              </button>
            )}
            <button type="button" className="press" onClick={() => act("stop")}>
              Stop here
            </button>
          </span>
        )}
      </div>
      <ol className="mt-1 flex flex-wrap gap-4">
        {plan.waves.map((wave, at) => (
          <li key={wave.join()} className={at < plan.told ? "" : "text-dim"}>
            {at < plan.told ? "told" : "to be told"}: {wave.join(", ")}
          </li>
        ))}
      </ol>
    </section>
  );
}

/** What the plan waits for. */
function sentence(plan: DeliveryPlan, gateways: GatewayState[]): string {
  const left = plan.waves.slice(plan.told).flat();
  if (plan.state === "held") return `held back: ${plan.why}`;
  if (plan.state === "paused") return "paused";
  if (plan.state === "stopped")
    return `stopped; ${left.join(", ")} ${left.length === 1 ? "was" : "were"} not told`;
  if (plan.state === "done") return "all were told";
  if (plan.due) return `the next ${plan.told === 0 ? "are" : "wave is"} told ${moment(plan.due)}`;
  const told = plan.waves.slice(0, plan.told).flat();
  const open = gateways.filter((one) => told.includes(one.name) && one.inForce !== plan.release);
  if (open.length === 0) return "all that were told have it in force";
  return `waits for ${open.map((one) => one.name + (one.away ? " (not heard of)" : "")).join(", ")}`;
}
