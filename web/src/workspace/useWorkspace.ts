import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { ApiError, api, type Workspace, type WorkspaceStep } from "../api/client";
import { POLLING_INTERVAL } from "../base/pollingInterval";

/** The workspace at a glance, and again whenever somebody changes it. */
export function useWorkspace(who: string) {
  return useQuery({
    queryKey: ["workspace", who],
    queryFn: () => api.workspace(who),
    refetchInterval: POLLING_INTERVAL,
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
  // From which version to which one's own changes led: what is asked for anew may still be on its way from before one of
  // them, and nobody is to be refused for what they did themselves.
  const own = useRef(new Map<number, number>());
  const since = (seen: number): number => {
    const next = own.current.get(seen);
    return next === undefined ? seen : since(next);
  };
  /** What comes next is made on the version that is known already. */
  const now = (seen: number) => (made: { version: number }) => {
    if (made.version === seen + 1) own.current.set(seen, made.version);
    client.setQueryData<Workspace>(["workspace", who], (old) => old && { ...old, version: made.version });
  };
  return {
    fault,
    said,
    forget: () => setFault(""),
    tried,
    /** Makes a change; whether it was made. `seen` is the version it was made on. */
    change: (what: string, steps: WorkspaceStep[], seen = version()) =>
      tried(what, () => api.changeWorkspace(who, since(seen), what, steps).then(now(since(seen)))),
    takeBack: (which: "undo" | "redo") =>
      tried(which === "undo" ? "undone" : "redone", () =>
        api.takeWorkspaceBack(who, which, since(version())).then(now(since(version()))),
      ),
  };
}
