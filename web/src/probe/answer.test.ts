// @vitest-environment node
import { describe, expect, it } from "vitest";
import type { Fall } from "../api/client";
import { inWords, reason, ruleSentence } from "./Answer";

const part = (detail: string, value: string, filledIn = false) => ({ detail, value, filledIn });

const fall: Fall = {
  revision: 1,
  text: "from Offices as ada to Internet using Chat at tue 10:00",
  parts: [],
  passed: [
    { rule: "a", misses: [{ field: "from.zones", label: "from zone", had: "Offices", wanted: "Guests" }] },
  ],
  caughtBy: "b",
  outcome: "allow",
  verdict: "allow",
  matches: [{ field: "from.people", label: "person", had: "ada", wanted: "identified" }],
  below: [{ rule: "c", outcome: "deny", verdict: "deny" }],
  belowMore: 2,
  stages: [],
};
const named = (rule: string) => `rule ${rule}`;

describe("a probe's answer", () => {
  it("says which rule caught it and why", () => {
    expect(reason(fall, named)).toBe("Rule b catches it (allow): person ada.");
    expect(reason({ ...fall, caughtBy: "", outcome: "deny" }, named)).toBe(
      "No rule matches; the default verdict is deny.",
    );
  });

  it("is text with what it passed and what came too late", () => {
    expect(inWords(fall, named).split("\n")).toEqual([
      "from Offices as ada to Internet using Chat at tue 10:00",
      "→ allow. Rule b catches it (allow): person ada.",
      "passed rule a: from zone is Offices, not Guests",
      "too late: rule c (deny)",
      "too late: 2 more",
    ]);
  });

  it("becomes a rule about what was said, and not about what was filled in", () => {
    const parts = [
      part("from zone", "Offices"),
      part("from address", "10.20.0.10", true),
      part("person", "livia.quist"),
      part("device", "unknown"),
      part("to zone", "Internet"),
      part("to address", "203.0.113.10"),
      part("site", "chat.example"),
      part("service", "tcp/443"),
      part("application", "Chatterbay/upload over TLS"),
      part("time", "tue 10:00"),
    ];
    expect(ruleSentence(parts, "deny")).toBe(
      "deny from Offices as livia.quist to Internet chat.example using Chatterbay/upload",
    );
    expect(ruleSentence([part("to zone", "Internet"), part("service", "udp/53")], "allow")).toBe(
      "allow to Internet using udp/53",
    );
  });
});
