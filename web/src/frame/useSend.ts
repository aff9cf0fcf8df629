import { useState } from "react";
import { ApiError, type Step } from "../api/client";
import type { BenchState } from "../bench/useBench";

/** For forms that send an edit and show beside themselves what the server had to say against it. */
export function useSend(bench: Pick<BenchState, "edit">) {
  const [fault, setFault] = useState("");
  /** Whether the work was kept. */
  const attempt = async (work: Promise<unknown>): Promise<boolean> => {
    setFault("");
    try {
      await work;
      return true;
    } catch (error) {
      setFault(error instanceof ApiError ? error.problem.detail : String(error));
      return false;
    }
  };
  return { fault, attempt, send: (what: string, steps: Step[]) => attempt(bench.edit({ what, steps })) };
}
