import { useQuery } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { lazy, Suspense, useEffect, useState } from "react";
import { api } from "../api/client";
import { useActions } from "../base/actions";
import { goTo, NOTHING_ASKED, useAddressPart } from "../base/address";
import { isTyping, setSingleKeys, useWindowKeys } from "../base/keys";
import { Link } from "../base/Link";
import { byName, press, written } from "../base/shortcuts";
import { useStableCallback } from "../base/useStableCallback";
import { useStored } from "../base/useStored";
import { useSystemTheme } from "../base/useSystemTheme";
import { ImpactPreview } from "../impact/ImpactPreview";
import { LastEditLine } from "../impact/LastEditImpact";
import { RulebasePage } from "../rulebase/RulebasePage";
import { OpenRulebaseProvider } from "../session/contexts";
import { useContexts } from "../session/useContexts";
import { BeginPage } from "../workspace/BeginPage";
import { useWorkspace } from "../workspace/useWorkspace";
import { Header } from "./Header";
import { KeysHelp } from "./KeysHelp";
import { PageBoundary } from "./PageBoundary";
import { Palette } from "./Palette";
import { Tour } from "./Tour";
import { UnreadStrip } from "./UnreadStrip";
import { UpdateBanner } from "./UpdateBanner";
import { useChanges } from "./useChanges";
import { WorkStrip } from "./WorkStrip";

// Each page is loaded when it is opened; the main page comes with the application.
const CataloguePage = lazy(() =>
  import("../catalogue/CataloguePage").then((page) => ({ default: page.CataloguePage })),
);
const DirectoryPage = lazy(() =>
  import("../directory/DirectoryPage").then((page) => ({ default: page.DirectoryPage })),
);
const GatewaysPage = lazy(() =>
  import("../gateways/GatewaysPage").then((page) => ({ default: page.GatewaysPage })),
);
const HistoryPage = lazy(() =>
  import("../history/HistoryPage").then((page) => ({ default: page.HistoryPage })),
);
const JobsPage = lazy(() => import("../jobs/JobsPage").then((page) => ({ default: page.JobsPage })));
const ListsPage = lazy(() => import("../lists/ListsPage").then((page) => ({ default: page.ListsPage })));
const PromisesPage = lazy(() =>
  import("../promises/PromisesPage").then((page) => ({ default: page.PromisesPage })),
);
const ReachPage = lazy(() => import("../reach/ReachPage").then((page) => ({ default: page.ReachPage })));
const ReleasesPage = lazy(() =>
  import("../releases/ReleasesPage").then((page) => ({ default: page.ReleasesPage })),
);
const SetsPage = lazy(() => import("../sets/SetsPage").then((page) => ({ default: page.SetsPage })));
const SharedPage = lazy(() => import("../shared/SharedPage").then((page) => ({ default: page.SharedPage })));
const SourcesPage = lazy(() =>
  import("../sources/SourcesPage").then((page) => ({ default: page.SourcesPage })),
);
const TrafficPage = lazy(() =>
  import("../traffic/TrafficPage").then((page) => ({ default: page.TrafficPage })),
);
const ZonesPage = lazy(() => import("../zones/ZonesPage").then((page) => ({ default: page.ZonesPage })));

/** The pages that can be shown without a rulebase. */
const OF_WORKSPACE = new Set(["gateways", "zones", "directory", "lists", "sources", "jobs"]);

/** What stands where there is no rulebase to show: the choice of how to begin, or the way to a first one. */
function FirstPage({ who }: { who: string }) {
  const workspace = useWorkspace(who);
  if (!workspace.data) return <p className="p-6 text-dim">Looking what is here …</p>;
  if (!workspace.data.begun) return <BeginPage who={who} />;
  return (
    <p className="p-6">
      There is no rulebase in use.{" "}
      <Link to={{ page: "gateways", ...NOTHING_ASKED }} className="text-rust underline">
        Make one, or bring one back
      </Link>
      .
    </p>
  );
}

/** The bar at the top and the page below it. */
export function AppShell() {
  const organisation = useQuery({
    queryKey: ["organisation"],
    queryFn: async () => (await api.workspace("")).organisation,
    staleTime: Number.POSITIVE_INFINITY,
  });
  // Somebody of the demo company signs nothing in anybody else's.
  const isDemo = organisation.data === undefined || organisation.data === "Saltmere Ferries";
  const [who, setWho] = useStored("editor", isDemo ? "Wanda Okafor" : "engineer");
  const [theme, setTheme] = useStored("theme", useSystemTheme());
  const { told, ...contexts } = useContexts(who);
  const { openRulebase, edits } = contexts;
  useChanges();
  const page = useAddressPart("page");
  const changeWho = useStableCallback(setWho);
  const changeTheme = useStableCallback(setTheme);
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  const [figures, setFigures] = useStored("figures", "hidden");
  useEffect(() => {
    document.documentElement.dataset.figures = figures;
  }, [figures]);
  const [single, setSingle] = useStored("single keys", "on");
  useEffect(() => setSingleKeys(single === "on"), [single]);
  const [help, setHelp] = useState(false);
  const [palette, setPalette] = useState(false);
  const does = {
    palette: () => setPalette(true),
    undo: () => edits.takeBack("undo"),
    redo: () => edits.takeBack("redo"),
    figures: () => setFigures(figures === "shown" ? "hidden" : "shown"),
    help: () => setHelp(true),
  };
  useWindowKeys((event) => {
    press(event, "everywhere", isTyping(event.target) ? { palette: does.palette } : does);
  });
  const rulebase = openRulebase.rulebase;
  // A link and no change of address: some of it would be shown in the place of the page.
  const download = (what: string, name: string) => {
    const link = document.createElement("a");
    link.href = `/api/rulebases/${encodeURIComponent(openRulebase.id)}/${what}`;
    link.download = name;
    link.click();
  };
  useActions([
    {
      name: rulebase?.undo ? `Undo: ${rulebase.undo}` : "Undo",
      key: written("undo"),
      run: does.undo,
    },
    {
      name: rulebase?.redo ? `Redo: ${rulebase.redo}` : "Redo",
      key: written("redo"),
      run: does.redo,
    },
    {
      name: theme === "dark" ? "Light surface" : "Dark surface",
      run: () => setTheme(theme === "dark" ? "light" : "dark"),
    },
    {
      name: figures === "shown" ? "Hide figures" : "Show figures beside the pictures",
      key: written("figures"),
      run: does.figures,
    },
    ...byName({ help: does.help }),
    {
      name: single === "on" ? "Switch single-key shortcuts off" : "Switch single-key shortcuts on",
      run: () => setSingle(single === "on" ? "off" : "on"),
    },
    { name: "Save promises as CSV", run: () => download("promises/csv?mark=true", "promises.csv") },
    {
      name: "Save the rulebase as text",
      run: () => download("file?format=rules", `${openRulebase.id}.rules`),
    },
    { name: "Save the rulebase as JSON", run: () => download("file?format=json", `${openRulebase.id}.json`) },
    {
      name: "Save the rulebase as CSV",
      run: () => download("file?format=csv&mark=true", `${openRulebase.id}.csv`),
    },
    {
      name: "Save the rulebase as an access list (RFC 8519)",
      run: () => download("file?format=acl", `${openRulebase.id}.acl.json`),
    },
    { name: "New rulebase", run: () => goTo({ page: "gateways", ...NOTHING_ASKED }) },
    ...openRulebase.heads
      .filter((head) => head.standing === "active" && head.id !== openRulebase.id)
      .map((head) => ({
        name: `Open rulebase ${head.name}`,
        run: () => goTo({ base: head.id, rule: undefined, probe: undefined }),
      })),
    { name: "Adopt an edition of the catalogue", run: () => goTo({ page: "catalogue", ...NOTHING_ASKED }) },
    { name: "Go back to an earlier revision", run: () => goTo({ page: "history", ...NOTHING_ASKED }) },
  ]);
  // What an edit did is told where it was made, and not on every page that is opened afterwards.
  const [came, setCame] = useState({ page, at: rulebase?.revision });
  if (came.page !== page || came.at === undefined) {
    if (came.page !== page || rulebase) setCame({ page, at: rulebase?.revision });
  }
  const editedHere = came.at !== undefined && (rulebase?.revision ?? 0) > came.at;
  return (
    <OpenRulebaseProvider {...contexts}>
      <Tooltip.Provider delayDuration={250}>
        <div className="flex h-full flex-col">
          <Header page={page} who={who} setWho={changeWho} theme={theme} setTheme={changeTheme} />
          <UpdateBanner />
          <WorkStrip />
          <UnreadStrip />
          {page === "rulebase" && <Tour />}
          <main className="flex min-h-0 flex-1 flex-col">
            <PageBoundary key={page}>
              <Suspense fallback={<p className="p-6 text-dim">Opening the page …</p>}>
                {openRulebase.isNothingThere && !OF_WORKSPACE.has(page) && <FirstPage who={who} />}
                {page === "sets" && <SetsPage />}
                {page === "shared" && <SharedPage />}
                {page === "reach" && <ReachPage />}
                {page === "catalogue" && <CataloguePage />}
                {page === "history" && <HistoryPage />}
                {page === "releases" && <ReleasesPage />}
                {page === "traffic" && <TrafficPage />}
                {page === "promises" && <PromisesPage />}
                {page === "gateways" && <GatewaysPage />}
                {page === "zones" && <ZonesPage />}
                {page === "directory" && <DirectoryPage />}
                {page === "jobs" && <JobsPage who={who} />}
                {page === "lists" && <ListsPage />}
                {page === "sources" && <SourcesPage />}
                {page === "rulebase" && !openRulebase.isNothingThere && (
                  <RulebasePage told={told} theme={theme} />
                )}
              </Suspense>
            </PageBoundary>
          </main>
          {/* Below, so that what comes and goes moves nothing under anybody's hands. */}
          {page !== "rulebase" && told.meant && (
            <p className="flex shrink-0 border-edge border-t bg-paper px-3 py-1">
              <ImpactPreview {...told.meant} />
            </p>
          )}
          {!["rulebase", "history"].includes(page) && !OF_WORKSPACE.has(page) && editedHere && (
            <LastEditLine told={told} open={() => goTo({ page: "history", ...NOTHING_ASKED })} />
          )}
        </div>
        <KeysHelp
          page={page}
          open={help}
          close={() => setHelp(false)}
          single={single === "on"}
          setSingle={(on) => setSingle(on ? "on" : "off")}
        />
        <Palette open={palette} close={() => setPalette(false)} />
      </Tooltip.Provider>
    </OpenRulebaseProvider>
  );
}
