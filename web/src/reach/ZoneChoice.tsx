import { useQuery } from "@tanstack/react-query";
import { api } from "../api/client";

type Props = { rulebase: string; label: string; value: string; set: (zone: string) => void };

/** One zone, or any. */
export function ZoneChoice({ rulebase, label, value, set }: Props) {
  const zones = useQuery({
    queryKey: ["choices", rulebase, "zone", ""],
    queryFn: () => api.choices(rulebase, "zone", ""),
  });
  return (
    <label className="flex items-center gap-1.5 text-dim">
      {label}
      <select
        value={value}
        onChange={(event) => set(event.target.value)}
        className="rounded border border-edge bg-plate px-1 py-0.5 text-ink"
      >
        <option value="">any zone</option>
        {(zones.data ?? []).map((choice) => (
          <option key={choice.value}>{choice.value}</option>
        ))}
      </select>
    </label>
  );
}
