import { beforeEach, describe, expect, it } from "vitest";
import { goTo, readAddress } from "./address";

describe("the address", () => {
  beforeEach(() => window.history.replaceState(null, "", "/"));

  it("is the rulebase with nothing selected at first", () => {
    expect(readAddress()).toEqual({ page: "rulebase" });
  });

  it("keeps page, selection and probe, so that a view can be shared", () => {
    goTo({ rule: "gw-admin", probe: "from Offices to Internet" });
    expect(window.location.search).toContain("rule=gw-admin");
    goTo({ page: "sets", find: "Web & mail" });
    expect(window.location.pathname).toBe("/sets");
    expect(readAddress()).toEqual({
      page: "sets",
      rule: "gw-admin",
      probe: "from Offices to Internet",
      find: "Web & mail",
    });
    goTo({ base: "generated-1000" });
    expect(readAddress().base).toBe("generated-1000");
  });

  it("has the rulebase in its path, and the workspace's pages beside", () => {
    goTo({ base: "northquay", rule: "a" });
    expect(window.location.pathname).toBe("/r/northquay/");
    goTo({ page: "sets" });
    expect(window.location.pathname).toBe("/r/northquay/sets");
    goTo({ page: "zones", rule: undefined });
    expect(window.location.pathname + window.location.search).toBe("/zones?in=northquay");
    goTo({ page: "rulebase" });
    expect(window.location.pathname).toBe("/r/northquay/");
  });

  it("reads letters of any alphabet, links from before, and what is no address", () => {
    goTo({ base: "łódź" });
    expect(readAddress()).toEqual({ page: "rulebase", base: "łódź" });
    window.history.replaceState(null, "", "/sets?in=main");
    expect(readAddress()).toEqual({ page: "sets", base: "main" });
    window.history.replaceState(null, "", "/r/%E0%A4%A/sets");
    expect(readAddress()).toEqual({ page: "rulebase" });
  });

  it("keeps what else the address has until another page is opened", () => {
    window.history.replaceState(null, "", "/?tour=&in=old&rule=a");
    goTo({ base: "main" });
    expect(window.location.pathname + window.location.search).toBe("/r/main/?tour=&rule=a");
    goTo({ page: "sets" });
    expect(window.location.search).toBe("?rule=a");
  });

  it("leaves behind what is asked of one page only", () => {
    goTo({ page: "reach", who: "group Deck crew", from: "Ships" });
    goTo({ what: "Chatterbay" });
    expect(window.location.search).toBe("?who=group+Deck+crew&what=Chatterbay&from=Ships");
    goTo({ page: "catalogue" });
    expect(readAddress()).toEqual({ page: "catalogue" });
  });

  it("can be gone back from to another page, but not through every selection", () => {
    const before = window.history.length;
    goTo({ rule: "a" });
    goTo({ rule: "b" });
    expect(window.history.length).toBe(before);
    goTo({ page: "catalogue" });
    expect(window.history.length).toBe(before + 1);
  });
});
