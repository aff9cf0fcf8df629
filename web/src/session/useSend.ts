import { useState } from "react";
import { ApiError, type Step } from "../api/client";
import { useEditing } from "./contexts";

/** For forms that send an edit and show beside themselves what the server had to say against it. */
export function useSend() {
  const edits = useEditing();
  const [fault, setFault] = useState("");
  const [note, setNote] = useState("");
  /** Whether the work was kept. */
  const attempt = async (work: Promise<unknown>): Promise<boolean> => {
    setFault("");
    setNote("");
    try {
      await work;
      return true;
    } catch (error) {
      if (error instanceof ApiError && error.problem.type.endsWith("/nothing-to-do")) {
        // All of it is there already, which is what was wanted.
        setNote(error.problem.detail);
        return true;
      }
      setFault(error instanceof ApiError ? error.problem.detail : String(error));
      return false;
    }
  };
  return {
    fault,
    note,
    attempt,
    send: (what: string, steps: Step[]) => attempt(edits.edit({ what, steps })),
  };
}
