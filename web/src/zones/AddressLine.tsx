import type { Band, Zone } from "../api/client";

type Props = { line: Band[]; zones: Zone[]; chosen?: string; choose: (zone: string) => void };

/**
 * A band is as wide as the logarithm of its addresses, so that a /24 beside half of all there is can be seen and hit;
 * what lies between the networks that somebody named is narrow.
 */
function width(band: Band): number {
  return band.named ? 12 + Math.log2(Number(band.size) + 1) : 0;
}

/**
 * The line of addresses of each IP version: who has which run of it. Inside is filled, outside is outlined, the gateway
 * is dark; where zones overlap the band is hatched, and what is nobody's is empty.
 */
export function AddressLine({ line, zones, chosen, choose }: Props) {
  const sides = new Map(zones.map((zone) => [zone.name, zone.side]));
  return (
    <div className="flex flex-col gap-1">
      {["IPv4", "IPv6"].map((version) => (
        <section key={version} aria-label={`${version} addresses`} className="flex items-center gap-2">
          <span className="w-8 shrink-0 text-dim text-xs">{version}</span>
          <div className="flex h-8 min-w-0 flex-1 overflow-hidden rounded border border-edge">
            {line
              .filter((band) => band.version === version)
              .map((band) => (
                <BandButton key={band.from} band={band} sides={sides} chosen={chosen} choose={choose} />
              ))}
          </div>
        </section>
      ))}
    </div>
  );
}

type BandProps = {
  band: Band;
  sides: Map<string, string>;
  chosen?: string;
  choose: (zone: string) => void;
};

function BandButton({ band, sides, chosen, choose }: BandProps) {
  const owner = band.zones[0];
  const run = `${band.from} to ${band.to}`;
  const words =
    band.zones.length === 0
      ? `nobody's: ${run}`
      : `${band.zones.join(" and ")}${band.named ? "" : ", as everything else"}: ${run}`;
  const side = owner === undefined ? "" : (sides.get(owner) ?? "");
  const look =
    band.zones.length > 1
      ? "hatched"
      : side === "gateway"
        ? "bg-ink text-paper"
        : side === "inside"
          ? "bg-rust-wash"
          : "bg-paper";
  return (
    <button
      type="button"
      title={words}
      aria-label={words}
      aria-pressed={chosen !== undefined && band.zones.includes(chosen)}
      disabled={owner === undefined}
      onClick={() => owner !== undefined && choose(owner)}
      style={{ flexGrow: width(band), flexBasis: 0 }}
      className={`min-w-[24px] truncate border-edge border-r px-1 text-left text-xs last:border-r-0 aria-pressed:shadow-[inset_0_-3px_0_var(--rust)] ${look}`}
    >
      {band.named ? band.zones.join(" + ") : owner === undefined ? "" : "…"}
    </button>
  );
}
