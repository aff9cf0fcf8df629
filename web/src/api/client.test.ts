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
    const sent: Request[] = [];
    vi.stubGlobal("fetch", (request: Request) => {
      sent.push(request);
      return Promise.resolve(Response.json({}));
    });
    setReason(" CHG-1 für Łukasz ");
    await api.rulebase("b", "Wanda");
    await api.edit("b", "Wanda", 0, "moved", []);
    await api.loadTape("b", "Wanda", "t", new Blob(["times,connection"]));
    expect(sent.map(({ headers }) => headers.get("Sieve-Reason"))).toEqual([
      null,
      encodeURIComponent("CHG-1 für Łukasz"),
      encodeURIComponent("CHG-1 für Łukasz"),
    ]);
  });

  it("is a name while a change is on its way, and closing the connection cancels it", async () => {
    vi.stubGlobal(
      "fetch",
      (request: Request) =>
        new Promise((_, reject) =>
          request.signal.addEventListener("abort", () => reject(new Error("aborted"))),
        ),
    );
    const edit = api.edit("b", "Wanda", 0, "moved rule 9", []);
    expect(work.now().map(({ what }) => what)).toEqual(["moved rule 9"]);
    work.now()[0].cancel();
    await expect(edit).rejects.toThrow("You cancelled this");
    expect(work.now()).toEqual([]);
  });

  it("is a file as it is, under the name of its tape", async () => {
    const sent: Request[] = [];
    vi.stubGlobal("fetch", (request: Request) => {
      sent.push(request);
      return Promise.resolve(Response.json({}));
    });
    await api.loadTape("b", "Wanda", "a/b c", new Blob(["times,connection"]), { keys: new Blob(["keys"]) });
    expect(new URL(sent[0].url).pathname).toBe("/api/rulebases/b/tapes/a%2Fb%20c");
    expect(sent[0].headers.get("Content-Type")).toBe("application/octet-stream");
    expect(sent[0].headers.get("Sieve-Keys-Length")).toBe("4");
    expect(await sent[0].text()).toBe("keystimes,connection");
  });
});

describe("what is answered", () => {
  it("is a problem where it is no success, and a sentence where nobody answers", async () => {
    const problem = { type: "/problems/x", title: "X", status: 422, detail: "There is no zone." };
    vi.stubGlobal("fetch", () => Promise.resolve(Response.json(problem, { status: 422 })));
    await expect(api.zones()).rejects.toMatchObject({ problem });
    vi.stubGlobal("fetch", () => Promise.resolve(new Response("<html>", { status: 502 })));
    await expect(api.zones()).rejects.toThrow("The server answered 502.");
    vi.stubGlobal("fetch", () => Promise.reject(new TypeError("refused")));
    await expect(api.zones()).rejects.toThrow("The server does not answer. Nothing you typed is lost");
  });
});
