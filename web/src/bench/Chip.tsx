import { useQuery } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { useState } from "react";
import { api } from "../api/client";
import { ChipMark } from "./ChipMark";
import { chipText } from "./fields";

/** One value; what it stands for shows on hover or focus, asked for only then. */
export function Chip({
  rulebase,
  kind,
  value,
  not,
}: {
  rulebase: string;
  kind: string;
  value: string;
  not: boolean;
}) {
  const [open, setOpen] = useState(false);
  const about = useQuery({
    queryKey: ["about", rulebase, kind, value],
    queryFn: () => api.about(rulebase, kind, value),
    enabled: open,
    staleTime: 30_000,
  });
  const mono = kind === "network" && !value.startsWith("set ");
  return (
    <Tooltip.Root open={open} onOpenChange={setOpen}>
      <Tooltip.Trigger asChild>
        <span
          className={`inline-block max-w-full truncate rounded-sm border px-1 align-bottom leading-[18px] ${
            not ? "border-madder/60 border-dashed" : "border-edge"
          } bg-plate ${mono ? "font-mono text-[11px]" : "text-xs"}`}
        >
          {not && <span className="text-madder">not </span>}
          <ChipMark value={value} />
          {chipText(value)}
        </span>
      </Tooltip.Trigger>
      {open && (about.data?.lines.length ?? 0) > 0 && (
        <Tooltip.Portal>
          <Tooltip.Content
            sideOffset={4}
            className="z-50 max-w-80 rounded border border-edge bg-plate px-2 py-1.5 text-xs text-ink shadow-lg"
          >
            <p className="font-medium">{value}</p>
            {about.data?.lines.map((line) => (
              <p key={line} className="text-dim">
                {line}
              </p>
            ))}
          </Tooltip.Content>
        </Tooltip.Portal>
      )}
    </Tooltip.Root>
  );
}
