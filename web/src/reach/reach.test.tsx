import { fireEvent, screen, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { answers, asked, show, withServer } from "../testing";
import { ReachPage } from "./ReachPage";

withServer();

const shownIn = {
  openRulebase: {
    id: "main",
    rulebase: { revision: 1, chapters: [] },
    named: () => "the default verdict",
  },
};

function cell(standing: string, share: number, dependsOn: string[] = []) {
  const decider = (verdict: string, part: number) => ({
    rule: "",
    outcome: verdict,
    verdict,
    share: part,
    probe: `from Offices to Internet at ${verdict}`,
  });
  return {
    standing,
    dependsOn,
    complete: true,
    deciders: [decider("allow", share), decider("deny", 1 - share)],
  };
}

beforeEach(() => {
  answers["rulebases/main/choices?kind=zone"] = [{ value: "Offices", kind: "zone", detail: "" }];
  answers["rulebases/main/choices"] = [{ value: "group Crew", kind: "group", detail: "" }];
  answers.catalogue = {
    edition: 41,
    applications: [{ name: "Mail", category: "mail" }],
  };
});

describe("reach", () => {
  it("is a map of groups by categories in which what depends says on what", async () => {
    answers["rulebases/main/reach"] = {
      revision: 1,
      people: ["group Crew", "unidentified"],
      applications: ["category mail"],
      rows: [[cell("depends", 0.75, ["the device"])], [cell("blocked", 0)]],
    };
    show(<ReachPage />, shownIn);
    const map = within(await screen.findByRole("table"));
    expect(map.getByTitle("depends on the device")).toBeTruthy();
    expect(map.getByRole("img", { name: "blocked" })).toBeTruthy();
    const request = asked.find((one) => one.path === "rulebases/main/reach");
    expect(request?.body).toEqual({
      people: ["group Crew", "unidentified"],
      applications: ["category mail"],
      from: ["Offices"],
      to: ["Internet"],
    });
  });

  it("follows a cell to the rules that decide it", async () => {
    answers["rulebases/main/reach"] = {
      revision: 1,
      people: ["group Crew"],
      applications: ["category mail"],
      rows: [[cell("depends", 0.75, ["the device", "the time"])]],
    };
    show(<ReachPage />, shownIn);
    fireEvent.click(await screen.findByTitle("depends on the device, the time"));
    const detail = within(await screen.findByRole("region", { name: "group Crew, using category mail" }));
    expect(detail.getByText("It depends on the device, the time.")).toBeTruthy();
    expect(detail.getByText(/75\s*%/)).toBeTruthy();
    fireEvent.click(detail.getAllByText("Try it")[1]);
    expect(window.location.search).toContain("probe=from+Offices+to+Internet+at+deny");
  });

  it("says what the server has against a question", async () => {
    answers["rulebases/main/reach"] = { status: 422, detail: "more than 2000 cells are too many at once" };
    show(<ReachPage />, shownIn);
    expect(await screen.findByText("more than 2000 cells are too many at once")).toBeTruthy();
  });
});
