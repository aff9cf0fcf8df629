import type { Application, Fall } from "../api/client";

/** Who, from where, to where and what a rule may be about: narrowest first; "any" leaves a part out. */
export type Choices = { from: string[]; person: string[]; to: string[]; using: string[] };

const ANY = "any";

/** The network of an address that is commonly meant: 24 bits of IPv4, 64 of IPv6. */
export function networkOf(address: string): string {
  if (!address.includes(":")) return `${address.split(".").slice(0, 3).join(".")}.0/24`;
  const [left, right = ""] = address.split("::");
  const before = left.split(":").filter(Boolean);
  const after = right.split(":").filter(Boolean);
  const groups = address.includes("::")
    ? [...before, ...Array(8 - before.length - after.length).fill("0"), ...after]
    : before;
  const kept = groups.slice(0, 4);
  while (kept.length > 0 && kept[kept.length - 1] === "0") kept.pop();
  return `${kept.join(":")}::/64`;
}

/** What each part of a rule about a connection may be, from exactly this to anything. */
export function choicesOf(
  parts: Fall["parts"],
  groups: string[],
  applications: Application[],
  unsaid: string[],
): Choices {
  const said = new Map(parts.map((part) => [part.detail, part.value]));
  const source = said.get("from address") ?? "";
  const target = said.get("to address") ?? "";
  const person = said.get("person");
  const site = said.get("site");
  const isNamed = site !== undefined && site !== "no host name" && site !== "unknown";
  const use = (said.get("application") ?? "").replace(/ over .*$/, "");
  const name = use.split("/")[0];
  const application = applications.find((one) => one.name === name);
  return {
    from: [said.get("from zone") ?? "", networkOf(source), source, ANY].filter(Boolean),
    person: [
      ...(person && person !== "unidentified" && !unsaid.includes("person")
        ? [person, ...groups.map((group) => `group ${group}`)]
        : []),
      ANY,
    ],
    to: [...(isNamed ? [site] : []), said.get("to zone") ?? "", networkOf(target), target, ANY].filter(
      Boolean,
    ),
    using: [
      ...(application ? [use] : []),
      ...(use.includes("/") ? [name] : []),
      ...(application?.family ? [`family ${application.family}`] : []),
      ...(application ? [`category ${application.category}`] : []),
      said.get("service") ?? "",
      ANY,
    ].filter(Boolean),
  };
}

/** The rule in the words of a rule. */
export function sentenceOf(verdict: string, choices: Choices, picked: Record<string, string>): string {
  const value = (part: keyof Choices) => picked[part] ?? choices[part][0];
  const words = (lead: string, part: keyof Choices) => (value(part) === ANY ? "" : ` ${lead} ${value(part)}`);
  return (
    verdict + words("from", "from") + words("as", "person") + words("to", "to") + words("using", "using")
  );
}
