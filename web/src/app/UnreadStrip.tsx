import type { Unread } from "../api/client";
import { goTo } from "../base/address";
import { useOpenRulebase } from "../session/contexts";

const SHOWN = 4;

/** The page on which something can be repaired. */
function pageOf(place: string): string {
  if (place.startsWith("set ")) return "sets";
  return /^(sheet|notice|lane|decryption rule) /.test(place) ? "shared" : "rulebase";
}

/** What of the rulebase cannot be read, and so takes no part; each leads to where it is repaired. */
export function UnreadStrip() {
  const openRulebase = useOpenRulebase();
  const faults = openRulebase.rulebase?.faults ?? [];
  if (faults.length === 0) return null;
  const called = ({ place, field }: Unread) => {
    const id = place.startsWith("rule ") ? place.slice("rule ".length) : "";
    const name = openRulebase.byId.has(id) ? openRulebase.named(id) : place;
    return field ? `${name}, ${field.replace(".", " ")}` : name;
  };
  return (
    <section
      aria-label="What cannot be read"
      className="shrink-0 border-edge border-b bg-rust-wash px-3 py-1.5 text-xs"
    >
      <p className="font-medium">
        {faults.length === 1 ? "One thing" : `${faults.length} things`} in this rulebase cannot be read. The
        rules concerned take no part until that is repaired or removed.
      </p>
      <ul>
        {faults.slice(0, SHOWN).map((fault) => (
          <li key={`${fault.place} ${fault.field} ${fault.message}`}>
            <button
              type="button"
              className="underline"
              onClick={() =>
                goTo({
                  page: pageOf(fault.place),
                  rule: fault.place.startsWith("rule ") ? fault.place.slice("rule ".length) : undefined,
                })
              }
            >
              {called(fault)}
            </button>
            : {fault.message}
          </li>
        ))}
        {faults.length > SHOWN && <li>and {faults.length - SHOWN} more</li>}
      </ul>
    </section>
  );
}
