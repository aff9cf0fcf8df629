// @vitest-environment node
import { afterEach, describe, expect, it, vi } from "vitest";
import { api, setReason } from "./client";
import { work } from "./work";

afterEach(() => {
  setReason("");
  vi.unstubAllGlobals();
});

describe("what requests carry", () => {
  it("is a reason only where something is changed", async () => {
    const sent: RequestInit[] = [];
    vi.stubGlobal("fetch", (_: string, init: RequestInit) => {
      sent.push(init);
      return Promise.resolve(new Response("{}"));
    });
    setReason(" CHG-1 für Łukasz ");
    await api.rulebase("b", "Wanda");
    await api.edit("b", "Wanda", 0, "moved", []);
    await api.loadTape("b", "Wanda", "t", new Blob(["times,connection"]));
    expect(sent.map(({ headers }) => (headers as Record<string, string>)["Sieve-Reason"])).toEqual([
      undefined,
      encodeURIComponent("CHG-1 für Łukasz"),
      encodeURIComponent("CHG-1 für Łukasz"),
    ]);
  });

  it("is a name while a change is on its way, and closing the connection cancels it", async () => {
    vi.stubGlobal(
      "fetch",
      (_: string, init: RequestInit) =>
        new Promise((_, reject) =>
          init.signal?.addEventListener("abort", () => reject(new Error("aborted"))),
        ),
    );
    const edit = api.edit("b", "Wanda", 0, "moved rule 9", []);
    expect(work.now().map(({ what }) => what)).toEqual(["moved rule 9"]);
    work.now()[0].cancel();
    await expect(edit).rejects.toThrow("You cancelled this");
    expect(work.now()).toEqual([]);
  });
});
