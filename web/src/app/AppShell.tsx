import { ChevronDown, Moon, Redo2, Sun, Undo2 } from "lucide-react";
import { DropdownMenu, Tooltip } from "radix-ui";
import { lazy, memo, Suspense, useEffect, useState } from "react";
import { setReason } from "../api/client";
import { ImpactPreview } from "../impact/ImpactPreview";
import { LastEditLine } from "../impact/LastEditImpact";
import { RulebasePage } from "../rulebase/RulebasePage";
import { type Session, useSession } from "../session/useSession";
import { BeginPage } from "../workspace/BeginPage";
import { useWorkspace } from "../workspace/useWorkspace";
import { useActions } from "./actions";
import { goTo, NOTHING_ASKED, useAddressPart } from "./address";
import { KeysHelp } from "./KeysHelp";
import { useKept } from "./kept";
import { isTyping, setSingleKeys, useWindowKeys } from "./keys";
import { Link } from "./Link";
import { PageBoundary } from "./PageBoundary";
import { Palette } from "./Palette";
import { PAGES, WORKSPACE_PAGES } from "./pages";
import { byName, press, written } from "./shortcuts";
import { Tour } from "./Tour";
import { UnreadStrip } from "./UnreadStrip";
import { UpdateBanner } from "./UpdateBanner";
import { useSteady } from "./useSteady";
import { useSystemTheme } from "./useSystemTheme";
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
const ListsPage = lazy(() => import("../lists/ListsPage").then((page) => ({ default: page.ListsPage })));
const PromisesPage = lazy(() =>
  import("../promises/PromisesPage").then((page) => ({ default: page.PromisesPage })),
);
const ReachPage = lazy(() => import("../reach/ReachPage").then((page) => ({ default: page.ReachPage })));
const SetsPage = lazy(() => import("../sets/SetsPage").then((page) => ({ default: page.SetsPage })));
const SharedPage = lazy(() => import("../shared/SharedPage").then((page) => ({ default: page.SharedPage })));
const SourcesPage = lazy(() =>
  import("../sources/SourcesPage").then((page) => ({ default: page.SourcesPage })),
);
const TrafficPage = lazy(() =>
  import("../traffic/TrafficPage").then((page) => ({ default: page.TrafficPage })),
);
const ZonesPage = lazy(() => import("../zones/ZonesPage").then((page) => ({ default: page.ZonesPage })));

/** Who edits; taken over when it is written in full, for everything one may undo is asked for by it. */
function EditorName({ who, set }: { who: string; set: (who: string) => void }) {
  const [text, setText] = useState(who);
  const take = () => {
    const name = text.trim();
    if (name) set(name);
    setText(name || who);
  };
  return (
    <label className="text-dim" title="Whose edits these are">
      <span className="sr-only">Editing as</span>
      <input
        value={text}
        maxLength={100}
        onChange={(event) => setText(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === "Enter") event.currentTarget.blur();
          else if (event.key === "Escape") setText(who);
        }}
        className="w-28 max-[1400px]:w-27 rounded border border-edge bg-plate px-1.5 py-0.5 text-ink"
      />
    </label>
  );
}

/** Why one edits: a reason or a change reference, which every edit carries until it is another one. */
function Reason() {
  const [text, setText] = useKept("reason", "");
  useEffect(() => setReason(text), [text]);
  return (
    <label className="text-dim" title="Kept in the history with each edit you make">
      <span className="sr-only">Reason for changes</span>
      <input
        value={text}
        maxLength={200}
        placeholder="reason, change"
        onChange={(event) => setText(event.target.value)}
        className="w-32 max-[1400px]:w-28 rounded border border-edge bg-plate px-1.5 py-0.5 text-ink placeholder:text-faint"
      />
    </label>
  );
}

/** The pages that can be shown without a rulebase. */
const OF_WORKSPACE = new Set(["gateways", "zones", "directory", "lists", "sources"]);

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

/** The pages of what all rulebases are read against, in a menu beside those of the open rulebase. */
function WorkspaceMenu({ page }: { page: string }) {
  const here = WORKSPACE_PAGES.find(([one]) => one === page);
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        className={`flex items-center rounded px-1.5 py-1 max-[1400px]:px-1 ${here ? "bg-plate font-semibold shadow-[inset_0_-2px_0_var(--rust)]" : "text-dim"}`}
      >
        {here ? here[1] : "Workspace"} <ChevronDown size={12} aria-hidden="true" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          className="z-50 flex min-w-36 flex-col rounded border border-edge bg-plate py-1 shadow-xl"
        >
          {WORKSPACE_PAGES.map(([one, label]) => (
            <DropdownMenu.Item key={one} asChild>
              <Link
                to={{ page: one, ...NOTHING_ASKED }}
                aria-current={one === page ? "page" : undefined}
                className="px-3 py-1.5 data-[highlighted]:bg-rust-wash"
              >
                {label}
              </Link>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

type HeaderProps = {
  session: Session;
  page: string;
  who: string;
  setWho: (who: string) => void;
  theme: string;
  setTheme: (theme: string) => void;
};

/** Where one can go, which rulebase is open, what can be taken back, and who is at it. */
const Header = memo(function Header({ session, page: here, who, setWho, theme, setTheme }: HeaderProps) {
  const { rulebase } = session;
  const broken = session.promises?.filter((promise) => !promise.kept).length ?? 0;
  return (
    <header className="bar flex min-h-10 max-[1180px]:flex-wrap shrink-0 items-center gap-3 max-[1400px]:gap-2 whitespace-nowrap border-edge border-b bg-ground px-3">
      <h1 className="flex items-center gap-2 font-semibold">
        <img src="/sieve.svg" alt="" width="20" height="20" className="shrink-0" />
        <span className="max-[1400px]:sr-only">Iron Sieve</span>
      </h1>
      <nav aria-label="Places" className="flex max-[1180px]:flex-wrap">
        {PAGES.map(([page, label]) => (
          <Link
            key={page}
            to={{ page, ...NOTHING_ASKED }}
            aria-current={here === page ? "page" : undefined}
            className={`rounded px-1.5 py-1 max-[1400px]:px-1 ${here === page ? "bg-plate font-semibold shadow-[inset_0_-2px_0_var(--rust)]" : "text-dim"}`}
          >
            {label}
            {page === "promises" && broken > 0 && (
              <span className="ml-1.5 rounded bg-rust px-1 text-paper text-xs dark-ink">{broken} broken</span>
            )}
          </Link>
        ))}
        <WorkspaceMenu page={here} />
      </nav>
      <span className="flex items-center gap-1 text-dim">
        {session.heads.length > 1 ? (
          <select
            aria-label="Rulebase"
            value={session.id}
            onChange={(event) => goTo({ base: event.target.value, rule: undefined, probe: undefined })}
            className="max-w-36 rounded border border-edge bg-plate px-1 py-0.5 text-ink"
          >
            {session.heads
              .filter((head) => head.standing === "active" || head.id === session.id)
              .map((head) => (
                <option key={head.id} value={head.id}>
                  {head.standing === "active" ? head.name : `${head.name} (archived)`}
                </option>
              ))}
          </select>
        ) : (
          rulebase?.name
        )}
        {rulebase && <span>· revision {rulebase.revision}</span>}
      </span>
      <span className="ml-auto flex items-center gap-1">
        <button
          type="button"
          className="press"
          aria-label="Undo"
          title={rulebase?.undo ? `Undo: ${rulebase.undo}` : "Nothing to undo"}
          disabled={!rulebase?.undo}
          onClick={() => {
            session.intend(undefined);
            session.takeBack("undo");
          }}
          {...session.weighing("Undo", () => ({ action: "undo", who }))}
        >
          <Undo2 size={14} />
        </button>
        <button
          type="button"
          className="press"
          aria-label="Redo"
          title={rulebase?.redo ? `Redo: ${rulebase.redo}` : "Nothing to redo"}
          disabled={!rulebase?.redo}
          onClick={() => {
            session.intend(undefined);
            session.takeBack("redo");
          }}
          {...session.weighing("Redo", () => ({ action: "redo", who }))}
        >
          <Redo2 size={14} />
        </button>
      </span>
      <EditorName who={who} set={setWho} />
      <Reason />
      <button
        type="button"
        className="press"
        aria-label={theme === "dark" ? "Light surface" : "Dark surface"}
        onClick={() => setTheme(theme === "dark" ? "light" : "dark")}
      >
        {theme === "dark" ? <Sun size={14} /> : <Moon size={14} />}
      </button>
    </header>
  );
});

/** The bar at the top and the page below it. */
export function AppShell() {
  const [who, setWho] = useKept("editor", "Wanda Okafor");
  const [theme, setTheme] = useKept("theme", useSystemTheme());
  const { session, told } = useSession(who);
  const page = useAddressPart("page");
  const changeWho = useSteady(setWho);
  const changeTheme = useSteady(setTheme);
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  const [figures, setFigures] = useKept("figures", "hidden");
  useEffect(() => {
    document.documentElement.dataset.figures = figures;
  }, [figures]);
  const [single, setSingle] = useKept("single keys", "on");
  useEffect(() => setSingleKeys(single === "on"), [single]);
  const [help, setHelp] = useState(false);
  const [palette, setPalette] = useState(false);
  const does = {
    palette: () => setPalette(true),
    undo: () => session.takeBack("undo"),
    redo: () => session.takeBack("redo"),
    figures: () => setFigures(figures === "shown" ? "hidden" : "shown"),
    help: () => setHelp(true),
  };
  useWindowKeys((event) => {
    press(event, "everywhere", isTyping(event.target) ? { palette: does.palette } : does);
  });
  const rulebase = session.rulebase;
  // A link and no change of address: some of it would be shown in the place of the page.
  const download = (what: string, name: string) => {
    const link = document.createElement("a");
    link.href = `/api/rulebases/${encodeURIComponent(session.id)}/${what}`;
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
    { name: "Save promises as CSV", run: () => download("promises/csv", "promises.csv") },
    { name: "Save the rulebase as text", run: () => download("file?format=rules", `${session.id}.rules`) },
    { name: "Save the rulebase as JSON", run: () => download("file?format=json", `${session.id}.json`) },
    { name: "Save the rulebase as CSV", run: () => download("file?format=csv", `${session.id}.csv`) },
    {
      name: "Save the rulebase as an access list (RFC 8519)",
      run: () => download("file?format=acl", `${session.id}.acl.json`),
    },
    { name: "New rulebase", run: () => goTo({ page: "gateways", ...NOTHING_ASKED }) },
    ...session.heads
      .filter((head) => head.standing === "active" && head.id !== session.id)
      .map((head) => ({
        name: `Open rulebase ${head.name}`,
        run: () => goTo({ base: head.id, rule: undefined, probe: undefined }),
      })),
    { name: "Adopt an edition of the catalogue", run: () => goTo({ page: "catalogue", ...NOTHING_ASKED }) },
    { name: "Go back to an earlier revision", run: () => goTo({ page: "history", ...NOTHING_ASKED }) },
  ]);
  // What an edit did is told where it was made, and not on every page that is opened afterwards.
  const [came, setCame] = useState({ page: page, at: rulebase?.revision });
  if (came.page !== page || came.at === undefined) {
    if (came.page !== page || rulebase) setCame({ page: page, at: rulebase?.revision });
  }
  const editedHere = came.at !== undefined && (rulebase?.revision ?? 0) > came.at;
  return (
    <Tooltip.Provider delayDuration={250}>
      <div className="flex h-full flex-col">
        <Header
          session={session}
          page={page}
          who={who}
          setWho={changeWho}
          theme={theme}
          setTheme={changeTheme}
        />
        <UpdateBanner />
        <WorkStrip />
        <UnreadStrip session={session} />
        {page === "rulebase" && <Tour session={session} />}
        <main className="flex min-h-0 flex-1 flex-col">
          <PageBoundary key={page}>
            <Suspense fallback={<p className="p-6 text-dim">Opening the page …</p>}>
              {session.isNothingThere && !OF_WORKSPACE.has(page) && <FirstPage who={who} />}
              {page === "sets" && <SetsPage session={session} />}
              {page === "shared" && <SharedPage session={session} />}
              {page === "reach" && <ReachPage session={session} />}
              {page === "catalogue" && <CataloguePage session={session} />}
              {page === "history" && <HistoryPage session={session} />}
              {page === "traffic" && <TrafficPage session={session} />}
              {page === "promises" && <PromisesPage session={session} />}
              {page === "gateways" && <GatewaysPage session={session} />}
              {page === "zones" && <ZonesPage session={session} />}
              {page === "directory" && <DirectoryPage session={session} />}
              {page === "lists" && <ListsPage session={session} />}
              {page === "sources" && <SourcesPage session={session} />}
              {page === "rulebase" && <RulebasePage session={session} told={told} theme={theme} />}
            </Suspense>
          </PageBoundary>
        </main>
        {/* Below, so that what comes and goes moves nothing under anybody's hands. */}
        {page !== "rulebase" && told.meant && (
          <p className="flex shrink-0 border-edge border-t bg-paper px-3 py-1">
            <ImpactPreview session={session} {...told.meant} />
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
      <Palette open={palette} close={() => setPalette(false)} session={session} />
    </Tooltip.Provider>
  );
}
