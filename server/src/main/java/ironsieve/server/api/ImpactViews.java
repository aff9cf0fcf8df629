package ironsieve.server.api;

import ironsieve.compile.CompiledEdit;
import ironsieve.decide.PromiseCheck;
import ironsieve.impact.Comparison;
import ironsieve.impact.Impact;
import ironsieve.impact.SurroundingsChange;
import ironsieve.model.Rulebase;
import ironsieve.model.Verdict;
import ironsieve.recorded.RecordedDecisions;
import ironsieve.review.Aftermath;
import ironsieve.review.Oversubscription;
import ironsieve.review.Placement;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.text.OutcomeText;
import ironsieve.text.ProbeText;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/**
 * What the API shows of an impact: which connections are decided otherwise, and what comes of it.
 */
public final class ImpactViews {

  /** Meetings of a piece and a rule; some hundred milliseconds at most. */
  private static final int IMPACT_BUDGET = 300_000;

  private static final int MOST_LINES = 20;
  private static final int MOST_NAMES = 50;

  private ImpactViews() {}

  /**
   * What some steps would change; {@code complete} says whether that is all, {@code placement}
   * where an added rule stands best.
   */
  @Schema(
      requiredProperties = {
        "revision",
        "state",
        "complete",
        "kinds",
        "ended",
        "begun",
        "broken",
        "mended",
        "recorded",
        "oversubscribed"
      })
  public record ImpactView(
      long revision,
      String state,
      PlacementView placement,
      boolean complete,
      List<KindView> kinds,
      List<NoticeView> ended,
      List<NoticeView> begun,
      List<String> broken,
      List<String> mended,
      RecordedView recorded,
      List<String> oversubscribed) {}

  /**
   * Recorded connections that would get another verdict, or another lane or notice alone ({@code
   * besideVerdict} of {@code times}): how many, of how many people – and which, those with the most
   * first –, and the most frequent of them.
   */
  @Schema(requiredProperties = {"times", "besideVerdict", "people", "names", "lines", "more"})
  public record RecordedView(
      long times,
      long besideVerdict,
      int people,
      List<String> names,
      List<ChangedLineView> lines,
      long more) {}

  /** A recorded connection as a probe, with its verdicts before and after. */
  @Schema(requiredProperties = {"times", "probe", "before", "after"})
  public record ChangedLineView(long times, String probe, String before, String after) {}

  /**
   * A better place for a rule, {@code above} or {@code below} another one, and why; without a place
   * if it stands as well as it can.
   */
  @Schema(requiredProperties = {"why"})
  public record PlacementView(String side, String rule, String why) {}

  /** One kind of connection that would be decided otherwise, with one of them as a probe. */
  @Schema(requiredProperties = {"words", "before", "after", "probe"})
  public record KindView(
      List<WordsView> words, DecisionView before, DecisionView after, String probe) {}

  /** One part of a description. */
  @Schema(requiredProperties = {"part", "text"})
  public record WordsView(String part, String text) {}

  /**
   * What happens and the rules it comes from, an empty id for the default verdict. {@code outcome}
   * also names notice and lane.
   */
  @Schema(requiredProperties = {"verdict", "outcome", "rules"})
  public record DecisionView(String verdict, String outcome, List<String> rules) {}

  /** A finding that would end or begin. */
  @Schema(requiredProperties = {"rule", "kind"})
  public record NoticeView(String rule, String kind) {}

  /** What one state of a rulebase decides otherwise than another, each in its surroundings. */
  static ImpactView between(RulebaseSnapshot before, RulebaseSnapshot after) {
    if (after.environment() != before.environment()) {
      return impact(
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
    return impact(before, after, Comparison.of(edit, IMPACT_BUDGET));
  }

  static ImpactView impact(RulebaseSnapshot before, RulebaseSnapshot after, Impact impact) {
    Aftermath aftermath = Aftermath.of(before.review(), after.review());
    return new ImpactView(
        before.revision(),
        before.state().token(),
        placement(before, after),
        impact.extent() == Impact.Extent.COMPLETE,
        impact.kinds().stream().map(ImpactViews::kind).toList(),
        notices(aftermath.ended()),
        notices(aftermath.begun()),
        newlyBroken(before, after),
        newlyBroken(after, before),
        recorded(before, after),
        oversubscribed(before.compiled().rulebase(), after.compiled().rulebase()));
  }

  /** What lanes guarantee beyond the link, where an edit brings that about or is about lanes. */
  private static List<String> oversubscribed(Rulebase before, Rulebase after) {
    return before.parts().lanes().equals(after.parts().lanes())
        ? Oversubscription.added(before, after)
        : Oversubscription.of(after);
  }

  private static RecordedView recorded(RulebaseSnapshot before, RulebaseSnapshot after) {
    RecordedDecisions was = before.decisions();
    RecordedDecisions becomes = after.decisions();
    if (was.lines() != becomes.lines()) {
      return new RecordedView(0, 0, 0, List.of(), List.of(), 0);
    }
    RecordedDecisions.Changes changes = was.changedBy(becomes, MOST_LINES);
    return new RecordedView(
        changes.times(),
        changes.besideVerdict(),
        changes.people().size(),
        changes.people().entrySet().stream()
            .sorted(
                Map.Entry.<String, Long>comparingByValue()
                    .reversed()
                    .thenComparing(Map.Entry.comparingByKey()))
            .limit(MOST_NAMES)
            .map(Map.Entry::getKey)
            .toList(),
        changes.lines().stream()
            .map(
                one ->
                    new ChangedLineView(
                        one.line().times(),
                        ProbeText.print(one.line().connection()),
                        outcomes(one.before(), one.after()),
                        outcomes(one.after(), one.before())))
            .toList(),
        changes.count() - changes.lines().size());
  }

  /** What may happen, in words; lane and notice too where the verdicts alone are the same. */
  private static String outcomes(
      RecordedDecisions.Decision decision, RecordedDecisions.Decision other) {
    return decision.verdicts().equals(other.verdicts())
        ? decision.outcomes().stream()
            .map(OutcomeText::print)
            .sorted()
            .collect(Collectors.joining(" or "))
        : verdicts(decision);
  }

  /** What may happen, in words; several where too little is known of the connection. */
  static String verdicts(RecordedDecisions.Decision decision) {
    return decision.verdicts().isEmpty()
        ? "cannot be run"
        : decision.verdicts().stream()
            .map(Verdict::word)
            .sorted()
            .collect(Collectors.joining(" or "));
  }

  /** Asked only of a single rule that is added: somebody who moves one knows where. */
  private static PlacementView placement(RulebaseSnapshot before, RulebaseSnapshot after) {
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
                        place.move().map(move -> Views.word(move.side())).orElse(null),
                        place.move().map(Placement.Move::rule).orElse(null),
                        place.why().with(before.review()::number)))
            .orElse(null);
  }

  /** The names of the promises that one snapshot keeps and another one has and breaks. */
  static List<String> newlyBroken(RulebaseSnapshot before, RulebaseSnapshot after) {
    Set<String> kept = new HashSet<>();
    before.promises().stream()
        .filter(PromiseCheck::isKept)
        .forEach(check -> kept.add(check.promise().id()));
    return after.promises().stream()
        .filter(check -> !check.isKept() && kept.contains(check.promise().id()))
        .map(check -> after.contents().promises().get(check.promise().id()).name())
        .toList();
  }

  static List<NoticeView> notices(List<Aftermath.Notice> notices) {
    return notices.stream()
        .map(notice -> new NoticeView(notice.rule(), notice.kind().word()))
        .toList();
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
        decision.outcome().verdict().word(), OutcomeText.print(decision.outcome()), decision.ids());
  }
}
