import type { Fall } from "../api/client";
import { Plate } from "../rules/Plate";
import { letsThrough } from "../rules/verdict";

const STATUS: Record<string, string> = {
  provisional: "let through for now",
  "stopped early": "stopped at once",
  decided: "decided",
};

type Props = { fall: Fall; named: (rule: string) => string };

/**
 * How a probe unfolds at the gateway, stage by stage: what is known by then, which rules wait to know more, and what
 * happens meanwhile.
 */
export function Unfolding({ fall, named }: Props) {
  const leaked = fall.stages.length > 1 && !letsThrough(fall.verdict);
  return (
    <ol
      aria-label="How it unfolds"
      className="mt-1 flex flex-wrap items-center gap-x-1 gap-y-0.5 pl-16 text-xs"
    >
      {fall.stages.map((stage, index) => (
        <li key={stage.knowledge} className="flex items-center gap-1">
          {index > 0 && (
            <span aria-hidden="true" className="px-1 text-faint">
              →
            </span>
          )}
          <span
            className={`rounded border px-1.5 py-px ${stage.status === "provisional" ? "border-edge border-dashed" : "border-rust"}`}
            title={waits(stage.waiting, named)}
          >
            <b className="font-medium">{stage.knowledge}</b>{" "}
            <span className="text-dim">{STATUS[stage.status]}</span>
            {stage.waiting.length > 0 && (
              <span className="text-faint">
                {" "}
                · {stage.waiting.length} {stage.waiting.length === 1 ? "rule waits" : "rules wait"}
              </span>
            )}
          </span>
        </li>
      ))}
      <li className="flex items-center gap-1 pl-1">
        <Plate verdict={fall.verdict} word={false} /> <span>{fall.outcome}</span>
        {leaked && <span className="text-madder">; what came before had passed by then</span>}
      </li>
    </ol>
  );
}

function waits(waiting: Fall["stages"][number]["waiting"], named: (rule: string) => string): string {
  return waiting
    .slice(0, 8)
    .map((wait) => `${named(wait.rule)} waits for the ${wait.fields.join(", ") || "usage sheet"}`)
    .join("\n");
}
