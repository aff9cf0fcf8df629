import { describe, expect, it } from "vitest";
import { textOf } from "./textOf";

const bytes = (...all: number[]) => new Blob([new Uint8Array(all)]);

describe("the text of a file", () => {
  it("is read in the encoding it is in", async () => {
    expect(await textOf(new Blob(["Züge, 城"]))).toBe("Züge, 城");
    expect(await textOf(bytes(0x5a, 0xfc, 0x67, 0x65))).toBe("Züge");
    expect(await textOf(bytes(0xff, 0xfe, 0x5a, 0x00, 0xfc, 0x00))).toBe("Zü");
    expect(await textOf(bytes(0xfe, 0xff, 0x00, 0x5a, 0x00, 0xfc))).toBe("Zü");
    expect(await textOf(bytes(0xef, 0xbb, 0xbf, 0x61))).toBe("a");
  });
});
