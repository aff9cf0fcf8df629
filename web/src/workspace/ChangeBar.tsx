import { Fault } from "../base/Fault";
import type { useWorkspace, useWorkspaceChange } from "./useWorkspace";

type Props = {
  workspace: ReturnType<typeof useWorkspace>;
  change: ReturnType<typeof useWorkspaceChange>;
};

/** What was done to the workspace last, and the way back; the same at the foot of each of its pages. */
export function ChangeBar({ workspace, change }: Props) {
  const { undo, redo } = workspace.data ?? {};
  if (!undo && !redo && !change.fault && !change.said) return null;
  return (
    <footer className="flex shrink-0 flex-wrap items-center gap-3 border-edge border-t bg-plate px-3 py-1">
      <Fault fault={change.fault} />
      {!change.fault && change.said && <span role="status">Saved: {change.said}.</span>}
      {undo && (
        <button type="button" className="press ml-auto text-xs" onClick={() => change.takeBack("undo")}>
          Undo: {undo}
        </button>
      )}
      {redo && (
        <button
          type="button"
          className={`press text-xs ${undo ? "" : "ml-auto"}`}
          onClick={() => change.takeBack("redo")}
        >
          Redo: {redo}
        </button>
      )}
    </footer>
  );
}
