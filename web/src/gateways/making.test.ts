import { describe, expect, it } from "vitest";
import { making } from "./making";

describe("making what a name stands for", () => {
  const step = (kind: string, value: string, text = "") => making({ kind, value })?.step(text);

  it("knows what each kind of name is", () => {
    expect(step("zone", "Depot", "10.70.0.0/16, 10.71.0.0/16")).toEqual({
      op: "PUT",
      kind: "zone",
      doc: { name: "Depot", side: "inside", networks: ["10.70.0.0/16", "10.71.0.0/16"], note: "" },
    });
    expect(step("person", "łucja")).toMatchObject({ kind: "person", doc: { login: "łucja" } });
    expect(step("person", "group Night shift")).toMatchObject({
      kind: "group",
      doc: { name: "Night shift" },
    });
    expect(step("network", "list Depots", "192.0.2.1")).toMatchObject({
      kind: "address list",
      doc: { name: "Depots", addresses: ["192.0.2.1"] },
    });
    expect(step("network", "host a.example", "192.0.2.1")).toMatchObject({ kind: "host" });
    expect(step("service", "set Web", "tcp/443; tcp/80")).toMatchObject({
      kind: "set",
      doc: { kind: "service", name: "Web", values: ["tcp/443", "tcp/80"] },
    });
    expect(step("application", "Tally")).toMatchObject({ kind: "application", doc: { category: "own" } });
  });

  it("leaves alone what only others can make", () => {
    for (const [kind, value] of [
      ["application", "category web"],
      ["application", "Tally/upload"],
      ["person", "port=Saltmere"],
      ["site", "category News"],
      ["network", "10.0.0.0/33"],
    ])
      expect(making({ kind, value })).toBeUndefined();
  });
});
