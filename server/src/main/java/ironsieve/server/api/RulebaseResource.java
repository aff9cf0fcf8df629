package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.FaultException;
import ironsieve.files.RulebaseFormat;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.reach.Matching;
import ironsieve.server.api.Views.HeadView;
import ironsieve.server.api.Views.JournalView;
import ironsieve.server.api.Views.RulebaseView;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.edit.RulebaseStep;
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
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** Rulebases as they are and were: what they say, who changed them, and which rules match what. */
@Path("/api")
@Produces(MediaType.APPLICATION_JSON)
@Consumes(MediaType.APPLICATION_JSON)
@Blocking
public class RulebaseResource {

  /** The header that says who edits. */
  static final String EDITOR = "Sieve-Editor";

  /** The header that says why. */
  static final String REASON = "Sieve-Reason";

  @Inject Editor editor;
  @Inject RulebaseStore store;
  @Inject Events events;

  /** Something to be read, or that can be. */
  @Schema(requiredProperties = {"text"})
  public record Written(String text) {

    private static String of(Written request) {
      return request == null || request.text() == null ? "" : request.text();
    }
  }

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
  public RulebaseStep.RulePatch sentence(@PathParam("id") String id, Written request) {
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
  public List<RulebaseStep.RulePatch> pasted(@PathParam("id") String id, Written request) {
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

  /** The rulebase as a file, in one of the formats that {@link RulebaseFormat} has a word for. */
  @GET
  @Path("rulebases/{id}/file")
  @Produces(MediaType.TEXT_PLAIN)
  public String file(
      @PathParam("id") String id, @QueryParam("format") @DefaultValue("rules") String format) {
    RulebaseSnapshot snapshot = editor.snapshot(id);
    return RulebaseFormat.ofWord(format)
        .write(RulebaseFile.of(snapshot.compiled().rulebase()), snapshot.environment())
        .text();
  }
}
