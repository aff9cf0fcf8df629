import type { ReleasePreview } from "../api/client";
import { goTo } from "../base/address";
import { ImpactText } from "../impact/ImpactText";
import { showProbe, useOpenRulebase } from "../session/contexts";

type Beside = ReleasePreview["beside"][number];

/** What a release would change, for the gateways that it would change most first; those with the same in force together. */
export function ReleaseEffect({ beside }: { beside: Beside[] }) {
  return (
    <ul className="flex flex-col gap-2">
      {beside.map((one) => (
        <li key={one.release?.number ?? 0} className="border-edge border-l-2 pl-2">
          <Effect {...one} />
        </li>
      ))}
    </ul>
  );
}

function Effect({ gateways, release, differences, impact }: Beside) {
  const { named } = useOpenRulebase();
  const where = gateways.length > 0 ? gateways.join(", ") : "No gateway";
  if (!release || !differences || !impact)
    return <p>{where}: nothing is in force there yet, so nothing can be compared.</p>;
  const drop = (probe: string) => {
    goTo({ page: "rulebase" });
    showProbe(probe);
  };
  const words = differenceWords(differences);
  return (
    <>
      <p>
        <b>{where}</b> {gateways.length === 1 ? "decides" : "decide"} by release {release.number} (
        {release.title}
        ). {words.length === 0 ? "This is the same: it changes nothing." : `Different: ${words.join(", ")}.`}
      </p>
      {words.length > 0 && <ImpactText impact={impact} tense="would be" named={named} drop={drop} />}
    </>
  );
}

/** What differs between two releases, in a few words each. */
export function differenceWords({ added, changed, moved, gone, others }: NonNullable<Beside["differences"]>) {
  const rules = [
    [added, "new"],
    [changed, "changed"],
    [moved, "moved"],
    [gone, "gone"],
  ]
    .filter(([count]) => count !== 0)
    .map(([count, word]) => `${count} ${count === 1 ? "rule" : "rules"} ${word}`);
  return [...rules, ...others];
}
