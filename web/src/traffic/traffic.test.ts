import { describe, expect, it } from "vitest";
import type { Application, Sample } from "../api/client";
import { grouped } from "../base/grouped";
import { isForeignTable } from "./Mapping";
import { maskedTerm } from "./SignatureEditor";
import { rowOf } from "./Unrecognised";
import { bytes, share } from "./units";
import { choicesOf, networkOf, sentenceOf } from "./widths";

describe("how wide a rule about a connection is", () => {
  const part = (detail: string, value: string) => ({ detail, value, filledIn: false });
  const parts = [
    part("from zone", "Offices"),
    part("from address", "10.20.12.40"),
    part("person", "ines.halloran"),
    part("to zone", "Internet"),
    part("to address", "203.0.113.44"),
    part("site", "www.chatterbay.example"),
    part("application", "Chatterbay/post over TLS"),
    part("service", "tcp/443"),
  ];
  const applications = [
    { name: "Chatterbay", family: "Chatter", category: "social" },
  ] as unknown as Application[];

  it("goes from exactly this to anything", () => {
    const choices = choicesOf(parts, ["Press"], applications, []);
    expect(choices.person).toEqual(["ines.halloran", "group Press", "any"]);
    expect(choices.using).toEqual([
      "Chatterbay/post",
      "Chatterbay",
      "family Chatter",
      "category social",
      "tcp/443",
      "any",
    ]);
    expect(choices.to[0]).toBe("www.chatterbay.example");
    expect(sentenceOf("deny", choices, {})).toBe(
      "deny from Offices as ines.halloran to www.chatterbay.example using Chatterbay/post",
    );
    expect(sentenceOf("deny", choices, { from: "10.20.12.0/24", person: "any", using: "Chatterbay" })).toBe(
      "deny from 10.20.12.0/24 to www.chatterbay.example using Chatterbay",
    );
  });

  it("names nobody where the record does not say who it was", () => {
    expect(choicesOf(parts, [], applications, ["person"]).person).toEqual(["any"]);
  });

  it("knows the network of an address of either version", () => {
    expect(networkOf("10.20.12.40")).toBe("10.20.12.0/24");
    expect(networkOf("2001:db8:20::a")).toBe("2001:db8:20::/64");
    expect(networkOf("2001:db8:20:7:1:2:3:4")).toBe("2001:db8:20:7::/64");
    expect(networkOf("::1")).toBe("::/64");
  });
});

describe("what is said of amounts", () => {
  it("has units and does not round something to nothing", () => {
    expect(bytes(999)).toBe("999 bytes");
    expect(bytes(1_234)).toBe("1.2 kB");
    expect(bytes(45_600_000)).toBe("46 MB");
    expect(share(1, 10_000)).toBe("under 1 %");
    expect(share(0, 0)).toBe("0 %");
    expect(share(1, 3)).toBe("33 %");
  });
});

describe("marked bytes", () => {
  it("are asked for where they stand", () => {
    expect(maskedTerm("client bytes", "16 03 01 02", [0, 1])).toBe('client bytes starts hex "16 03"');
    expect(maskedTerm("client bytes", "16 03 01 02", [2, 3])).toBe('client bytes at 2 is hex "01 02"');
  });
});

describe("a file of traffic", () => {
  const file = (content: BlobPart) => new File([content], "f");
  it("is asked about where it is a table in somebody else's words", async () => {
    expect(await isForeignTable(file("Start,Src,Dst\n"))).toBe(true);
    expect(await isForeignTable(file('{"ts": 1}\n'))).toBe(true);
    expect(await isForeignTable(file("times,connection\n"))).toBe(false);
    expect(await isForeignTable(file("<134>1 2026"))).toBe(false);
    expect(await isForeignTable(file(new Uint8Array([0x0a, 0x0d, 0x0d, 0x0a, 0, 0])))).toBe(false);
    expect(await isForeignTable(file(""))).toBe(false);
  });
});

describe("what nobody recognised", () => {
  it("stands in one row where it reads the same, whatever tape it is on", () => {
    const sample = (tape: string, number: number, host: string, path?: string) =>
      ({
        tape,
        number,
        host,
        service: "tcp/443",
        recognised: "TLS",
        facts: path ? [{ field: "path", value: path }] : [],
      }) as unknown as Sample;
    const rows = grouped(
      [sample("a", 1, "x.example"), sample("b", 1, "x.example"), sample("a", 2, "x.example", "/up")],
      rowOf,
    );
    expect(rows.map(([, some]) => some.length)).toEqual([2, 1]);
  });
});
