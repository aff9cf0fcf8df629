import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, api, type Workspace, type WorkspaceStep } from "../api/client";

/** How often the server is asked whether somebody else has changed the workspace. */
const LOOKED = 4000;

/** The workspace at a glance, and again whenever somebody changes it. */
export function useWorkspace(who: string) {
  return useQuery({
    queryKey: ["workspace", who],
    queryFn: () => api.workspace(who),
    refetchInterval: LOOKED,
  });
}

/** What may be done to the workspace: each is refused with a sentence where it was made on an old version. */
export function useWorkspaceChange(who: string) {
  const client = useQueryClient();
  const [fault, setFault] = useState("");
  const [said, setSaid] = useState("");
  const tried = async (what: string, work: () => Promise<unknown>): Promise<boolean> => {
    try {
      await work();
      setFault("");
      setSaid(what);
      return true;
    } catch (error) {
      setFault(error instanceof ApiError ? error.problem.detail : String(error));
      return false;
    } finally {
      // Everything shown anywhere may be another now; nobody has to wait until all of it has been asked for.
      client.invalidateQueries();
    }
  };
  const version = () => client.getQueryData<Workspace>(["workspace", who])?.version ?? 0;
  /** What comes next is made on the version that is known already. */
  const now = (made: { version: number }) =>
    client.setQueryData<Workspace>(["workspace", who], (old) => old && { ...old, version: made.version });
  return {
    fault,
    said,
    forget: () => setFault(""),
    tried,
    /** Makes a change; whether it was made. `seen` is the version it was made on. */
    change: (what: string, steps: WorkspaceStep[], seen = version()) =>
      tried(what, () => api.changeWorkspace(who, seen, what, steps).then(now)),
    takeBack: (which: "undo" | "redo") =>
      tried(which === "undo" ? "undone" : "redone", () =>
        api.takeWorkspaceBack(who, which, version()).then(now),
      ),
  };
}
