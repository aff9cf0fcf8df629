package ironsieve.server.api;

import ironsieve.decide.Fall;
import ironsieve.decide.PromiseCheck;
import ironsieve.decide.Reason;
import ironsieve.files.Contents;
import ironsieve.files.Documents.ChapterDoc;
import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.KeptDoc;
import ironsieve.files.Documents.LaneDoc;
import ironsieve.files.Documents.NoticeDoc;
import ironsieve.files.Documents.PromiseDoc;
import ironsieve.files.Documents.RatesDoc;
import ironsieve.files.Documents.ReadingDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.Documents.SheetDoc;
import ironsieve.files.Printed;
import ironsieve.impact.Impact;
import ironsieve.model.Chapter;
import ironsieve.model.Rule;
import ironsieve.review.Edit;
import ironsieve.review.Explanations;
import ironsieve.review.Finding;
import ironsieve.review.Placement;
import ironsieve.review.Remedies;
import ironsieve.review.Remedy;
import ironsieve.review.Residue;
import ironsieve.review.Review;
import ironsieve.review.Said;
import ironsieve.review.Share;
import ironsieve.review.Witness;
import ironsieve.server.edit.Accepted;
import ironsieve.server.edit.Bench;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.Step;
import ironsieve.server.store.JournalEntry;
import ironsieve.text.OutcomeText;
import ironsieve.text.ProbeText;
import ironsieve.text.Sentence;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** What the API shows. */
public final class Views {

  private static final int MOST_TAKERS = 12;

  private Views() {}

  /** A rulebase in a list. */
  @Schema(requiredProperties = {"id", "name", "revision", "rules"})
  public record HeadView(String id, String name, long revision, int rules) {}

  /**
   * A whole rulebase at one revision; {@code undo} and {@code redo} say what the asking editor can
   * take back.
   */
  @Schema(requiredProperties = {"id", "name", "revision", "lastLine", "chapters", "sets", "parts"})
  public record RulebaseView(
      String id,
      String name,
      long revision,
      String lastLine,
      List<ChapterView> chapters,
      List<SetView> sets,
      PartsView parts,
      String undo,
      String redo) {}

  /** What rules share besides sets; {@code capacity} is null if nobody said. */
  @Schema(requiredProperties = {"sheets", "notices", "lanes", "reading"})
  public record PartsView(
      List<SheetDoc> sheets,
      List<NoticeDoc> notices,
      List<LaneDoc> lanes,
      List<ReadingDoc> reading,
      RatesDoc capacity) {}

  /** A chapter with its rules. */
  @Schema(requiredProperties = {"id", "title", "note", "rules"})
  public record ChapterView(String id, String title, String note, List<RuleView> rules) {}

  /** A rule; {@code number} counts from the top, {@code sentence} is its claim in words. */
  @Schema(
      requiredProperties = {
        "id",
        "number",
        "name",
        "state",
        "fields",
        "ports",
        "verdict",
        "outcome",
        "logging",
        "note",
        "sentence"
      })
  public record RuleView(
      String id,
      int number,
      String name,
      String state,
      Map<String, FieldView> fields,
      String ports,
      String verdict,
      String outcome,
      String sheet,
      String logging,
      String note,
      KeptDoc kept,
      String sentence) {}

  /** One field of a rule. */
  @Schema(requiredProperties = {"sense", "values"})
  public record FieldView(String sense, List<String> values) {}

  /** A named set and where it is used. */
  @Schema(requiredProperties = {"kind", "name", "values", "note", "usedBy"})
  public record SetView(
      String kind, String name, List<String> values, String note, List<String> usedBy) {}

  /** One revision. */
  @Schema(requiredProperties = {"revision", "at", "who", "what", "action", "touched"})
  public record JournalView(
      long revision, Instant at, String who, String what, String action, List<String> touched) {}

  /**
   * What an edit led to: only what it changed. {@code rules} are those added or changed (their
   * numbers are given, but all below may have moved too), {@code removed} the ids of those that are
   * gone; {@code order} has all chapters if a rule or chapter came, went, moved or was named
   * otherwise, and {@code sets} and {@code parts} are there if they changed.
   */
  @Schema(requiredProperties = {"revision", "since", "lastLine", "rules", "removed", "entry"})
  public record EditedView(
      long revision,
      long since,
      String lastLine,
      List<RuleView> rules,
      List<String> removed,
      List<ChapterOrderView> order,
      List<SetView> sets,
      PartsView parts,
      String undo,
      String redo,
      JournalView entry) {}

  /**
   * A chapter and its rules: so many from its beginning as they were, then these, by id, then so
   * many from its end as they were.
   */
  @Schema(requiredProperties = {"id", "title", "note", "first", "rules", "last"})
  public record ChapterOrderView(
      String id, String title, String note, int first, List<String> rules, int last) {}

  /**
   * The review of one revision, or what of it differs from the review of {@code since}; {@code
   * steps} is the budget of each of its searches.
   */
  @Schema(requiredProperties = {"revision", "rules", "steps"})
  public record ReviewView(
      long revision, Long since, Map<String, RuleReviewView> rules, int steps) {}

  /** What the review says of one rule, in short; rules that are off have no residue. */
  @Schema(requiredProperties = {"findings"})
  public record RuleReviewView(List<MarkView> findings, GaugeView residue) {}

  /** A finding in short; {@code accepted} if somebody has. */
  @Schema(requiredProperties = {"kind", "severity", "said", "accepted"})
  public record MarkView(String kind, String severity, List<SaidView> said, boolean accepted) {}

  /** A piece of a sentence: words, or rules to be named by their numbers and how many others. */
  public record SaidView(String text, List<String> rules, Integer others) {}

  /** What is left of a claim, and the rules that take most of the rest. */
  @Schema(requiredProperties = {"share", "estimated", "takers", "more"})
  public record GaugeView(double share, boolean estimated, List<TakingView> takers, int more) {}

  /** A rule that takes from a claim. */
  @Schema(requiredProperties = {"rule", "verdict", "share"})
  public record TakingView(String rule, String verdict, double share) {}

  /** Everything the review says of one rule; without a residue if it is off. */
  @Schema(requiredProperties = {"revision", "findings"})
  public record RuleDetailView(long revision, List<FindingView> findings, ResidueView residue) {}

  /**
   * One finding, with edits that would end it and a few sentences more; {@code accepted} if
   * somebody has.
   */
  @Schema(
      requiredProperties = {
        "kind",
        "severity",
        "rule",
        "sentence",
        "evidence",
        "fields",
        "remedies",
        "explanation"
      })
  public record FindingView(
      String kind,
      String severity,
      String rule,
      String sentence,
      List<EvidenceView> evidence,
      List<String> fields,
      List<RemedyView> remedies,
      List<String> explanation,
      AcceptedView accepted) {}

  /** Who accepted a finding, and why; it comes back when its rule says something else. */
  @Schema(requiredProperties = {"who", "reason"})
  public record AcceptedView(String who, String reason) {}

  /** An edit that would end a finding. */
  @Schema(requiredProperties = {"words", "steps"})
  public record RemedyView(String words, List<Step> steps) {}

  /**
   * What some steps would change; {@code complete} says whether that is all, {@code better} where
   * an added rule would stand better, if anywhere.
   */
  @Schema(
      requiredProperties = {"revision", "complete", "kinds", "ended", "begun", "broken", "mended"})
  public record ImpactView(
      long revision,
      PlacementView better,
      boolean complete,
      List<KindView> kinds,
      List<NoticeView> ended,
      List<NoticeView> begun,
      List<String> broken,
      List<String> mended) {}

  /**
   * A promise and what became of it; {@code now} is empty if there can be no such connection, for
   * {@code trouble}.
   */
  @Schema(
      requiredProperties = {
        "id",
        "group",
        "name",
        "probe",
        "verdict",
        "catcher",
        "kept",
        "now",
        "caughtBy",
        "trouble"
      })
  public record PromiseView(
      String id,
      String group,
      String name,
      String probe,
      String verdict,
      String catcher,
      boolean kept,
      String now,
      String caughtBy,
      String trouble) {}

  /** A better place for a rule: {@code above} or {@code below} another one, and why. */
  @Schema(requiredProperties = {"side", "rule", "said"})
  public record PlacementView(String side, String rule, List<SaidView> said) {}

  /** One kind of connection that would be decided otherwise, with one of them as a probe. */
  @Schema(requiredProperties = {"words", "before", "after", "probe"})
  public record KindView(
      List<WordsView> words, DecisionView before, DecisionView after, String probe) {}

  /** One part of a description. */
  @Schema(requiredProperties = {"part", "text"})
  public record WordsView(String part, String text) {}

  /**
   * What happens and the rule it comes from; empty for the last line or several rules. {@code
   * outcome} also names notice and lane.
   */
  @Schema(requiredProperties = {"verdict", "outcome", "rule"})
  public record DecisionView(String verdict, String outcome, String rule) {}

  /** A finding that would end or begin. */
  @Schema(requiredProperties = {"rule", "kind"})
  public record NoticeView(String rule, String kind) {}

  /** A rule a finding comes from; {@code rule} is empty for the last line. */
  @Schema(requiredProperties = {"rule", "part", "witness"})
  public record EvidenceView(String rule, String part, WitnessView witness) {}

  /** A connection, as a probe, and the rule that catches it; empty for the last line. */
  @Schema(requiredProperties = {"probe", "caughtBy"})
  public record WitnessView(String probe, String caughtBy) {}

  /** What is left of a rule's claim. */
  @Schema(requiredProperties = {"share", "estimated", "takers"})
  public record ResidueView(
      double share, boolean estimated, List<TakerView> takers, WitnessView witness) {}

  /** A rule that takes from a claim. */
  @Schema(requiredProperties = {"rule", "verdict", "share", "estimated", "witness"})
  public record TakerView(
      String rule, String verdict, double share, boolean estimated, WitnessView witness) {}

  /**
   * A probe dropped into one revision: which rules it passes and what it falls on ({@code caughtBy}
   * is empty for the last line), and how it unfolds at the gateway.
   */
  @Schema(
      requiredProperties = {
        "revision",
        "text",
        "parts",
        "passed",
        "caughtBy",
        "outcome",
        "verdict",
        "matches",
        "stages"
      })
  public record FallView(
      long revision,
      String text,
      List<PartView> parts,
      List<PassView> passed,
      String caughtBy,
      String outcome,
      String verdict,
      List<ReasonView> matches,
      List<StageView> stages) {}

  /** One detail of a probe. */
  @Schema(requiredProperties = {"detail", "value", "filledIn"})
  public record PartView(String detail, String value, boolean filledIn) {}

  /**
   * What is known at one stage and what follows; {@code rule} is the first that surely claims the
   * connection, empty for the last line.
   */
  @Schema(requiredProperties = {"knowledge", "status", "waiting", "rule", "outcomes"})
  public record StageView(
      String knowledge,
      String status,
      List<WaitView> waiting,
      String rule,
      List<String> outcomes) {}

  /** A rule that cannot say yet, and what it waits for. */
  @Schema(requiredProperties = {"rule", "fields"})
  public record WaitView(String rule, List<String> fields) {}

  /** A rule passed. */
  @Schema(requiredProperties = {"rule", "misses"})
  public record PassView(String rule, List<ReasonView> misses) {}

  /** Why a field matched or did not. */
  @Schema(requiredProperties = {"field", "label", "had", "wanted"})
  public record ReasonView(String field, String label, String had, String wanted) {}

  static String word(Enum<?> constant) {
    return constant.name().toLowerCase(Locale.ROOT).replace('_', ' ');
  }

  static RulebaseView rulebase(Bench bench, Editor.Possible possible) {
    Contents contents = bench.contents();
    Map<String, List<RuleDoc>> ordered = contents.rulesInOrder();
    Map<String, Rule> rules = new HashMap<>();
    for (Chapter chapter : bench.compiled().rulebase().chapters()) {
      chapter.rules().forEach(rule -> rules.put(rule.id(), rule));
    }
    List<ChapterView> chapters = new ArrayList<>();
    int number = 0;
    for (ChapterDoc chapter : contents.chaptersInOrder()) {
      List<RuleView> inside = new ArrayList<>();
      for (RuleDoc doc : ordered.get(chapter.id())) {
        number++;
        inside.add(rule(doc, number, rules.get(doc.id())));
      }
      chapters.add(new ChapterView(chapter.id(), chapter.title(), chapter.note(), inside));
    }
    return new RulebaseView(
        contents.id(),
        contents.name(),
        bench.revision(),
        contents.lastLine(),
        chapters,
        sets(contents),
        parts(contents),
        possible.undo().orElse(null),
        possible.redo().orElse(null));
  }

  static PartsView parts(Contents contents) {
    return new PartsView(
        contents.sheetsInOrder(),
        contents.noticesInOrder(),
        contents.lanesInOrder(),
        contents.readingInOrder(),
        contents.title().capacity());
  }

  static RuleView rule(RuleDoc doc, int number, Rule rule) {
    Map<String, FieldView> fields = new HashMap<>();
    doc.fields().forEach((key, field) -> fields.put(key, field(field)));
    return new RuleView(
        doc.id(),
        number,
        rule.name(),
        word(rule.state()),
        fields,
        word(rule.match().ports()),
        rule.then().verdict().word(),
        OutcomeText.print(rule.then().outcome()),
        rule.then().sheet().orElse(null),
        word(rule.then().logging()),
        rule.note(),
        doc.kept(),
        Sentence.of(rule));
  }

  private static FieldView field(FieldDoc doc) {
    return new FieldView(doc.sense() == null ? "is" : doc.sense(), doc.values());
  }

  static List<SetView> sets(Contents contents) {
    Map<String, List<String>> uses = new HashMap<>();
    for (SetDoc set : contents.setsInOrder()) {
      set.values().forEach(value -> use(uses, set.kind(), value, "set " + set.name()));
    }
    for (RuleDoc rule : contents.rules().values()) {
      rule.fields()
          .forEach(
              (key, field) -> {
                String kind = ironsieve.model.FieldName.ofKey(key).kind().word();
                field.values().forEach(value -> use(uses, kind, value, rule.id()));
              });
    }
    return contents.setsInOrder().stream()
        .map(
            set ->
                new SetView(
                    set.kind(),
                    set.name(),
                    set.values(),
                    set.note(),
                    uses.getOrDefault(set.id(), List.of())))
        .toList();
  }

  private static void use(Map<String, List<String>> uses, String kind, String value, String user) {
    if (value.startsWith("set ")) {
      uses.computeIfAbsent(kind + ":" + value.substring(4), id -> new ArrayList<>()).add(user);
    }
  }

  static JournalView journal(JournalEntry entry) {
    return new JournalView(
        entry.revision(),
        entry.at(),
        entry.who(),
        entry.what(),
        entry.action(),
        entry.changes().stream().map(change -> change.kind() + ":" + change.id()).toList());
  }

  /**
   * The review of a bench.
   *
   * @param rules the ids of the rules to show
   * @param since the revision from which all others are the same; null for none
   */
  static ReviewView review(Bench bench, Collection<String> rules, Long since) {
    Map<String, RuleReviewView> shown = new HashMap<>();
    Review review = bench.review();
    for (String id : rules) {
      GaugeView gauge =
          review.compiled().rule(id).map(rule -> gauge(review.residue(id))).orElse(null);
      List<MarkView> marks = review.of(id).stream().map(f -> mark(bench.contents(), f)).toList();
      shown.put(id, new RuleReviewView(marks, gauge));
    }
    return new ReviewView(bench.revision(), since, shown, bench.budget().searchSteps());
  }

  private static MarkView mark(Contents contents, Finding finding) {
    String kind = word(finding.kind());
    return new MarkView(
        kind,
        word(finding.severity()),
        finding.said().parts().stream().map(Views::said).toList(),
        Accepted.of(contents, finding.rule(), kind).isPresent());
  }

  private static SaidView said(Said.Part part) {
    return part instanceof Said.Part.Rules rules
        ? new SaidView(null, rules.named(), rules.others())
        : new SaidView(((Said.Part.Text) part).text(), null, null);
  }

  private static GaugeView gauge(Residue residue) {
    List<TakingView> takers =
        residue.takers().stream()
            .limit(MOST_TAKERS)
            .map(t -> new TakingView(t.rule(), t.verdict().word(), t.share().value()))
            .toList();
    return new GaugeView(
        residue.share().value(),
        estimated(residue.share()),
        takers,
        residue.takers().size() - takers.size());
  }

  /** Everything about one rule. */
  static RuleDetailView detail(Bench bench, String rule) {
    Review review = bench.review();
    Remedies remedies = new Remedies(bench.compiled(), review);
    Explanations explanations = new Explanations(bench.compiled().rulebase(), review);
    return new RuleDetailView(
        bench.revision(),
        review.of(rule).stream()
            .map(f -> finding(bench, f, remedies.of(f), explanations.of(f)))
            .toList(),
        review.compiled().rule(rule).map(r -> residue(review.residue(rule))).orElse(null));
  }

  private static FindingView finding(
      Bench bench, Finding finding, List<Remedy> remedies, List<String> explanation) {
    return new FindingView(
        word(finding.kind()),
        word(finding.severity()),
        finding.rule(),
        bench.review().sentence(finding),
        finding.evidence().stream()
            .map(e -> new EvidenceView(e.rule(), e.part(), witness(e.witness())))
            .toList(),
        finding.fields().stream().map(ironsieve.model.FieldName::key).toList(),
        remedies.stream().map(r -> new RemedyView(r.words(), steps(r.edit()))).toList(),
        explanation,
        Accepted.of(bench.contents(), finding.rule(), word(finding.kind()))
            .map(doc -> new AcceptedView(doc.who(), doc.reason()))
            .orElse(null));
  }

  private static List<Step> steps(Edit edit) {
    if (edit instanceof Edit.Split split) {
      return List.of(
          step(new Edit.InsertAbove(split.part(), split.target())),
          step(new Edit.Replace(split.left())));
    }
    if (edit instanceof Edit.Merge merge) {
      return List.of(step(new Edit.Replace(merge.merged())), step(new Edit.Remove(merge.gone())));
    }
    return List.of(step(edit));
  }

  private static Step step(Edit edit) {
    if (edit instanceof Edit.MoveAbove move) {
      Step.Place place = new Step.Place(null, move.target(), null);
      return Step.ofRule(Step.Op.MOVE_RULE, move.rule(), place, null);
    }
    if (edit instanceof Edit.Remove remove) {
      return Step.ofRule(Step.Op.REMOVE_RULE, remove.rule(), null, null);
    }
    if (edit instanceof Edit.Replace replace) {
      return Step.ofRule(Step.Op.CHANGE_RULE, replace.rule().id(), null, patch(replace.rule()));
    }
    if (edit instanceof Edit.InsertAbove insert) {
      Step.Place place = new Step.Place(null, insert.target(), null);
      return Step.ofRule(Step.Op.ADD_RULE, null, place, patch(insert.rule()));
    }
    return Step.ofReading(((Edit.OpenReading) edit).line());
  }

  static Step.RulePatch patch(Rule rule) {
    RuleDoc doc = Printed.rule(rule);
    return new Step.RulePatch(
        doc.name(),
        doc.state(),
        doc.fields(),
        doc.ports(),
        doc.verdict(),
        doc.sheet() == null ? "" : doc.sheet(),
        doc.logging(),
        doc.note(),
        doc.kept());
  }

  /**
   * What a rule that came as text says; it is on, and its note says where it is from.
   *
   * @param comments that stood before it
   */
  static Step.RulePatch pasted(Rule rule, List<String> comments) {
    Step.RulePatch says = patch(rule);
    String from =
        comments.stream()
            .map(line -> line.replaceFirst("^#+\\s*", ""))
            .collect(Collectors.joining("; "));
    String note = "Pasted: " + (from.isEmpty() ? "rule " + rule.id() : from) + ". " + says.note();
    return new Step.RulePatch(
        says.name(),
        "on",
        says.fields(),
        says.ports(),
        says.verdict(),
        says.sheet(),
        says.logging(),
        note.strip(),
        says.kept());
  }

  static ImpactView impact(Bench before, Bench after, Impact impact) {
    // Of most rules both reviews say the very same.
    Set<String> rules = after.review().since(before.review().mark());
    Set<NoticeView> old = notices(before.review(), rules);
    Set<NoticeView> next = notices(after.review(), rules);
    return new ImpactView(
        before.revision(),
        better(before, after),
        impact.extent() == Impact.Extent.COMPLETE,
        impact.kinds().stream().map(Views::kind).toList(),
        old.stream().filter(notice -> !next.contains(notice)).toList(),
        next.stream().filter(notice -> !old.contains(notice)).toList(),
        newlyBroken(before, after),
        newlyBroken(after, before));
  }

  /** Asked only of a single rule that is added: somebody who moves one knows where. */
  private static PlacementView better(Bench before, Bench after) {
    List<String> added =
        after.contents().rules().keySet().stream()
            .filter(id -> !before.contents().rules().containsKey(id))
            .toList();
    return added.size() != 1
        ? null
        : Placement.of(after.compiled(), added.get(0), after.budget())
            .map(
                place ->
                    new PlacementView(
                        word(place.side()),
                        place.rule(),
                        place.why().parts().stream().map(Views::said).toList()))
            .orElse(null);
  }

  /** The names of the promises that one bench keeps and another one has and breaks. */
  static List<String> newlyBroken(Bench before, Bench after) {
    Set<String> kept = new HashSet<>();
    before.promises().stream()
        .filter(PromiseCheck::kept)
        .forEach(check -> kept.add(check.promise().id()));
    return after.promises().stream()
        .filter(check -> !check.kept() && kept.contains(check.promise().id()))
        .map(check -> after.contents().promises().get(check.promise().id()).name())
        .toList();
  }

  static List<PromiseView> promises(Bench bench) {
    return bench.promises().stream()
        .map(check -> promise(bench.contents().promises().get(check.promise().id()), check))
        .toList();
  }

  private static PromiseView promise(PromiseDoc doc, PromiseCheck check) {
    return new PromiseView(
        doc.id(),
        doc.group(),
        doc.name(),
        doc.probe(),
        doc.verdict(),
        doc.catcher() == null ? "" : doc.catcher(),
        check.kept(),
        check.verdict().map(verdict -> verdict.word()).orElse(""),
        check.catcher().orElse(""),
        check.trouble());
  }

  private static Set<NoticeView> notices(Review review, Set<String> rules) {
    Set<NoticeView> notices = new LinkedHashSet<>();
    for (String rule : rules) {
      for (Finding finding : review.of(rule)) {
        if (finding.severity() != Finding.Severity.QUIET) {
          notices.add(new NoticeView(rule, word(finding.kind())));
        }
      }
    }
    return notices;
  }

  static KindView kind(Impact.Kind kind) {
    return new KindView(
        kind.words().stream().map(w -> new WordsView(w.part(), w.text())).toList(),
        decision(kind.before()),
        decision(kind.after()),
        ProbeText.print(kind.witness()));
  }

  private static DecisionView decision(Impact.Decision decision) {
    return new DecisionView(
        decision.outcome().verdict().word(),
        OutcomeText.print(decision.outcome()),
        decision.rule().orElse(""));
  }

  private static WitnessView witness(Witness witness) {
    return new WitnessView(ProbeText.print(witness.connection()), witness.caughtBy().orElse(""));
  }

  private static ResidueView residue(Residue residue) {
    return new ResidueView(
        residue.share().value(),
        estimated(residue.share()),
        residue.takers().stream()
            .map(
                taker ->
                    new TakerView(
                        taker.rule(),
                        taker.verdict().word(),
                        taker.share().value(),
                        estimated(taker.share()),
                        witness(taker.witness())))
            .toList(),
        residue.witness().map(Views::witness).orElse(null));
  }

  private static boolean estimated(Share share) {
    return share.certainty() == Share.Certainty.ESTIMATED;
  }

  static FallView fall(Bench bench, ProbeText.Probe probe, Fall fall) {
    return new FallView(
        bench.revision(),
        ProbeText.print(fall.connection()),
        parts(probe),
        fall.passed().stream()
            .map(pass -> new PassView(pass.rule(), reasons(pass.misses())))
            .toList(),
        fall.caught().rule().orElse(""),
        OutcomeText.print(fall.caught().outcome()),
        fall.caught().outcome().verdict().word(),
        reasons(fall.caught().matches()),
        fall.stages().stream().map(Views::stage).toList());
  }

  private static List<PartView> parts(ProbeText.Probe probe) {
    List<PartView> parts = new ArrayList<>();
    ProbeText.details(probe.connection())
        .forEach(
            (detail, value) ->
                parts.add(new PartView(word(detail), value, probe.filledIn().contains(detail))));
    return parts;
  }

  private static StageView stage(Fall.Stage stage) {
    return new StageView(
        stage.knowledge().word(),
        word(stage.status()),
        stage.waiting().stream()
            .map(
                wait ->
                    new WaitView(
                        wait.rule(),
                        wait.fields().stream().map(ironsieve.model.FieldName::label).toList()))
            .toList(),
        stage.rule().orElse(""),
        stage.outcomes().stream().map(OutcomeText::print).toList());
  }

  private static List<ReasonView> reasons(List<Reason> reasons) {
    return reasons.stream()
        .map(r -> new ReasonView(r.field().key(), r.field().label(), r.had(), r.wanted()))
        .toList();
  }
}
