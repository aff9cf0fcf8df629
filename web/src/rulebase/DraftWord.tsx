import { written } from "../base/shortcuts";
import { useAnswers } from "../session/contexts";

/** Shows the rules of the draft that are not as in force. */
export const DRAFT_FILTER = "draft:any";

type WordProps = { isShown: boolean; toggle: () => void };

/** How much of the draft is not as in force, and the way to see only that. */
export function DraftWord({ isShown, toggle }: WordProps) {
  const { inForce } = useAnswers();
  if (!inForce) return null;
  const release = `release ${inForce.release.number}`;
  if (inForce.count === 0) return <span className="ml-auto shrink-0 text-dim text-xs">as {release}</span>;
  return (
    <button
      type="button"
      className="press ml-auto shrink-0 text-xs"
      aria-pressed={isShown}
      title={`Show only what is not as in force (${written("unreleased")})`}
      onClick={toggle}
    >
      {inForce.count} not as {release}
    </button>
  );
}

/** What the filter cannot show: rules that are in force and no longer in the draft, and what is no rule. */
export function DraftStrip() {
  const { inForce } = useAnswers();
  if (!inForce) return null;
  const { release, gateways, elsewhere, gone, others } = inForce;
  return (
    <p role="note" aria-label="In force" className="border-edge border-b bg-paper px-3 py-1 text-xs">
      Compared with release {release.number}, {release.title}
      {gateways.length > 0
        ? `, which is in force on ${gateways.join(", ")}`
        : ", which no gateway decides by"}
      {elsewhere.length > 0 &&
        `; ${elsewhere.join(", ")} ${elsewhere.length === 1 ? "decides" : "decide"} by something else`}
      .
      {gone.length > 0 && (
        <> In force, and no longer in the draft: {gone.map((rule) => rule.name || rule.id).join(", ")}.</>
      )}
      {others.length > 0 && <> Also different: {others.join(", ")}.</>}
    </p>
  );
}
