import { useQuery } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { useState } from "react";
import { api } from "../api/client";
import { ChipMark } from "./ChipMark";
import { chipText } from "./fields";

type Props = { rulebase: string; kind: string; value: string; not: boolean };

/** One value; what it stands for shows on hover, asked for only then and possible only once a pointer is near. */
export function Chip({ near, ...props }: Props & { near: boolean }) {
  return near ? <Explained {...props} /> : <Face {...props} />;
}

type FaceProps = Omit<Props, "rulebase"> & React.ComponentProps<"span">;

function Face({ kind, value, not, ...rest }: FaceProps) {
  const mono = kind === "network" && !value.startsWith("set ");
  return (
    <span
      {...rest}
      className={`inline-block max-w-full truncate rounded-sm border px-1 align-bottom leading-[18px] ${
        not ? "border-madder/60 border-dashed" : "border-edge"
      } bg-plate ${mono ? "font-mono text-[11px]" : "text-xs"}`}
    >
      {not && <span className="text-madder">not </span>}
      <ChipMark value={value} />
      {chipText(value)}
    </span>
  );
}

function Explained({ rulebase, kind, value, not }: Props) {
  const [open, setOpen] = useState(false);
  const about = useQuery({
    queryKey: ["about", rulebase, kind, value],
    queryFn: () => api.about(rulebase, kind, value),
    enabled: open,
    staleTime: 30_000,
  });
  return (
    <Tooltip.Root open={open} onOpenChange={setOpen}>
      <Tooltip.Trigger asChild>
        <Face kind={kind} value={value} not={not} />
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
