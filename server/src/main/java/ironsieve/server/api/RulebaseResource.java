package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import io.vertx.ext.web.RoutingContext;
import ironsieve.compile.CompiledEdit;
import ironsieve.files.AccessList;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.FaultException;
import ironsieve.files.RuleCsv;
import ironsieve.files.RulebaseFormats;
import ironsieve.files.RulebaseJson;
import ironsieve.impact.Comparison;
import ironsieve.impact.SurroundingsChange;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.reach.Matching;
import ironsieve.server.api.ImpactViews.ImpactView;
import ironsieve.server.api.Views.EditedView;
import ironsieve.server.api.Views.HeadView;
import ironsieve.server.api.Views.JournalView;
import ironsieve.server.api.Views.RulebaseView;
import ironsieve.server.edit.Author;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.edit.Step;
import ironsieve.server.store.Events;
import ironsieve.server.store.RulebaseStore;
import ironsieve.text.QuickRule;
import ironsieve.text.RulebaseFile;
import ironsieve.text.RulebaseReader;
import ironsieve.text.RulebaseWriter;
import jakarta.inject.Inject;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.HeaderParam;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.time.Instant;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** Rulebases: read, edit, undo, redo, review. */
@Path("/api")
@Produces(MediaType.APPLICATION_JSON)
@Consumes(MediaType.APPLICATION_JSON)
@Blocking
public class RulebaseResource {

  /** The header that says who edits. */
  static final String EDITOR = "Sieve-Editor";

  /** The header that says why. */
  static final String REASON = "Sieve-Reason";

  /** Meetings of a piece and a rule; some hundred milliseconds at most. */
  private static final int IMPACT_BUDGET = 300_000;

  private static final int MOST_STEPS = 20_000;
  private static final int MOST_LETTERS = 500;

  @Inject Editor editor;
  @Inject RulebaseStore store;
  @Inject Events events;
  @Inject RoutingContext request;
  @Inject Work work;

  /**
   * An edit.
   *
   * @param revision the revision it was made on
   * @param what a few words for the journal
   */
  @Schema(requiredProperties = {"revision", "what", "steps"})
  public record EditRequest(long revision, String what, List<Step> steps) {}

  /** Steps to ask the impact of. */
  @Schema(requiredProperties = {"steps"})
  public record ImpactRequest(List<Step> steps) {}

  /** Something to be read, or that can be. */
  @Schema(requiredProperties = {"text"})
  public record Written(String text) {

    private static String of(Written request) {
      return request == null || request.text() == null ? "" : request.text();
    }
  }

  /** A wish to take back, on the revision seen. */
  @Schema(requiredProperties = {"revision"})
  public record TakeBackRequest(long revision) {}

  @GET
  @Path("rulebases")
  public List<HeadView> all() {
    return store.heads().stream()
        .map(
            head ->
                new HeadView(
                    head.id(),
                    head.name(),
                    head.standing(),
                    head.state().revision(),
                    head.state().token(),
                    head.rules()))
        .toList();
  }

  /** A rulebase at its newest revision, or at an older one. */
  @GET
  @Path("rulebases/{id}")
  public RulebaseView one(
      @PathParam("id") String id,
      @HeaderParam(EDITOR) @DefaultValue("somebody") String who,
      @QueryParam("revision") @DefaultValue("-1") long revision) {
    RulebaseSnapshot snapshot = revision < 0 ? editor.snapshot(id) : editor.at(id, revision);
    return Views.rulebase(snapshot, editor.possible(id, who));
  }

  /** What a sentence in the words of the probe line says as a rule, to set on a new one. */
  @POST
  @Path("rulebases/{id}/sentence")
  public Step.RulePatch sentence(@PathParam("id") String id, Written request) {
    RulebaseSnapshot snapshot = editor.snapshot(id);
    Parts parts = snapshot.compiled().rulebase().parts();
    return Views.patch(new QuickRule(parts, snapshot.environment()).parse(Written.of(request)));
  }

  /** Some rules as text, to be put somewhere else; in their order. */
  @POST
  @Path("rulebases/{id}/rules/copied")
  public Written copied(@PathParam("id") String id, Set<String> rules) {
    Set<String> wanted = rules == null ? Set.of() : rules;
    if (wanted.stream().anyMatch(Objects::isNull)) {
      throw new FaultException("rules", "", "a list of ids, not null");
    }
    return new Written(RulebaseWriter.rules(editor.snapshot(id).compiled().rulebase(), wanted));
  }

  /**
   * What rules that came as text say, to set on new ones; each is on, and says where it is from.
   */
  @POST
  @Path("rulebases/{id}/rules/pasted")
  public List<Step.RulePatch> pasted(@PathParam("id") String id, Written request) {
    RulebaseFile read = RulebaseReader.rules(Written.of(request));
    return read.rulebase().rules().stream()
        .map(
            rule ->
                Views.pasted(rule, read.comments().getOrDefault("rule " + rule.id(), List.of())))
        .toList();
  }

  /** The ids of the rules that can match an address, a person, an application … at all. */
  @GET
  @Path("rulebases/{id}/matching")
  public Collection<String> matching(
      @PathParam("id") String id, @QueryParam("value") @DefaultValue("") String value) {
    if (value.isBlank()) {
      throw new FaultException(
          "matching", "value", "say what is to be matched, such as ?value=10.20.0.7");
    }
    RulebaseSnapshot snapshot = editor.snapshot(id);
    QuickRule reader =
        new QuickRule(snapshot.compiled().rulebase().parts(), snapshot.environment());
    Set<String> met = new LinkedHashSet<>();
    for (Rule.Match match : reader.about(value)) {
      met.addAll(Matching.rules(snapshot.compiled(), match));
    }
    return met;
  }

  /**
   * What rules have to do with some connections: the ids of those that {@code can} match some of
   * them, and of those that {@code get} some, from the top; {@code defaultVerdict} if some fall to
   * the default verdict. Not {@code complete} where that was too much to work out; then more rules
   * may get some.
   */
  @Schema(requiredProperties = {"state", "can", "get", "defaultVerdict", "complete"})
  public record QuestionView(
      String state,
      Collection<String> can,
      Collection<String> get,
      boolean defaultVerdict,
      boolean complete) {}

  /**
   * Which rules can match, and which get, some of what a sentence in the probe's words is about.
   */
  @POST
  @Path("rulebases/{id}/question")
  public QuestionView question(@PathParam("id") String id, Written request) {
    RulebaseSnapshot snapshot = editor.snapshot(id);
    QuickRule reader =
        new QuickRule(snapshot.compiled().rulebase().parts(), snapshot.environment());
    Matching.Answer answer =
        Matching.answer(snapshot.compiled(), reader.question(Written.of(request)));
    return new QuestionView(
        snapshot.state().token(),
        answer.can(),
        answer.get(),
        answer.defaultVerdict(),
        answer.isComplete());
  }

  /** The newest edits before a revision, newest first; of a rule those that changed it. */
  @GET
  @Path("rulebases/{id}/journal")
  public List<JournalView> journal(
      @PathParam("id") String id,
      @QueryParam("most") @DefaultValue("50") int most,
      @QueryParam("before") Long before,
      @QueryParam("rule") String rule) {
    editor.snapshot(id);
    long end = before == null ? Long.MAX_VALUE : before;
    return store
        .newest(id, end, Math.max(1, Math.min(most, 500)), Optional.ofNullable(rule))
        .stream()
        .map(Views::journal)
        .toList();
  }

  /** Something that happened beside the edits. */
  @Schema(requiredProperties = {"at", "who", "what"})
  public record EventView(Instant at, String who, String what) {}

  /** Editions of the catalogue and tapes, which change what the same revision does or shows. */
  @GET
  @Path("rulebases/{id}/events")
  public List<EventView> events(@PathParam("id") String id) {
    editor.snapshot(id);
    return events.beside(id).stream().map(e -> new EventView(e.at(), e.who(), e.what())).toList();
  }

  @POST
  @Path("rulebases/{id}/edits")
  public EditedView edit(
      @PathParam("id") String id,
      @HeaderParam(EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(REASON) @DefaultValue("") String reason,
      EditRequest request) {
    if (request == null || request.steps() == null || request.steps().isEmpty()) {
      throw new FaultException("edit", "steps", "an edit has at least one step");
    }
    if (request.steps().size() > MOST_STEPS) {
      throw new FaultException(
          "edit",
          "steps",
          "an edit has at most " + MOST_STEPS + " steps, not " + request.steps().size());
    }
    demandNoNull(request.steps());
    String what = request.what() == null ? "edited" : request.what();
    FaultException.demandName("edit", "what", what, MOST_LETTERS);
    return edited(
        id,
        who,
        editor.edit(
            id,
            request.revision(),
            new Author(who, reason),
            what,
            request.steps(),
            work.progress()));
  }

  private static void demandNoNull(List<Step> steps) {
    if (steps.contains(null)) {
      throw new FaultException("edit", "steps", "a step is an object with an \"op\", not null");
    }
  }

  /** What an edit would change, without making it; given up if the asker goes away. */
  @POST
  @Path("rulebases/{id}/impact")
  public ImpactView impact(@PathParam("id") String id, ImpactRequest asked) {
    if (asked == null || asked.steps() == null || asked.steps().size() > MOST_STEPS) {
      throw new FaultException(
          "impact", "steps", "an impact is asked of some steps, at most " + MOST_STEPS);
    }
    demandNoNull(asked.steps());
    RulebaseSnapshot before = editor.snapshot(id);
    return tried(before, editor.tryOut(before, asked.steps(), work.progress()));
  }

  /** What undo would change, or redo, without doing it. */
  @GET
  @Path("rulebases/{id}/impact/{action: undo|redo}")
  public ImpactView impactOfTakingBack(
      @PathParam("id") String id,
      @HeaderParam(EDITOR) @DefaultValue("somebody") String who,
      @PathParam("action") String action) {
    RulebaseSnapshot before = editor.snapshot(id);
    return tried(before, editor.tryTakingBack(before, who, action));
  }

  private ImpactView tried(RulebaseSnapshot before, RulebaseSnapshot after) {
    request.addEndHandler(ended -> after.abandon());
    return impact(before, after);
  }

  private static ImpactView impact(RulebaseSnapshot before, RulebaseSnapshot after) {
    if (after.environment() != before.environment()) {
      return ImpactViews.impact(
          before,
          after,
          Comparison.ofSurroundings(
              before.compiled().rulebase(),
              after.compiled().rulebase(),
              new SurroundingsChange(before.environment(), after.environment()),
              IMPACT_BUDGET));
    }
    // An edit tried out comes with what it did to the compiled rulebase.
    CompiledEdit edit =
        after
            .edit()
            .filter(made -> made.before().rulebase() == before.compiled().rulebase())
            .orElseGet(() -> CompiledEdit.of(before.compiled(), after.compiled().rulebase()));
    return ImpactViews.impact(before, after, Comparison.of(edit, IMPACT_BUDGET));
  }

  /** What an older revision decides otherwise than a newer one; the newest without {@code to}. */
  @GET
  @Path("rulebases/{id}/impact")
  public ImpactView between(
      @PathParam("id") String id,
      @QueryParam("from") long from,
      @QueryParam("to") @DefaultValue("-1") long to) {
    RulebaseSnapshot after = to < 0 ? editor.snapshot(id) : editor.at(id, to);
    return impact(editor.at(id, from), after);
  }

  /** The rulebase as a file: {@code rules}, {@code json}, {@code csv} or {@code acl}. */
  @GET
  @Path("rulebases/{id}/file")
  @Produces(MediaType.TEXT_PLAIN)
  public String file(
      @PathParam("id") String id, @QueryParam("format") @DefaultValue("rules") String format) {
    RulebaseSnapshot snapshot = editor.snapshot(id);
    Rulebase rulebase = snapshot.compiled().rulebase();
    return switch (format) {
      case "rules" -> RulebaseWriter.write(RulebaseFile.of(rulebase));
      case "json" -> RulebaseJson.write(rulebase);
      case "csv" -> RuleCsv.write(rulebase);
      case "acl" -> AccessList.write(rulebase, snapshot.environment()).json();
      default -> throw new FaultException("file", "format", "formats are rules, json, csv and acl");
    };
  }

  /** A text to be put in the place of what a rulebase says, and the revision seen. */
  @Schema(requiredProperties = {"revision", "text"})
  public record ReplaceRequest(long revision, String text, String format) {}

  /** What a text in the place of a rulebase would change: its rules, and the connections. */
  @Schema(requiredProperties = {"added", "removed", "changed", "impact"})
  public record ReplacementView(
      List<String> added, List<String> removed, List<String> changed, ImpactView impact) {}

  /** What a text would change in the place of what the rulebase says, without putting it there. */
  @POST
  @Path("rulebases/{id}/replacement")
  public ReplacementView replacement(@PathParam("id") String id, ReplaceRequest asked) {
    RulebaseSnapshot before = editor.snapshot(id);
    RulebaseSnapshot after = editor.tryReplacing(before, said(before, asked), work.progress());
    Map<String, RuleDoc> was = before.contents().rules();
    Map<String, RuleDoc> becomes = after.contents().rules();
    return new ReplacementView(
        becomes.values().stream().filter(r -> !was.containsKey(r.id())).map(this::called).toList(),
        was.values().stream().filter(r -> !becomes.containsKey(r.id())).map(this::called).toList(),
        becomes.values().stream()
            .filter(r -> was.containsKey(r.id()) && !was.get(r.id()).equals(r))
            .map(this::called)
            .toList(),
        tried(before, after));
  }

  private String called(RuleDoc rule) {
    return rule.name() == null || rule.name().isBlank() ? rule.id() : rule.name();
  }

  private static Rulebase said(RulebaseSnapshot before, ReplaceRequest request) {
    if (request == null || request.text() == null) {
      throw new FaultException("request", "text", "say the text of a rulebase");
    }
    String format =
        request.format() == null || request.format().isBlank()
            ? RulebaseFormats.guess(request.text())
            : request.format();
    return RulebaseFormats.read(before.contents().name(), format, request.text()).rulebase();
  }

  /** Puts a text in the place of what the rulebase says, as an edit that can be undone. */
  @POST
  @Path("rulebases/{id}/replace")
  public EditedView replace(
      @PathParam("id") String id,
      @HeaderParam(EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(REASON) @DefaultValue("") String reason,
      ReplaceRequest request) {
    Rulebase says = said(editor.snapshot(id), request);
    return edited(
        id,
        who,
        editor.replace(id, request.revision(), new Author(who, reason), says, work.progress()));
  }

  @POST
  @Path("rulebases/{id}/undo")
  public EditedView undo(
      @PathParam("id") String id,
      @HeaderParam(EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(REASON) @DefaultValue("") String reason,
      TakeBackRequest request) {
    return edited(
        id, who, editor.undo(id, seen(request), new Author(who, reason), work.progress()));
  }

  @POST
  @Path("rulebases/{id}/redo")
  public EditedView redo(
      @PathParam("id") String id,
      @HeaderParam(EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(REASON) @DefaultValue("") String reason,
      TakeBackRequest request) {
    return edited(
        id, who, editor.redo(id, seen(request), new Author(who, reason), work.progress()));
  }

  /** An older revision to be made current again, and the revision seen. */
  @Schema(requiredProperties = {"revision", "old"})
  public record RestoreRequest(long revision, long old) {}

  /** Makes an older revision current again, as an edit that can be undone. */
  @POST
  @Path("rulebases/{id}/restore")
  public EditedView restore(
      @PathParam("id") String id,
      @HeaderParam(EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(REASON) @DefaultValue("") String reason,
      RestoreRequest request) {
    if (request == null) {
      throw new FaultException(
          "request", "old", "say which revision, such as {\"revision\": 7, \"old\": 3}");
    }
    return edited(
        id,
        who,
        editor.restore(
            id, request.revision(), new Author(who, reason), request.old(), work.progress()));
  }

  private static long seen(TakeBackRequest request) {
    if (request == null) {
      throw new FaultException(
          "request", "revision", "say on which revision, such as {\"revision\": 7}");
    }
    return request.revision();
  }

  private EditedView edited(String id, String who, Editor.Outcome outcome) {
    return Differences.edited(outcome, editor.possible(id, who));
  }
}
