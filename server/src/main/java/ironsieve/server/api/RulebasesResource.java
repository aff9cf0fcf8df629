package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.FaultException;
import ironsieve.files.ForeignCsv;
import ironsieve.files.RulebaseFormat;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import ironsieve.review.Budget;
import ironsieve.review.Finding;
import ironsieve.review.Review;
import ironsieve.review.Reviewer;
import ironsieve.server.edit.Author;
import ironsieve.server.edit.Rulebases;
import ironsieve.server.releases.Releases;
import jakarta.inject.Inject;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.HeaderParam;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** Which rulebases there are: made, copied, brought in, renamed, archived, removed. */
@Path("/api")
@Produces(MediaType.APPLICATION_JSON)
@Consumes(MediaType.APPLICATION_JSON)
@Blocking
public class RulebasesResource {

  private static final String RULE = "rule ";
  private static final int MOST_FINDINGS = 12;

  @Inject Rulebases rulebases;
  @Inject Work work;
  @Inject Releases releases;

  /**
   * A rulebase to be made: with a few rules to begin with, or as a copy, or from a file.
   *
   * @param name what to call it; a file may say itself
   * @param copyOf the id of another rulebase
   * @param text the text of a file
   * @param format {@code rules}, {@code json}, {@code csv}, or {@code sheet} for a spreadsheet with
   *     whatever columns; told by the text where it is missing
   * @param choices what to do with names that stand for nothing here; those not chosen stay
   * @param columns of a spreadsheet, what some columns hold; the others are guessed
   * @param verdicts of a spreadsheet, what further words mean
   */
  public record MakeRequest(
      String name,
      String copyOf,
      String text,
      String format,
      List<ChoiceRequest> choices,
      Map<String, String> columns,
      Map<String, String> verdicts) {}

  /** What to put in the place of a name; nothing to leave it out. */
  @Schema(requiredProperties = {"kind", "value"})
  public record ChoiceRequest(String kind, String value, String other) {}

  /** The id of a rulebase that was made. */
  @Schema(requiredProperties = {"id"})
  public record MadeView(String id) {}

  /** What a rulebase would be: how much of what, what is unknown, and its first findings. */
  @Schema(
      requiredProperties = {
        "name",
        "format",
        "defaultVerdict",
        "chapters",
        "rules",
        "sets",
        "unknown",
        "findings",
        "columns",
        "samples",
        "notUnderstood",
        "targets"
      })
  public record PreparedView(
      String name,
      String format,
      String defaultVerdict,
      int chapters,
      int rules,
      int sets,
      List<UnknownView> unknown,
      List<FoundView> findings,
      List<ColumnView> columns,
      List<List<String>> samples,
      List<String> notUnderstood,
      List<String> targets) {}

  /** A column of a spreadsheet and what it is taken to hold, one of the {@code targets}. */
  @Schema(requiredProperties = {"name", "target"})
  public record ColumnView(String name, String target) {}

  /** A name that stands for nothing here; {@code places} use it, {@code near} it are others. */
  @Schema(requiredProperties = {"kind", "value", "why", "places", "near"})
  public record UnknownView(
      String kind, String value, String why, List<String> places, List<String> near) {}

  /** How many findings of a kind there would be, and the sentence of the first. */
  @Schema(requiredProperties = {"kind", "severity", "count", "rule", "first"})
  public record FoundView(String kind, String severity, int count, String rule, String first) {}

  /** Another name or standing. */
  public record StandingRequest(String name, String standing) {}

  /** What a rulebase would be, without making it. */
  @POST
  @Path("rulebases/prepare")
  public PreparedView prepare(MakeRequest request) {
    Rulebases.Prepared prepared = rulebases.prepare(name(request), source(request));
    Rulebase rulebase = prepared.compiled().rulebase();
    Map<String, String> called = called(rulebase.rules());
    Review review = Reviewer.review(prepared.compiled(), Budget.USUAL, List.of(), work.progress());
    return new PreparedView(
        rulebase.name(),
        format(request),
        rulebase.defaultVerdict().word(),
        rulebase.chapters().size(),
        rulebase.rules().size(),
        rulebase.sets().size(),
        prepared.unknown().stream()
            .map(
                one ->
                    new UnknownView(
                        one.kind().word(),
                        one.value(),
                        one.why(),
                        one.places().stream().map(place -> place(place, called)).toList(),
                        one.near()))
            .toList(),
        found(review, called),
        prepared
            .sheet()
            .map(
                sheet ->
                    sheet.columns().entrySet().stream()
                        .map(one -> new ColumnView(one.getKey(), one.getValue().word()))
                        .toList())
            .orElse(List.of()),
        prepared.sheet().map(ForeignCsv.Read::samples).orElse(List.of()),
        prepared.sheet().map(ForeignCsv.Read::notUnderstood).orElse(List.of()),
        Stream.of(ForeignCsv.Target.values()).map(ForeignCsv.Target::word).toList());
  }

  /** What rules are called that nobody has seen yet: by their numbers and names, by id. */
  private static Map<String, String> called(List<Rule> rules) {
    Map<String, String> called = new HashMap<>();
    for (Rule rule : rules) {
      called.put(rule.id(), (called.size() + 1 + " " + rule.name()).trim());
    }
    return called;
  }

  private static String place(String place, Map<String, String> called) {
    String id = place.startsWith(RULE) ? place.substring(RULE.length()) : "";
    return called.containsKey(id) ? RULE + called.get(id) : place;
  }

  private static List<FoundView> found(Review review, Map<String, String> called) {
    Map<Finding.Kind, List<Finding>> byKind = new LinkedHashMap<>();
    review.worstFirst().stream()
        .filter(finding -> finding.severity() != Finding.Severity.QUIET)
        .forEach(
            finding ->
                byKind.computeIfAbsent(finding.kind(), kind -> new ArrayList<>()).add(finding));
    return byKind.entrySet().stream()
        .limit(MOST_FINDINGS)
        .map(
            entry -> {
              Finding first = entry.getValue().get(0);
              return new FoundView(
                  entry.getKey().word(),
                  Views.word(first.severity()),
                  entry.getValue().size(),
                  called.getOrDefault(first.rule(), first.rule()),
                  review.sentence(first));
            })
        .toList();
  }

  /** Makes a rulebase. */
  @POST
  @Path("rulebases")
  public MadeView make(
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(RulebaseResource.REASON) @DefaultValue("") String reason,
      MakeRequest request) {
    return new MadeView(
        rulebases.make(name(request), source(request), new Author(who, reason), work.progress()));
  }

  private static String name(MakeRequest request) {
    return request == null || request.name() == null ? "" : request.name();
  }

  private static String format(MakeRequest request) {
    return request == null || request.text() == null
        ? ""
        : Optional.ofNullable(request.format())
            .filter(word -> !word.isBlank())
            .orElseGet(() -> RulebaseFormat.guess(request.text()));
  }

  private static Rulebases.Source source(MakeRequest request) {
    if (request != null && request.copyOf() != null) {
      return new Rulebases.Source.Copy(request.copyOf());
    }
    if (request != null && request.text() != null) {
      List<Rulebases.Choice> choices =
          (request.choices() == null ? List.<ChoiceRequest>of() : request.choices())
              .stream().map(RulebasesResource::choice).toList();
      return format(request).equals(RulebaseFormat.SHEET)
          ? new Rulebases.Source.Sheet(
              request.text(), columns(request.columns()), verdicts(request.verdicts()), choices)
          : new Rulebases.Source.File(format(request), request.text(), choices);
    }
    return new Rulebases.Source.Nothing();
  }

  private static Map<String, ForeignCsv.Target> columns(Map<String, String> words) {
    Map<String, ForeignCsv.Target> columns = new HashMap<>();
    (words == null ? Map.<String, String>of() : words)
        .forEach(
            (column, word) ->
                columns.put(
                    column,
                    ForeignCsv.Target.ofWord(String.valueOf(word))
                        .orElseThrow(
                            () ->
                                new FaultException(
                                    "rulebase", "columns", "no column holds \"" + word + "\""))));
    return columns;
  }

  private static Map<String, Verdict> verdicts(Map<String, String> words) {
    Map<String, Verdict> verdicts = new HashMap<>();
    (words == null ? Map.<String, String>of() : words)
        .forEach(
            (word, verdict) ->
                verdicts.put(
                    word.toLowerCase(Locale.ROOT),
                    Stream.of(Verdict.ALLOW, Verdict.DENY, Verdict.REJECT)
                        .filter(one -> one.word().equals(verdict))
                        .findFirst()
                        .orElseThrow(
                            () ->
                                new FaultException(
                                    "rulebase",
                                    "verdicts",
                                    "a word means allow, deny or reject, not " + verdict))));
    return verdicts;
  }

  private static Rulebases.Choice choice(ChoiceRequest request) {
    if (request == null || request.kind() == null || request.value() == null) {
      throw new FaultException("rulebase", "choices", "a choice has a kind and a value");
    }
    try {
      return new Rulebases.Choice(
          ValueKind.ofWord(request.kind()),
          request.value(),
          Optional.ofNullable(request.other()).filter(text -> !text.isBlank()));
    } catch (IllegalArgumentException e) {
      throw new FaultException("rulebase", "choices", e.getMessage());
    }
  }

  /** Gives a rulebase another name, archives it, removes it, or brings it back. */
  @POST
  @Path("rulebases/{id}/standing")
  public MadeView standing(
      @PathParam("id") String id,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(RulebaseResource.REASON) @DefaultValue("") String reason,
      StandingRequest request) {
    if (request == null || request.name() == null && request.standing() == null) {
      throw new FaultException("rulebase", "standing", "say a name or a standing");
    }
    if (request.standing() != null && !request.standing().equals("active")) {
      releases.demandUnread(id);
    }
    rulebases.change(
        id,
        Optional.ofNullable(request.name()),
        Optional.ofNullable(request.standing()),
        new Author(who, reason),
        work.progress());
    return new MadeView(id);
  }
}
