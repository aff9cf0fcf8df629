import type { Tried } from "../api/client";

const ENDS: Record<Tried["end"], string> = {
  answer: "Answered",
  refusal: "Refused at once.",
  cut: "Cut before an answer.",
  silence: "No answer at all.",
  "no entry": "Not let in: nothing is in force, or it knows no such login.",
  "no gateway": "Nobody is there: the gateway does not take clients on its port.",
};

/** What a client got, in words. */
export function got({ end, status, issuer }: Pick<Tried, "end" | "status" | "issuer">): string {
  if (end === "cut" && status) return `Cut in the middle of an answer with ${status}.`;
  if (end !== "answer") return ENDS[end];
  const how = status ? ` with ${status}` : ": the connection is open";
  return `${ENDS.answer}${how}${issuer ? `, under a certificate of ${issuer}` : ""}.`;
}
