import { memo } from "react";
import { written } from "../base/shortcuts";
import { showProbe, type Told, useOpenRulebase } from "../session/contexts";
import { ImpactText, inShort } from "./ImpactText";

type Shown = Pick<Told, "did" | "doneEdits">;
type WordProps = Shown & { open: boolean; toggle: () => void };
type StripProps = { told: Shown; close: () => void };
type LineProps = { told: Shown & Pick<Told, "said">; open: () => void };

/** Whether several edits did it that followed each other without a pause. */
function together({ doneEdits }: Shown): string {
  return doneEdits > 1 ? `${doneEdits} edits together: ` : "";
}

function words(told: Shown): string {
  return told.did ? together(told) + inShort(told.did, "is") : "";
}

/** What the edit just kept did, in a few words; a click opens the whole of it. */
export const LastEditWord = memo(function LastEditWord({ did, doneEdits, open, toggle }: WordProps) {
  if (!did) return null;
  const said = words({ did, doneEdits });
  return (
    <button
      type="button"
      className={`press min-w-0 truncate text-xs ${did.broken.length > 0 ? "text-madder" : ""}`}
      title={`${said} (${written("lastEdit")})`}
      aria-expanded={open}
      onClick={toggle}
    >
      {said}
    </button>
  );
});

/** All of it, between the keys and the stack, so that it covers neither, and always as high, so that it moves neither. */
export function LastEditStrip({ told, close }: StripProps) {
  const openRulebase = useOpenRulebase();
  return (
    <section
      aria-label="What the last edit did"
      className="flex h-28 shrink-0 gap-3 overflow-y-auto border-edge border-b bg-paper px-3 py-1.5"
    >
      <div className="min-w-0 flex-1 text-xs">
        {told.did ? (
          <ImpactText impact={told.did} tense="is" named={openRulebase.named} drop={showProbe}>
            {together(told) && (
              <p className="text-dim">This is what the last {told.doneEdits} edits did together.</p>
            )}
          </ImpactText>
        ) : (
          <p className="text-dim">
            {told.doneEdits === 0
              ? "Nothing has been edited here since the page was opened."
              : "Working out what the last edit did …"}
          </p>
        )}
      </div>
      <button type="button" className="press self-start text-xs" onClick={close}>
        Close
      </button>
    </section>
  );
}

/** The same in one line, where there is no stack. */
export function LastEditLine({ told, open }: LineProps) {
  if (!told.did) return null;
  return (
    <p
      role="status"
      aria-label="What the last edit did"
      className="flex shrink-0 items-center gap-2 border-edge border-t bg-paper px-3 py-1 text-xs"
    >
      <span className="truncate text-dim">{told.said}</span>
      <span className={`truncate ${told.did.broken.length > 0 ? "text-madder" : ""}`}>{words(told)}</span>
      <button type="button" className="press shrink-0 text-xs" onClick={open}>
        See all of it
      </button>
    </p>
  );
}
