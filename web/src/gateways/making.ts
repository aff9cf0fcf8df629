import type { UnknownName, WorkspaceStep } from "../api/client";
import { valuesOf } from "../base/valuesOf";

/** What must be said of a name before it can be made; nothing where its name says all. */
export type Wanted = { label: string; hint: string } | undefined;

type Making = { wanted: Wanted; step: (text: string) => WorkspaceStep };

const ADDRESSES = { label: "addresses", hint: "203.0.113.0/28, 203.0.113.40" };

const put = (kind: string, doc: Record<string, unknown>): WorkspaceStep => ({ op: "PUT", kind, doc });

/** What comes after a word such as "list", where a value begins with it. */
const after = (word: string, value: string) =>
  value.startsWith(`${word} `) ? value.slice(word.length + 1) : undefined;

/** How a name that stands for nothing here can be made to stand for something; nothing where it cannot by itself. */
export function making({ kind, value }: Pick<UnknownName, "kind" | "value">): Making | undefined {
  const set = after("set", value);
  if (set !== undefined)
    return {
      wanted: { label: "values", hint: "with commas between" },
      step: (text) => put("set", { kind, name: set, values: valuesOf(text), note: "" }),
    };
  switch (kind) {
    case "zone":
      return {
        wanted: { label: "networks", hint: "10.70.0.0/16, 2001:db8:70::/48" },
        step: (text) => put("zone", { name: value, side: "inside", networks: valuesOf(text), note: "" }),
      };
    case "person": {
      const group = after("group", value);
      if (group !== undefined)
        return { wanted: undefined, step: () => put("group", { name: group, parents: [], note: "" }) };
      return value.includes("=")
        ? undefined
        : { wanted: undefined, step: () => put("person", { login: value, name: value, groups: [] }) };
    }
    case "network": {
      const list = after("list", value);
      const country = after("country", value);
      const host = after("host", value);
      if (list !== undefined)
        return {
          wanted: ADDRESSES,
          step: (text) => put("address list", { name: list, addresses: valuesOf(text) }),
        };
      if (country !== undefined)
        return {
          wanted: ADDRESSES,
          step: (text) => put("country", { code: country, networks: valuesOf(text) }),
        };
      return host === undefined
        ? undefined
        : { wanted: ADDRESSES, step: (text) => put("host", { host, addresses: valuesOf(text) }) };
    }
    case "device":
      return { wanted: undefined, step: () => put("device kind", { name: value, position: 1000 }) };
    case "application":
      return after("family", value) !== undefined ||
        after("category", value) !== undefined ||
        value.includes("/")
        ? undefined
        : {
            wanted: { label: "usual ports", hint: "tcp/443, udp/5000" },
            step: (text) =>
              put("application", {
                name: value,
                category: "own",
                exposure: "slight",
                workValue: "some",
                content: "plain",
                usualPorts: valuesOf(text),
                ridesOn: [],
                needs: [],
                features: [],
              }),
          };
    default:
      return undefined;
  }
}
