/** Whether a verdict lets a connection through, if only after asking. */
export function letsThrough(verdict: string): boolean {
  return verdict === "allow" || verdict === "ask";
}
