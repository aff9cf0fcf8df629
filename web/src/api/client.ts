import type { components } from "./schema";
import { type Carried, working } from "./work";

type Schemas = components["schemas"];
export type Head = Schemas["HeadView"];
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

async function ask<T>(path: string, init: RequestInit = {}): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api/${path}`, init);
  } catch {
    throw new ApiError(init.signal?.aborted ? cancelled : unreachable);
  }
  if (response.ok) return response.json() as Promise<T>;
  let problem: ProblemDocument;
  try {
    problem = await response.json();
  } catch {
    problem = { ...unreachable, status: response.status, detail: `The server answered ${response.status}.` };
  }
  throw new ApiError(problem);
}

/** Who edits, as a header can carry it: those have no letters beyond ASCII. */
/** What this window calls itself, for others to be told apart from it. */
const WINDOW = crypto.randomUUID?.() ?? String(Math.random());

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

function post<T>(path: string, body: unknown, who = "", more: Pick<RequestInit, "signal" | "headers"> = {}) {
  const headers = { "Content-Type": "application/json", ...author(who), ...more.headers };
  return ask<T>(path, { method: "POST", headers, body: JSON.stringify(body), signal: more.signal });
}

function sendCsv<T>(method: "POST" | "PUT", path: string, csv: string, who: string, going: Carried) {
  const headers = { "Content-Type": "text/csv", ...author(who), ...going.headers };
  return ask<T>(path, { method, headers, body: csv, signal: going.signal });
}

/** Where a source is asked. */
const ofSource = (name: string) => `workspace/sources/${encodeURIComponent(name)}`;

const query = (values: Record<string, string>) => new URLSearchParams(values).toString();

const narrowed = ({ only, from, to }: Narrowing): [string, string][] => [
  ...only.map((one): [string, string] => ["only", one]),
  ...(from ? [["from", from] as [string, string]] : []),
  ...(to ? [["to", to] as [string, string]] : []),
];

/** Where what is looked at comes as a table. */
export const trafficTable = (id: string, by: string, narrowing: Narrowing) =>
  `/api/rulebases/${id}/traffic/table?${new URLSearchParams([["by", by], ...narrowed(narrowing)])}`;

/** Where one list of a replay's sums is, as a table. */
export const replayTable = (id: string, number: number, by: string) =>
  `/api/rulebases/${id}/replays/${number}/table?${new URLSearchParams({ by })}`;

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
  heads: () => ask<Head[]>("rulebases"),
  rulebase: (id: string, who: string) => ask<Rulebase>(`rulebases/${id}`, { headers: editor(who) }),
  /** Says that this window has a rule open, and asks who else has. */
  openRule: (id: string, rule: string, who: string) =>
    ask<Schemas["OpenRuleView"]>(
      `rulebases/${id}/open-rules/${encodeURIComponent(rule)}?${query({ window: WINDOW })}`,
      { method: "PUT", headers: { "Content-Type": "application/json", ...editor(who) } },
    ),
  closeRule: (id: string, rule: string) =>
    ask<void>(`rulebases/${id}/open-rules/${encodeURIComponent(rule)}?${query({ window: WINDOW })}`, {
      method: "DELETE",
      keepalive: true,
    }),
  /** The tapes that were removed or replaced and can be brought back. */
  goneTapes: (id: string) => ask<Schemas["GoneTapeView"][]>(`rulebases/${id}/tapes-gone`),
  bringBackTape: (id: string, number: number) =>
    ask<Hits>(`rulebases/${id}/tapes-gone/${number}`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
    }),
  /** The review, or what differs from that of another state; `anew` also where somebody has stopped it. */
  review: (id: string, since = "", anew = false) =>
    ask<Review>(`rulebases/${id}/review?since=${since}${anew ? "&anew=true" : ""}`),
  /** How far a request is that changes something; refused where it is already answered. */
  workProgress: (name: string) => ask<Schemas["WorkView"]>(`work/${name}`),
  progress: (id: string) => ask<Progress>(`rulebases/${id}/review/progress`),
  stopReview: (id: string) => ask<Progress>(`rulebases/${id}/review/progress`, { method: "DELETE" }),
  /** Sets how many steps each question of the review may take. */
  allowSteps: (id: string, steps: number) =>
    ask<{ steps: number }>(`rulebases/${id}/review/steps`, {
      method: "PUT",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ steps }),
    }),
  ruleReview: (id: string, rule: string) =>
    ask<RuleDetail>(`rulebases/${id}/review/rules/${encodeURIComponent(rule)}`),
  rulebaseAt: (id: string, revision: number) => ask<Rulebase>(`rulebases/${id}?revision=${revision}`),
  between: (id: string, from: number, to: number, signal?: AbortSignal) =>
    ask<Impact>(`rulebases/${id}/impact?from=${from}&to=${to}`, { signal }),
  sentence: (id: string, text: string) => post<RulePatch>(`rulebases/${id}/sentence`, { text }),
  matching: (id: string, value: string) => ask<string[]>(`rulebases/${id}/matching?${query({ value })}`),
  /** Which rules can match, and which get, some of what a sentence is about. */
  question: (id: string, text: string) => post<Question>(`rulebases/${id}/question`, { text }),
  /** Some rules as text, in their order. */
  copied: (id: string, rules: string[]) => post<Written>(`rulebases/${id}/rules/copied`, rules),
  pasted: (id: string, text: string) => post<RulePatch[]>(`rulebases/${id}/rules/pasted`, { text }),
  /** What the server is working on, and what has failed. */
  jobs: () => ask<Schemas["JobsView"]>("jobs"),
  cancelJob: (id: number, who: string) => post<Job>(`jobs/${id}/cancel`, {}, who),
  /** What became of a rulebase since a revision; without `edited`, all of it is to be read. */
  changes: (id: string, who: string, since: number) =>
    ask<Since>(`rulebases/${id}/changes?since=${since}`, { headers: editor(who) }),
  events: (id: string) => ask<HistoryEvent[]>(`rulebases/${id}/events`),
  /** The newest edits, newest first: before a revision, or of one rule. */
  journal: (id: string, of: { before?: number; rule?: string; most?: number } = {}) =>
    ask<JournalEntry[]>(
      `rulebases/${id}/journal?${query({
        most: String(of.most ?? 100),
        ...(of.before !== undefined && { before: String(of.before) }),
        ...(of.rule !== undefined && { rule: of.rule }),
      })}`,
    ),
  edit: (id: string, who: string, revision: number, what: string, steps: Step[]) =>
    working(what, (going) => post<Edited>(`rulebases/${id}/edits`, { revision, what, steps }, who, going)),
  impact: (id: string, steps: Step[], signal?: AbortSignal) =>
    post<Impact>(`rulebases/${id}/impact`, { steps }, "", { signal }),
  impactOfTakingBack: (id: string, who: string, action: "undo" | "redo", signal?: AbortSignal) =>
    ask<Impact>(`rulebases/${id}/impact/${action}`, { headers: editor(who), signal }),
  takeBack: (id: string, who: string, which: "undo" | "redo", revision: number) =>
    working(which, (going) => post<Edited>(`rulebases/${id}/${which}`, { revision }, who, going)),
  restore: (id: string, who: string, revision: number, old: number) =>
    working(`making revision ${old} current`, (going) =>
      post<Edited>(`rulebases/${id}/restore`, { revision, old }, who, going),
    ),
  /** The rulebase as text, as it is saved. */
  rulebaseText: async (id: string): Promise<string> => {
    const response = await fetch(`/api/rulebases/${encodeURIComponent(id)}/file?format=rules`);
    if (!response.ok) throw new ApiError(await response.json());
    return response.text();
  },
  /** What a text would change in the place of what a rulebase says. */
  replacement: (id: string, revision: number, text: string, signal?: AbortSignal) =>
    post<Schemas["ReplacementView"]>(`rulebases/${id}/replacement`, { revision, text }, "", { signal }),
  replace: (id: string, who: string, revision: number, text: string) =>
    working("replacing it by a text", (going) =>
      post<Edited>(`rulebases/${id}/replace`, { revision, text }, who, going),
    ),
  probe: (id: string, text: string) => post<Fall>(`rulebases/${id}/probe`, { text }),
  completions: (text: string) => ask<Completions>(`probe/completions?${query({ text })}`),
  choices: (id: string, kind: string, text: string) =>
    ask<Choice[]>(`rulebases/${id}/choices?${query({ kind, text })}`),
  about: (id: string, kind: string, value: string) =>
    ask<{ value: string; lines: string[] }>(`rulebases/${id}/about?${query({ kind, value })}`),
  promises: (id: string) => ask<PromiseCheck[]>(`rulebases/${id}/promises`),
  loadPromises: (id: string, who: string, revision: number, csv: string) =>
    working("loading promises", (going) =>
      sendCsv<Edited>("POST", `rulebases/${id}/promises/csv?revision=${revision}`, csv, who, going),
    ),
  reach: (id: string, people: string[], applications: string[], from: string[], to: string[]) =>
    post<Reach>(`rulebases/${id}/reach`, { people, applications, from, to }),
  /** What somebody can use between each two zones; without applications all of the catalogue. */
  reachBetweenZones: (id: string, person: string, applications: string[]) =>
    ask<ZoneReach>(
      `rulebases/${id}/reach/zones?${new URLSearchParams([
        ["person", person],
        ...applications.map((application) => ["application", application]),
      ])}`,
    ),
  /** Whether the features of an application are seen between two zones; an empty name is any. */
  sight: (id: string, application: string, from: string, to: string) =>
    ask<Sight>(`rulebases/${id}/sight?${query({ application, ...(from && { from }), ...(to && { to }) })}`),
  hits: (id: string) => ask<Hits>(`rulebases/${id}/hits`),
  /** What a rule caught of the recorded traffic; without a rule what fell on the default verdict. */
  caught: (id: string, rule?: string) =>
    ask<Caught>(`rulebases/${id}/hits/${rule ? `rules/${encodeURIComponent(rule)}` : "default-verdict"}`),
  /** Loads a file of recorded traffic; what says more of it goes before it. */
  loadTape: (
    id: string,
    who: string,
    name: string,
    file: Blob,
    { keys, keepsOpened, signIns, mapping, existing }: LoadWith = {},
  ) =>
    working(`loading ${name}`, (going) =>
      ask<Hits>(`rulebases/${id}/tapes/${encodeURIComponent(name)}`, {
        method: "PUT",
        headers: {
          "Content-Type": "application/octet-stream",
          ...(keys && { "Sieve-Keys-Length": String(keys.size) }),
          ...(keepsOpened && { "Sieve-Keep-Opened": "true" }),
          ...(signIns && {
            "Sieve-Sign-Ins-Length": String(signIns.list.size),
            "Sieve-Sign-Ins-Hours": String(signIns.hours),
          }),
          ...(mapping && { "Sieve-Mapping": encodeURIComponent(mapping) }),
          ...(existing && { "Sieve-Existing": existing }),
          ...author(who),
          ...going.headers,
        },
        body: new Blob([keys ?? "", signIns?.list ?? "", file]),
        signal: going.signal,
      }),
    ),
  /** What a table of any columns looks like, before it is read. */
  lookAtPeople: (people: string, columns: Record<string, string>, signal?: AbortSignal) =>
    post<Schemas["PeopleLookView"]>("workspace/directory/look", { people, columns }, "", { signal }),
  lookAtTable: (id: string, head: Blob) =>
    ask<Schemas["LookView"]>(`rulebases/${id}/tapes/look`, {
      method: "POST",
      headers: { "Content-Type": "application/octet-stream" },
      body: head,
    }),
  listeners: (id: string) => ask<Schemas["ListenerView"][]>(`rulebases/${id}/listeners`),
  listen: (id: string, tape: string, asked: Schemas["ListenRequest"]) =>
    ask<Schemas["ListenerView"]>(`rulebases/${id}/listeners/${encodeURIComponent(tape)}`, {
      method: "PUT",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify(asked),
    }),
  unlisten: (id: string, tape: string) =>
    ask<Schemas["ListenerView"][]>(`rulebases/${id}/listeners/${encodeURIComponent(tape)}`, {
      method: "DELETE",
    }),
  /** Files beside the server, dropped through a rulebase. */
  replays: (id: string) => ask<Schemas["ReplaysView"]>(`rulebases/${id}/replays`),
  replaySources: (id: string) => ask<Schemas["SourceFileView"][]>(`rulebases/${id}/replays/sources`),
  beginReplay: (id: string, who: string, asked: Schemas["ReplayRequest"]) =>
    post<Schemas["BegunView"]>(`rulebases/${id}/replays`, asked, who),
  replayed: (id: string, number: number) => ask<Replayed>(`rulebases/${id}/replays/${number}`),
  removeReplay: (id: string, number: number) =>
    ask<Schemas["ReplaysView"]>(`rulebases/${id}/replays/${number}`, { method: "DELETE" }),
  /** What recorded traffic consists of, narrowed to what is looked at. */
  traffic: (id: string, by: string[], narrowing: Narrowing, measure: Measure, most = 8) =>
    ask<Schemas["TrafficAnswer"]>(
      `rulebases/${id}/traffic?${new URLSearchParams([...by.map((one) => ["by", one]), ...narrowed(narrowing), ["measure", measure], ["most", String(most)]])}`,
    ),
  /** The recorded connections that are looked at, most frequent first. */
  connections: (id: string, narrowing: Narrowing, most: number) =>
    ask<Schemas["ConnectionsView"]>(
      `rulebases/${id}/traffic/connections?${new URLSearchParams([...narrowed(narrowing), ["most", String(most)]])}`,
    ),
  /** What each rule caught, step by step. */
  replay: (id: string) => ask<Schemas["FallStepView"][]>(`rulebases/${id}/traffic/fall`),
  unrecognised: (id: string) => ask<Schemas["UnrecognisedView"]>(`rulebases/${id}/traffic/unrecognised`),
  proposals: (id: string, tape: string, sample: number) =>
    ask<Schemas["ProposalView"][]>(
      `rulebases/${id}/tapes/${encodeURIComponent(tape)}/samples/${sample}/proposals`,
    ),
  trySignatures: (id: string, asked: Schemas["TryRequest"]) =>
    post<Schemas["TryAnswer"]>(`rulebases/${id}/signatures/try`, asked),
  findSignatures: (find: string) => ask<Schemas["FoundAnswer"]>(`signatures?${query({ find })}`),
  watches: (id: string) => ask<Watch[]>(`rulebases/${id}/watches`),
  keepWatch: (id: string, who: string, name: string, watch: Schemas["WatchRequest"]) =>
    ask<Watch[]>(`rulebases/${id}/watches/${encodeURIComponent(name)}`, {
      method: "PUT",
      headers: { "Content-Type": "application/json", ...author(who) },
      body: JSON.stringify(watch),
    }),
  removeWatch: (id: string, name: string) =>
    ask<Watch[]>(`rulebases/${id}/watches/${encodeURIComponent(name)}`, { method: "DELETE" }),
  removeTape: (id: string, name: string) =>
    ask<Hits>(`rulebases/${id}/tapes/${encodeURIComponent(name)}`, { method: "DELETE" }),
  /** How much of a tape was seen before a day. */
  older: (id: string, name: string, than: { before: string } | { days: string }) =>
    ask<Schemas["OlderView"]>(`rulebases/${id}/tapes/${encodeURIComponent(name)}/older?${query(than)}`),
  /** Says how many days of a tape are kept; nothing for all. */
  keepDays: (id: string, name: string, days?: number) =>
    ask<Hits>(`rulebases/${id}/tapes/${encodeURIComponent(name)}/keep`, {
      method: "PUT",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ days }),
    }),
  /** Takes that off the tape. */
  forgetOlder: (id: string, name: string, before: string) =>
    ask<Hits>(`rulebases/${id}/tapes/${encodeURIComponent(name)}/older?before=${before}`, {
      method: "DELETE",
    }),
  editions: () => ask<Editions>("editions"),
  edition: (id: string, edition: number) => ask<EditionImpact>(`rulebases/${id}/editions/${edition}`),
  /** Keeps an edition of the catalogue from a file; it is put in force apart. */
  loadEdition: (edition: number, who: string, csv: string) =>
    working(`loading edition ${edition}`, (going) =>
      sendCsv<Editions>("PUT", `editions/${edition}`, csv, who, going),
    ),
  adopt: (edition: number, who: string) =>
    working(`adopting edition ${edition}`, (going) =>
      post<Editions>(`editions/${edition}/adopt`, {}, who, going),
    ),
  catalogue: () => ask<Catalogue>("catalogue"),
  workspace: (who: string) => ask<Workspace>("workspace", { headers: editor(who) }),
  /** How a new server begins. */
  begin: (who: string, begun: { with: "demo" | "empty"; organisation?: string }) =>
    working("beginning", (going) => post<Workspace>("workspace/begin", begun, who, going)),
  /** Begins with an archive. */
  restoreArchive: (who: string, archive: Blob) =>
    working("restoring the archive", (going) =>
      ask<Workspace>("workspace/archive", {
        method: "POST",
        headers: { "Content-Type": "application/zip", ...author(who), ...going.headers },
        body: archive,
        signal: going.signal,
      }),
    ),
  zones: () => ask<Zones>("workspace/zones"),
  /** The named sets that all rulebases share. */
  sharedSets: () => ask<Schemas["SharedSetsView"]>("workspace/sets"),
  /** Those of them that nothing names; every rulebase is read for it. */
  unusedSets: () => ask<string[]>("workspace/sets/unused"),
  directory: (text: string, group: string, from = 0) =>
    ask<Directory>(`workspace/directory?${query({ text, group, from: String(from) })}`),
  records: (kind: string, text: string) => ask<Records>(`workspace/records?${query({ kind, text })}`),
  record: (kind: string, id: string) => ask<Schemas["RecordView"]>(`workspace/record?${query({ kind, id })}`),
  sources: () => ask<Schemas["SourcesView"]>("workspace/sources"),
  /** Reads a source now; what went wrong stands in the answer. */
  syncSource: (who: string, name: string) =>
    working(`reading ${name}`, (going) => post<Source>(`${ofSource(name)}/sync`, {}, who, going)),
  /** What waits of a source, with its impact on every rulebase. */
  waitingOf: (name: string) => ask<Schemas["WaitingView"]>(`${ofSource(name)}/waiting`),
  adoptSource: (who: string, name: string) =>
    working(`taking what ${name} has`, (going) => post<Source>(`${ofSource(name)}/adopt`, {}, who, going)),
  dropSource: (who: string, name: string) => post<Source>(`${ofSource(name)}/drop`, {}, who),
  setPassword: (name: string, password: string) =>
    ask<Source>(`${ofSource(name)}/password`, {
      method: "PUT",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ password }),
    }),
  /** The first of what a source has, if it was set up like this. */
  trySource: (source: SourceDoc, password?: string) =>
    working(`trying ${source.name}`, (going) =>
      post<Schemas["TriedSourceView"]>("workspace/sources/try", { source, password }, "", going),
    ),
  uses: (kind: string, id: string) => ask<Use[]>(`workspace/uses?${query({ kind, id })}`),
  workspaceImpact: (steps: WorkspaceStep[], signal?: AbortSignal) =>
    post<WorkspaceImpact>("workspace/impact", { steps }, "", { signal }),
  changeWorkspace: (who: string, version: number, what: string, steps: WorkspaceStep[]) =>
    working(what, (going) =>
      post<{ version: number }>("workspace/changes", { version, what, steps }, who, going),
    ),
  takeWorkspaceBack: (who: string, which: "undo" | "redo", version: number) =>
    working(which, (going) => post<{ version: number }>(`workspace/${which}`, { version }, who, going)),
  /** What a rulebase would be, without making it. */
  prepare: (request: MakeRequest, signal?: AbortSignal) =>
    post<Prepared>("rulebases/prepare", request, "", { signal }),
  make: (who: string, request: MakeRequest) =>
    working("making a rulebase", (going) => post<{ id: string }>("rulebases", request, who, going)),
  /** Another name, or archived, removed, active again. */
  standing: (who: string, id: string, change: { name?: string; standing?: string }) =>
    working("changing a rulebase", (going) =>
      post<{ id: string }>(`rulebases/${encodeURIComponent(id)}/standing`, change, who, going),
    ),
};
