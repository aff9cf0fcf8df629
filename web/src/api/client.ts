import createClient from "openapi-fetch";
import type { components, paths } from "./schema";
import { type Carried, working } from "./work";

type Schemas = components["schemas"];
export type Head = Schemas["HeadView"];
export type Release = Schemas["ReleaseView"];
export type GatewayState = Schemas["GatewayView"];
/** What came of a connection that was opened through a gateway. */
export type Tried = Schemas["DeskView"];
/** A connection as a gateway says that it decided it. */
export type Decided = Schemas["DecidedView"];
export type DeliveryOrder = Schemas["OrderRequest"];
export type DeliveryPlan = Schemas["PlanView"];
/** What is in force, and how the draft differs from it. */
export type InForce = Schemas["InForceView"];
export type InForceFall = Schemas["InForceFallView"];
export type ReleasePreview = Schemas["PreviewView"];
export type Rulebase = Schemas["RulebaseView"];
export type Chapter = Schemas["ChapterView"];
export type Question = Schemas["QuestionView"];
export type Unread = Schemas["FaultView"];
export type Rule = Schemas["RuleView"];
export type RuleField = Schemas["FieldView"];
export type Reach = Schemas["ReachView"];
export type ReachCell = Schemas["CellView"];
export type Editions = Schemas["EditionsView"];
export type EditionImpact = Schemas["EditionImpactView"];
export type Notice = Schemas["NoticeDoc"];
export type Lane = Schemas["LaneDoc"];
export type Rates = Schemas["RatesDoc"];
export type DecryptionRule = Schemas["DecryptionRuleDoc"];
export type Sheet = Schemas["SheetDoc"];
export type Parts = Schemas["PartsView"];
export type NamedSet = Schemas["SetView"];
export type Progress = Schemas["ProgressView"];
export type Review = Schemas["ReviewView"];
export type ZoneReach = Schemas["ZoneReachView"];
export type ZoneGroup = Schemas["ZoneGroupView"];
export type Sight = Schemas["SightView"];
export type RuleReview = Schemas["RuleReviewView"];
export type RuleDetail = Schemas["RuleDetailView"];
export type Mark = Schemas["MarkView"];
export type Metadata = Schemas["MetadataDoc"];
export type Placement = Schemas["PlacementView"];
export type Said = Schemas["SaidView"];
export type Gauge = Schemas["GaugeView"];
export type Hits = Schemas["HitsView"];
export type Count = Schemas["CountView"];
export type Caught = Schemas["CaughtView"];
export type TapeView = Schemas["TapeView"];
export type Replay = Schemas["ReplayView"];
export type Replayed = Schemas["ReplayedView"];
export type Watch = Schemas["WatchView"];
export type Sample = Schemas["SampleView"];
export type TrafficAnswer = Schemas["TrafficAnswer"];
export type Sum = Schemas["SumView"];
export type RecordedConnection = Schemas["ConnectionView"];
/** What counts: connections, or bytes both ways. */
export type Measure = "connections" | "bytes";
/** What recorded traffic is narrowed to: values such as `application:NAME`, and bounds of time. */
export type Narrowing = { only: string[]; from?: string; to?: string };
export type Finding = Schemas["FindingView"];
export type Residue = Schemas["ResidueView"];
export type Witness = Schemas["WitnessView"];
export type Fall = Schemas["FallView"];
export type Reason = Schemas["ReasonView"];
export type HistoryEvent = Schemas["EventView"];
export type JournalEntry = Schemas["JournalView"];
export type Edited = Schemas["EditedView"];
export type Since = Schemas["SinceView"];
export type Job = Schemas["JobView"];
export type FailedJob = Schemas["FailedView"];
export type Step = Schemas["RulebaseStep"];
/** Steps of some kinds only. */
export type StepOf<Op extends Step["op"]> = Extract<Step, { op: Op }>;
/** A step about one rule. */
export type RuleStep = StepOf<"ADD_RULE" | "CHANGE_RULE" | "MOVE_RULE" | "REMOVE_RULE">;
/** What a step sets on its rule; nothing where it only moves or removes it. */
export const patchOf = (step: RuleStep) => ("rule" in step ? step.rule : undefined);
export const placeOf = (step: RuleStep) => ("place" in step ? step.place : undefined);
export type PromiseCheck = Schemas["PromiseView"];
export type Impact = Schemas["ImpactView"];
export type Records = Schemas["RecordsView"];
export type Source = Schemas["SourceView"];
/** A source as it is set up; only a directory says how people are found in it. */
export type SourceDoc = Required<Omit<Schemas["SourceDoc"], "directory" | "feed">> & {
  directory?: Schemas["LdapDoc"];
  feed?: Schemas["FeedDoc"];
};
export type ImpactKind = Schemas["KindView"];
export type Remedy = Schemas["RemedyView"];
export type RulePatch = Schemas["RulePatch"];
export type Choice = Schemas["ChoiceView"];
export type Written = Schemas["Written"];
export type Application = Schemas["ApplicationView"];
export type Catalogue = Schemas["CatalogueView"];
export type Completions = Schemas["CompletionsView"];
export type Workspace = Schemas["WorkspaceView"];
export type Card = Schemas["CardView"];
export type Zones = Schemas["ZonesView"];
export type Zone = Schemas["ZoneView"];
export type Band = Schemas["BandView"];
export type Directory = Schemas["DirectoryView"];
export type SharedSet = Schemas["SharedSetView"];
export type Person = Schemas["PersonView"];
export type Group = Schemas["GroupView"];
export type WorkspaceStep = Schemas["WorkspaceStep"];
export type WorkspaceImpact = Schemas["WorkspaceImpactView"];
export type OnRulebase = Schemas["OnRulebaseView"];
export type Use = Schemas["UseView"];
export type MakeRequest = Schemas["MakeRequest"];
export type NameChoice = Schemas["ChoiceRequest"];
export type Prepared = Schemas["PreparedView"];
export type UnknownName = Schemas["UnknownView"];

/** One field at fault in a problem document. */
export type FieldError = { place: string; field: string; message: string; value?: string; position?: number };

/** A problem document (RFC 9457) as the server sends it. */
export type ProblemDocument = {
  type: string;
  title: string;
  status: number;
  detail: string;
  errors?: FieldError[];
  revision?: number;
  since?: JournalEntry[];
};

/** Thrown for every answer that is not a success; `problem` says what and where. */
export class ApiError extends Error {
  constructor(readonly problem: ProblemDocument) {
    super(problem.detail);
  }
}

const cancelled: ProblemDocument = {
  type: "/problems/cancelled",
  title: "You cancelled this",
  status: 0,
  detail: "You cancelled this before the server answered. What is shown now is what the server has.",
};

const unreachable: ProblemDocument = {
  type: "/problems/unreachable",
  title: "The server cannot be reached",
  status: 0,
  detail: "The server does not answer. Nothing you typed is lost; try again when it is back.",
};

async function problemOf(response: Response): Promise<ProblemDocument> {
  try {
    return await response.json();
  } catch {
    return { ...unreachable, status: response.status, detail: `The server answered ${response.status}.` };
  }
}

/** Asks what the API's description has: paths, what they take and what they answer are checked by the compiler. */
const server = createClient<paths>({
  baseUrl: globalThis.location?.origin ?? "http://localhost",
  // Whatever it is when something is asked, not when this was loaded.
  fetch: (request) => globalThis.fetch(request),
});

server.use({
  onResponse: async ({ response }) => {
    if (!response.ok) throw new ApiError(await problemOf(response));
  },
  onError: ({ request }) => new ApiError(request.signal.aborted ? cancelled : unreachable),
});

/** What is answered; whatever is no success has been thrown. */
const data = <T>(answer: Promise<{ data?: T }>): Promise<T> => answer.then((one) => one.data as T);

/** What this window calls itself, for others to be told apart from it. */
const WINDOW = crypto.randomUUID?.() ?? String(Math.random());

/** Who edits, as a header can carry it: those have no letters beyond ASCII. */
const editor = (who: string) => ({ "Sieve-Editor": encodeURIComponent(who.trim()) });

let reason = "";

/** Who changes something, and why. */
const author = (who: string) => ({
  ...editor(who),
  ...(reason && { "Sieve-Reason": encodeURIComponent(reason) }),
});

/** Why whatever is done from now on is done; told with every change, and kept in the history. */
export function setReason(text: string): void {
  reason = text.trim();
}

/** What a change carries besides its body. */
const changing = (who: string, going?: Carried) => ({
  headers: { ...author(who), ...going?.headers },
  signal: going?.signal,
});

/** A body that is sent as it is. */
const raw = (body: Blob | string, type: string, who: string, going?: Carried, headers = {}) => ({
  headers: { "Content-Type": type, ...headers, ...author(who), ...going?.headers },
  signal: going?.signal,
  body: body as never,
  bodySerializer: (as: unknown) => as as BodyInit,
});

const of = (id: string) => ({ path: { id } });

const narrowed = ({ only, from, to }: Narrowing) => ({
  only,
  ...(from && { from }),
  ...(to && { to }),
});

const search = (values: Record<string, string | string[]>) =>
  new URLSearchParams(
    Object.entries(values).flatMap(([name, some]) => [some].flat().map((one) => [name, one])),
  );

/** Where what is looked at comes as a table. */
export const trafficTable = (id: string, by: string, narrowing: Narrowing) =>
  `/api/rulebases/${id}/traffic/table?${search({ by, ...narrowed(narrowing) })}`;

/** Where one list of a replay's sums is, as a table. */
export const replayTable = (id: string, number: number, by: string) =>
  `/api/rulebases/${id}/replays/${number}/table?${search({ by })}`;

/** What a file of recorded traffic is read with. */
export type LoadWith = {
  /** A TLS key log to open a capture with. */
  keys?: Blob;
  /** Whether what keys opened is kept as samples. */
  keepsOpened?: boolean;
  /** Who signed in where; somebody who is not heard of again is taken for there so many hours. */
  signIns?: { list: Blob; hours: number };
  /** Which column of a table says what, as JSON. */
  mapping?: string;
  /** Where there is a tape of that name: beside it, or in its place. */
  existing?: "beside" | "replace";
};

export const api = {
  heads: () => data(server.GET("/api/rulebases")),
  rulebase: (id: string, who: string) =>
    data(server.GET("/api/rulebases/{id}", { params: of(id), headers: editor(who) })),
  /** Says that this window has a rule open, and asks who else has. */
  openRule: (id: string, rule: string, who: string) =>
    data(
      server.PUT("/api/rulebases/{id}/open-rules/{rule}", {
        params: { path: { id, rule }, query: { window: WINDOW } },
        headers: { "Content-Type": "application/json", ...editor(who) },
      }),
    ),
  closeRule: (id: string, rule: string) =>
    data(
      server.DELETE("/api/rulebases/{id}/open-rules/{rule}", {
        params: { path: { id, rule }, query: { window: WINDOW } },
        keepalive: true,
      }),
    ),
  /** The tapes that were removed or replaced and can be brought back. */
  goneTapes: (id: string) => data(server.GET("/api/rulebases/{id}/tapes-gone", { params: of(id) })),
  bringBackTape: (id: string, number: number) =>
    data(
      server.POST("/api/rulebases/{id}/tapes-gone/{number}", {
        params: { path: { id, number } },
        headers: { "Content-Type": "application/json" },
      }),
    ),
  /** The review, or what differs from that of another state; `anew` also where somebody has stopped it. */
  review: (id: string, since = "", anew = false) =>
    data(
      server.GET("/api/rulebases/{id}/review", {
        params: { path: { id }, query: { since, ...(anew && { anew }) } },
      }),
    ),
  /** How far a request is that changes something; refused where it is already answered. */
  workProgress: (name: string) => data(server.GET("/api/work/{name}", { params: { path: { name } } })),
  progress: (id: string) => data(server.GET("/api/rulebases/{id}/review/progress", { params: of(id) })),
  stopReview: (id: string) => data(server.DELETE("/api/rulebases/{id}/review/progress", { params: of(id) })),
  /** Sets how many steps each question of the review may take. */
  allowSteps: (id: string, steps: number) =>
    data(server.PUT("/api/rulebases/{id}/review/steps", { params: of(id), body: { steps } })),
  ruleReview: (id: string, rule: string) =>
    data(server.GET("/api/rulebases/{id}/review/rules/{rule}", { params: { path: { id, rule } } })),
  rulebaseAt: (id: string, revision: number) =>
    data(server.GET("/api/rulebases/{id}", { params: { path: { id }, query: { revision } } })),
  between: (id: string, from: number, to: number, signal?: AbortSignal) =>
    data(server.GET("/api/rulebases/{id}/impact", { params: { path: { id }, query: { from, to } }, signal })),
  sentence: (id: string, text: string) =>
    data(server.POST("/api/rulebases/{id}/sentence", { params: of(id), body: { text } })),
  matching: (id: string, value: string) =>
    data(server.GET("/api/rulebases/{id}/matching", { params: { path: { id }, query: { value } } })),
  /** Which rules can match, and which get, some of what a sentence is about. */
  question: (id: string, text: string) =>
    data(server.POST("/api/rulebases/{id}/question", { params: of(id), body: { text } })),
  /** Some rules as text, in their order. */
  copied: (id: string, rules: string[]) =>
    data(server.POST("/api/rulebases/{id}/rules/copied", { params: of(id), body: rules })),
  pasted: (id: string, text: string) =>
    data(server.POST("/api/rulebases/{id}/rules/pasted", { params: of(id), body: { text } })),
  /** What the server is working on, and what has failed. */
  jobs: () => data(server.GET("/api/jobs")),
  cancelJob: (id: number, who: string) =>
    data(
      server.POST("/api/jobs/{id}/cancel", { params: { path: { id } }, body: {} as never, ...changing(who) }),
    ),
  /** What became of a rulebase since a revision; without `edited`, all of it is to be read. */
  changes: (id: string, who: string, since: number) =>
    data(
      server.GET("/api/rulebases/{id}/changes", {
        params: { path: { id }, query: { since } },
        headers: editor(who),
      }),
    ),
  events: (id: string) => data(server.GET("/api/rulebases/{id}/events", { params: of(id) })),
  /** The newest edits, newest first: before a revision, or of one rule. */
  journal: (id: string, { most = 100, ...some }: { before?: number; rule?: string; most?: number } = {}) =>
    data(server.GET("/api/rulebases/{id}/journal", { params: { path: { id }, query: { most, ...some } } })),
  edit: (id: string, who: string, revision: number, what: string, steps: Step[]) =>
    working(what, (going) =>
      data(
        server.POST("/api/rulebases/{id}/edits", {
          params: of(id),
          body: { revision, what, steps },
          ...changing(who, going),
        }),
      ),
    ),
  impact: (id: string, steps: Step[], signal?: AbortSignal) =>
    data(server.POST("/api/rulebases/{id}/impact", { params: of(id), body: { steps }, signal })),
  impactOfTakingBack: (id: string, who: string, action: "undo" | "redo", signal?: AbortSignal) =>
    data(
      server.GET("/api/rulebases/{id}/impact/{action}", {
        params: { path: { id, action } },
        headers: editor(who),
        signal,
      }),
    ),
  takeBack: (id: string, who: string, which: "undo" | "redo", revision: number) =>
    working(which, (going) =>
      data(
        server.POST(`/api/rulebases/{id}/${which}`, {
          params: of(id),
          body: { revision },
          ...changing(who, going),
        }),
      ),
    ),
  restore: (id: string, who: string, revision: number, old: number) =>
    working(`making revision ${old} current`, (going) =>
      data(
        server.POST("/api/rulebases/{id}/restore", {
          params: of(id),
          body: { revision, old },
          ...changing(who, going),
        }),
      ),
    ),
  /** The rulebase as text, as it is saved. */
  rulebaseText: (id: string): Promise<string> =>
    data(
      server.GET("/api/rulebases/{id}/file", {
        params: { path: { id }, query: { format: "rules" } },
        parseAs: "text",
      }),
    ),
  /** What a text would change in the place of what a rulebase says. */
  replacement: (id: string, revision: number, text: string, signal?: AbortSignal) =>
    data(
      server.POST("/api/rulebases/{id}/replacement", { params: of(id), body: { revision, text }, signal }),
    ),
  replace: (id: string, who: string, revision: number, text: string) =>
    working("replacing it by a text", (going) =>
      data(
        server.POST("/api/rulebases/{id}/replace", {
          params: of(id),
          body: { revision, text },
          ...changing(who, going),
        }),
      ),
    ),
  probe: (id: string, text: string) =>
    data(server.POST("/api/rulebases/{id}/probe", { params: of(id), body: { text } })),
  completions: (text: string) => data(server.GET("/api/probe/completions", { params: { query: { text } } })),
  choices: (id: string, kind: string, text: string) =>
    data(server.GET("/api/rulebases/{id}/choices", { params: { path: { id }, query: { kind, text } } })),
  about: (id: string, kind: string, value: string) =>
    data(server.GET("/api/rulebases/{id}/about", { params: { path: { id }, query: { kind, value } } })),
  promises: (id: string) => data(server.GET("/api/rulebases/{id}/promises", { params: of(id) })),
  releases: (id: string) => data(server.GET("/api/rulebases/{id}/releases", { params: of(id) })),
  /** What a release would do without the open changes that are left out. */
  releasePreview: (id: string, leftOut: number[], signal?: AbortSignal) =>
    data(
      server.GET("/api/rulebases/{id}/releases/preview", {
        params: { ...of(id), query: { leftOut } },
        signal,
      }),
    ),
  /** What one of the releases would do if it was put in force. */
  deliveryPreview: (id: string, number: number) =>
    data(server.GET("/api/rulebases/{id}/releases/{number}/preview", { params: { path: { id, number } } })),
  /** Nothing where nothing was ever released. */
  inForce: (id: string): Promise<InForce | null> =>
    data(server.GET("/api/rulebases/{id}/releases/in-force", { params: of(id) })).then((one) => one || null),
  /** The same probe asked of what is in force; nothing where nothing was ever released. */
  probeInForce: (id: string, text: string): Promise<InForceFall | null> =>
    data(server.POST("/api/rulebases/{id}/probe/in-force", { params: of(id), body: { text } })).then(
      (one) => one || null,
    ),
  release: (id: string, who: string, body: Schemas["ReleaseRequest"]) =>
    data(server.POST("/api/rulebases/{id}/releases", { params: of(id), body, headers: editor(who) })),
  deliver: (id: string, who: string, number: number, order?: DeliveryOrder) =>
    data(
      server.POST("/api/rulebases/{id}/releases/{number}/deliver", {
        params: { path: { id, number } },
        body: order ?? {},
        headers: editor(who),
      }),
    ),
  /** Nothing where all gateways are told at once. */
  deliveryPlan: (id: string): Promise<DeliveryPlan | null> =>
    data(server.GET("/api/rulebases/{id}/releases/plan", { params: of(id) })).then((one) => one || null),
  actOnPlan: (id: string, act: "pause" | "go-on" | "stop") =>
    data(
      server.POST("/api/rulebases/{id}/releases/plan/{act}", {
        params: { path: { id, act } },
        headers: { "Content-Type": "application/json" },
      }),
    ),
  gateways: () => data(server.GET("/api/gateways")),
  /** Opens a real connection through a gateway, as a client of a zone. */
  tryOpen: (name: string, zone: string, person: string, address: string) =>
    data(
      server.POST("/api/gateways/{name}/tries", {
        params: { path: { name } },
        body: { zone, person, address },
      }),
    ),
  /** What the gateways of a rulebase decided last, the newest first. */
  decided: (id: string, most: number) =>
    data(server.GET("/api/rulebases/{id}/decided", { params: { path: { id }, query: { most } } })),
  gatewayHits: (id: string) =>
    data(server.GET("/api/rulebases/{id}/decided/hits", { params: { path: { id } } })),
  inviteGateway: (name: string, rulebase: string) =>
    data(server.PUT("/api/gateways/{name}", { params: { path: { name } }, body: { rulebase } })),
  removeGateway: (name: string) =>
    data(server.DELETE("/api/gateways/{name}", { params: { path: { name } } })),
  loadPromises: (id: string, who: string, revision: number, csv: string) =>
    working("loading promises", (going) =>
      data(
        server.POST("/api/rulebases/{id}/promises/csv", {
          params: { path: { id }, query: { revision } },
          ...raw(csv, "text/csv", who, going),
        }),
      ),
    ),
  reach: (id: string, people: string[], applications: string[], from: string[], to: string[]) =>
    data(
      server.POST("/api/rulebases/{id}/reach", { params: of(id), body: { people, applications, from, to } }),
    ),
  /** What somebody can use between each two zones; without applications all of the catalogue. */
  reachBetweenZones: (id: string, person: string, application: string[]) =>
    data(
      server.GET("/api/rulebases/{id}/reach/zones", {
        params: { path: { id }, query: { person, application } },
      }),
    ),
  /** Whether the features of an application are seen between two zones; an empty name is any. */
  sight: (id: string, application: string, from: string, to: string) =>
    data(
      server.GET("/api/rulebases/{id}/sight", {
        params: {
          path: { id },
          query: { application, ...(from && { from: [from] }), ...(to && { to: [to] }) },
        },
      }),
    ),
  hits: (id: string) => data(server.GET("/api/rulebases/{id}/hits", { params: of(id) })),
  /** What a rule caught of the recorded traffic; without a rule what fell on the default verdict. */
  caught: (id: string, rule?: string) =>
    rule
      ? data(server.GET("/api/rulebases/{id}/hits/rules/{rule}", { params: { path: { id, rule } } }))
      : data(server.GET("/api/rulebases/{id}/hits/default-verdict", { params: of(id) })),
  /** Loads a file of recorded traffic; what says more of it goes before it. */
  loadTape: (
    id: string,
    who: string,
    name: string,
    file: Blob,
    { keys, keepsOpened, signIns, mapping, existing }: LoadWith = {},
  ) =>
    working(`loading ${name}`, (going) =>
      data(
        server.PUT("/api/rulebases/{id}/tapes/{name}", {
          params: { path: { id, name } },
          ...raw(new Blob([keys ?? "", signIns?.list ?? "", file]), "application/octet-stream", who, going, {
            ...(keys && { "Sieve-Keys-Length": String(keys.size) }),
            ...(keepsOpened && { "Sieve-Keep-Opened": "true" }),
            ...(signIns && {
              "Sieve-Sign-Ins-Length": String(signIns.list.size),
              "Sieve-Sign-Ins-Hours": String(signIns.hours),
            }),
            ...(mapping && { "Sieve-Mapping": encodeURIComponent(mapping) }),
            ...(existing && { "Sieve-Existing": existing }),
          }),
        }),
      ),
    ),
  /** What a table of any columns looks like, before it is read. */
  lookAtPeople: (people: string, columns: Record<string, string>, signal?: AbortSignal) =>
    data(server.POST("/api/workspace/directory/look", { body: { people, columns }, signal })),
  lookAtTable: (id: string, head: Blob) =>
    data(
      server.POST("/api/rulebases/{id}/tapes/look", {
        params: of(id),
        ...raw(head, "application/octet-stream", ""),
      }),
    ),
  listeners: (id: string) => data(server.GET("/api/rulebases/{id}/listeners", { params: of(id) })),
  listen: (id: string, tape: string, asked: Schemas["ListenRequest"]) =>
    data(server.PUT("/api/rulebases/{id}/listeners/{tape}", { params: { path: { id, tape } }, body: asked })),
  unlisten: (id: string, tape: string) =>
    data(server.DELETE("/api/rulebases/{id}/listeners/{tape}", { params: { path: { id, tape } } })),
  /** Files beside the server, dropped through a rulebase. */
  replays: (id: string) => data(server.GET("/api/rulebases/{id}/replays", { params: of(id) })),
  replaySources: (id: string) => data(server.GET("/api/rulebases/{id}/replays/sources", { params: of(id) })),
  beginReplay: (id: string, who: string, asked: Schemas["ReplayRequest"]) =>
    data(server.POST("/api/rulebases/{id}/replays", { params: of(id), body: asked, ...changing(who) })),
  replayed: (id: string, number: number) =>
    data(server.GET("/api/rulebases/{id}/replays/{number}", { params: { path: { id, number } } })),
  removeReplay: (id: string, number: number) =>
    data(server.DELETE("/api/rulebases/{id}/replays/{number}", { params: { path: { id, number } } })),
  /** What recorded traffic consists of, narrowed to what is looked at. */
  traffic: (id: string, by: string[], narrowing: Narrowing, measure: Measure, most = 8) =>
    data(
      server.GET("/api/rulebases/{id}/traffic", {
        params: { path: { id }, query: { by, ...narrowed(narrowing), measure, most } },
      }),
    ),
  /** The recorded connections that are looked at, most frequent first. */
  connections: (id: string, narrowing: Narrowing, most: number) =>
    data(
      server.GET("/api/rulebases/{id}/traffic/connections", {
        params: { path: { id }, query: { ...narrowed(narrowing), most } },
      }),
    ),
  /** What each rule caught, step by step. */
  replay: (id: string) => data(server.GET("/api/rulebases/{id}/traffic/fall", { params: of(id) })),
  unrecognised: (id: string) =>
    data(server.GET("/api/rulebases/{id}/traffic/unrecognised", { params: of(id) })),
  proposals: (id: string, tape: string, number: number) =>
    data(
      server.GET("/api/rulebases/{id}/tapes/{tape}/samples/{number}/proposals", {
        params: { path: { id, tape, number } },
      }),
    ),
  trySignatures: (id: string, asked: Schemas["TryRequest"]) =>
    data(server.POST("/api/rulebases/{id}/signatures/try", { params: of(id), body: asked })),
  findSignatures: (find: string) => data(server.GET("/api/signatures", { params: { query: { find } } })),
  watches: (id: string) => data(server.GET("/api/rulebases/{id}/watches", { params: of(id) })),
  keepWatch: (id: string, who: string, name: string, watch: Schemas["WatchRequest"]) =>
    data(
      server.PUT("/api/rulebases/{id}/watches/{name}", {
        params: { path: { id, name } },
        body: watch,
        ...changing(who),
      }),
    ),
  removeWatch: (id: string, name: string) =>
    data(server.DELETE("/api/rulebases/{id}/watches/{name}", { params: { path: { id, name } } })),
  removeTape: (id: string, name: string) =>
    data(server.DELETE("/api/rulebases/{id}/tapes/{name}", { params: { path: { id, name } } })),
  /** How much of a tape was seen before a day. */
  older: (id: string, name: string, than: { before: string } | { days: number }) =>
    data(
      server.GET("/api/rulebases/{id}/tapes/{name}/older", { params: { path: { id, name }, query: than } }),
    ),
  /** Says how many days of a tape are kept; nothing for all. */
  keepDays: (id: string, name: string, days?: number) =>
    data(
      server.PUT("/api/rulebases/{id}/tapes/{name}/keep", { params: { path: { id, name } }, body: { days } }),
    ),
  /** Takes that off the tape. */
  forgetOlder: (id: string, name: string, before: string) =>
    data(
      server.DELETE("/api/rulebases/{id}/tapes/{name}/older", {
        params: { path: { id, name }, query: { before } },
      }),
    ),
  editions: () => data(server.GET("/api/editions")),
  edition: (id: string, edition: number) =>
    data(server.GET("/api/rulebases/{id}/editions/{edition}", { params: { path: { id, edition } } })),
  /** Keeps an edition of the catalogue from a file; it is put in force apart. */
  loadEdition: (edition: number, who: string, csv: string) =>
    working(`loading edition ${edition}`, (going) =>
      data(
        server.PUT("/api/editions/{edition}", {
          params: { path: { edition } },
          ...raw(csv, "text/csv", who, going),
        }),
      ),
    ),
  adopt: (edition: number, who: string) =>
    working(`adopting edition ${edition}`, (going) =>
      data(
        server.POST("/api/editions/{edition}/adopt", {
          params: { path: { edition } },
          body: {} as never,
          ...changing(who, going),
        }),
      ),
    ),
  catalogue: () => data(server.GET("/api/catalogue")),
  workspace: (who: string) => data(server.GET("/api/workspace", { headers: editor(who) })),
  /** How a new server begins. */
  begin: (who: string, begun: { with: "demo" | "empty"; organisation?: string }) =>
    working("beginning", (going) =>
      data(server.POST("/api/workspace/begin", { body: begun, ...changing(who, going) })),
    ),
  /** Begins with an archive. */
  restoreArchive: (who: string, archive: Blob) =>
    working("restoring the archive", (going) =>
      data(server.POST("/api/workspace/archive", raw(archive, "application/zip", who, going))),
    ),
  zones: () => data(server.GET("/api/workspace/zones")),
  /** The named sets that all rulebases share. */
  sharedSets: () => data(server.GET("/api/workspace/sets")),
  /** Those of them that nothing names; every rulebase is read for it. */
  unusedSets: () => data(server.GET("/api/workspace/sets/unused")),
  directory: (text: string, group: string, from = 0) =>
    data(server.GET("/api/workspace/directory", { params: { query: { text, group, from } } })),
  records: (kind: string, text: string) =>
    data(server.GET("/api/workspace/records", { params: { query: { kind, text } } })),
  record: (kind: string, id: string) =>
    data(server.GET("/api/workspace/record", { params: { query: { kind, id } } })),
  sources: () => data(server.GET("/api/workspace/sources")),
  /** Reads a source now; what went wrong stands in the answer. */
  syncSource: (who: string, name: string) =>
    working(`reading ${name}`, (going) =>
      data(
        server.POST("/api/workspace/sources/{name}/sync", {
          params: { path: { name } },
          body: {} as never,
          ...changing(who, going),
        }),
      ),
    ),
  /** What waits of a source, with its impact on every rulebase. */
  waitingOf: (name: string) =>
    data(server.GET("/api/workspace/sources/{name}/waiting", { params: { path: { name } } })),
  adoptSource: (who: string, name: string) =>
    working(`taking what ${name} has`, (going) =>
      data(
        server.POST("/api/workspace/sources/{name}/adopt", {
          params: { path: { name } },
          body: {} as never,
          ...changing(who, going),
        }),
      ),
    ),
  dropSource: (who: string, name: string) =>
    data(
      server.POST("/api/workspace/sources/{name}/drop", {
        params: { path: { name } },
        body: {} as never,
        ...changing(who),
      }),
    ),
  setPassword: (name: string, password: string) =>
    data(
      server.PUT("/api/workspace/sources/{name}/password", {
        params: { path: { name } },
        body: { password },
      }),
    ),
  /** The first of what a source has, if it was set up like this. */
  trySource: (source: SourceDoc, password?: string) =>
    working(`trying ${source.name}`, (going) =>
      data(server.POST("/api/workspace/sources/try", { body: { source, password }, ...changing("", going) })),
    ),
  uses: (kind: string, id: string) =>
    data(server.GET("/api/workspace/uses", { params: { query: { kind, id } } })),
  workspaceImpact: (steps: WorkspaceStep[], signal?: AbortSignal) =>
    data(server.POST("/api/workspace/impact", { body: { steps }, signal })),
  changeWorkspace: (who: string, version: number, what: string, steps: WorkspaceStep[]) =>
    working(what, (going) =>
      data(
        server.POST("/api/workspace/changes", { body: { version, what, steps }, ...changing(who, going) }),
      ),
    ),
  takeWorkspaceBack: (who: string, which: "undo" | "redo", version: number) =>
    working(which, (going) =>
      data(
        server.POST("/api/workspace/{action}", {
          params: { path: { action: which } },
          body: { version },
          ...changing(who, going),
        }),
      ),
    ),
  /** What a rulebase would be, without making it. */
  prepare: (request: MakeRequest, signal?: AbortSignal) =>
    data(server.POST("/api/rulebases/prepare", { body: request, signal })),
  make: (who: string, request: MakeRequest) =>
    working("making a rulebase", (going) =>
      data(server.POST("/api/rulebases", { body: request, ...changing(who, going) })),
    ),
  /** Another name, or archived, removed, active again. */
  standing: (who: string, id: string, change: { name?: string; standing?: string }) =>
    working("changing a rulebase", (going) =>
      data(
        server.POST("/api/rulebases/{id}/standing", {
          params: of(id),
          body: change,
          ...changing(who, going),
        }),
      ),
    ),
};
