import { written } from "../app/shortcuts";
import type { Session } from "../session/useSession";
import { ImpactText, inShort } from "./ImpactText";

type Shown = Pick<Session, "did" | "doneEdits">;
type WordProps = { session: Shown; open: boolean; toggle: () => void };
type StripProps = { session: Shown & Pick<Session, "named" | "probe">; close: () => void };
type LineProps = { session: Shown & Pick<Session, "said">; open: () => void };

/** Whether several edits did it that followed each other without a pause. */
function together({ doneEdits }: Shown): string {
  return doneEdits > 1 ? `${doneEdits} edits together: ` : "";
}

function words(session: Shown): string {
  return session.did ? together(session) + inShort(session.did, "is") : "";
}

/** What the edit just kept did, in a few words; a click opens the whole of it. */
export function LastEditWord({ session, open, toggle }: WordProps) {
  if (!session.did) return null;
  return (
    <button
      type="button"
      className={`press min-w-0 truncate text-xs ${session.did.broken.length > 0 ? "text-madder" : ""}`}
      title={`${words(session)} (${written("lastEdit")})`}
      aria-expanded={open}
      onClick={toggle}
    >
      {words(session)}
    </button>
  );
}

/** All of it, between the keys and the stack, so that it covers neither, and always as high, so that it moves neither. */
export function LastEditStrip({ session, close }: StripProps) {
  return (
    <section
      aria-label="What the last edit did"
      className="flex h-28 shrink-0 gap-3 overflow-y-auto border-edge border-b bg-paper px-3 py-1.5"
    >
      <div className="min-w-0 flex-1 text-xs">
        {session.did ? (
          <ImpactText impact={session.did} tense="is" named={session.named} drop={session.probe}>
            {together(session) && (
              <p className="text-dim">This is what the last {session.doneEdits} edits did together.</p>
            )}
          </ImpactText>
        ) : (
          <p className="text-dim">
            {session.doneEdits === 0
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
export function LastEditLine({ session, open }: LineProps) {
  if (!session.did) return null;
  return (
    <p
      role="status"
      aria-label="What the last edit did"
      className="flex shrink-0 items-center gap-2 border-edge border-t bg-paper px-3 py-1 text-xs"
    >
      <span className="truncate text-dim">{session.said}</span>
      <span className={`truncate ${session.did.broken.length > 0 ? "text-madder" : ""}`}>
        {words(session)}
      </span>
      <button type="button" className="press shrink-0 text-xs" onClick={open}>
        See all of it
      </button>
    </p>
  );
}
