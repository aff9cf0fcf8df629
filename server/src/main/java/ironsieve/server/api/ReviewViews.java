package ironsieve.server.api;

import ironsieve.files.Contents;
import ironsieve.files.DocumentWriter;
import ironsieve.review.Edit;
import ironsieve.review.Explanations;
import ironsieve.review.Finding;
import ironsieve.review.Message;
import ironsieve.review.Remedies;
import ironsieve.review.Remedy;
import ironsieve.review.Residue;
import ironsieve.review.Review;
import ironsieve.review.Share;
import ironsieve.review.Witness;
import ironsieve.server.edit.Accepted;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.edit.RulebaseStep;
import ironsieve.text.ProbeText;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/**
 * What the API shows of a review: findings with witnesses and remedies, and what is left of rules.
 */
public final class ReviewViews {

  private ReviewViews() {}

  private static final int MOST_TAKERS = 12;

  /**
   * The review of one state, or what of it differs from the review of the state {@code since};
   * {@code steps} is the budget of each of its searches.
   */
  @Schema(requiredProperties = {"revision", "state", "rules", "steps"})
  public record ReviewView(
      long revision, String state, String since, Map<String, RuleReviewView> rules, int steps) {}

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
  public record RemedyView(String words, List<RulebaseStep> steps) {}

  /**
   * A rule a finding comes from; {@code rule} is empty for the default verdict, {@code otherwise}
   * the share that it gives another verdict.
   */
  @Schema(requiredProperties = {"rule", "part", "witness"})
  public record EvidenceView(String rule, String part, Double otherwise, WitnessView witness) {}

  /** A connection, as a probe, and the rule that catches it; empty for the default verdict. */
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
   * The review of a snapshot.
   *
   * @param rules the ids of the rules to show
   * @param since the state from which all others are the same; null for none
   */
  static ReviewView review(RulebaseSnapshot snapshot, Collection<String> rules, String since) {
    Map<String, RuleReviewView> shown = new HashMap<>();
    Review review = snapshot.review();
    for (String id : rules) {
      GaugeView gauge =
          review.compiled().rule(id).map(rule -> gauge(review.residue(id))).orElse(null);
      List<MarkView> marks = review.of(id).stream().map(f -> mark(snapshot.contents(), f)).toList();
      shown.put(id, new RuleReviewView(marks, gauge));
    }
    return new ReviewView(
        snapshot.revision(),
        snapshot.state().token(),
        since,
        shown,
        snapshot.budget().searchSteps());
  }

  private static MarkView mark(Contents contents, Finding finding) {
    String kind = finding.kind().word();
    return new MarkView(
        kind,
        Views.word(finding.severity()),
        finding.said().parts().stream().map(ReviewViews::part).toList(),
        Accepted.of(contents, finding.rule(), kind).isPresent());
  }

  static SaidView part(Message.Part part) {
    return part instanceof Message.Part.Rules rules
        ? new SaidView(null, rules.named(), rules.others())
        : new SaidView(((Message.Part.Text) part).text(), null, null);
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
  static RuleDetailView detail(RulebaseSnapshot snapshot, String rule) {
    Review review = snapshot.review();
    Remedies remedies = new Remedies(snapshot.compiled(), review);
    Explanations explanations = new Explanations(snapshot.compiled().rulebase(), review);
    return new RuleDetailView(
        snapshot.revision(),
        review.of(rule).stream()
            .map(f -> finding(snapshot, f, remedies.of(f), explanations.of(f)))
            .toList(),
        review.compiled().rule(rule).map(r -> residue(review.residue(rule))).orElse(null));
  }

  private static FindingView finding(
      RulebaseSnapshot snapshot, Finding finding, List<Remedy> remedies, List<String> explanation) {
    return new FindingView(
        finding.kind().word(),
        Views.word(finding.severity()),
        finding.rule(),
        snapshot.review().sentence(finding),
        finding.evidence().stream().map(ReviewViews::evidence).toList(),
        finding.fields().stream().map(ironsieve.model.FieldName::key).toList(),
        remedies.stream().map(r -> new RemedyView(r.words(), steps(r.edit()))).toList(),
        explanation,
        Accepted.of(snapshot.contents(), finding.rule(), finding.kind().word())
            .map(doc -> new AcceptedView(doc.who(), doc.reason()))
            .orElse(null));
  }

  private static EvidenceView evidence(Finding.Evidence evidence) {
    return new EvidenceView(
        evidence.rule(),
        evidence.part(),
        evidence.otherwise().map(Share::value).orElse(null),
        witness(evidence.witness()));
  }

  private static List<RulebaseStep> steps(Edit edit) {
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

  private static RulebaseStep step(Edit edit) {
    if (edit instanceof Edit.MoveAbove move) {
      return new RulebaseStep.MoveRule(move.rule(), RulebaseStep.Place.above(move.target()));
    }
    if (edit instanceof Edit.Remove remove) {
      return new RulebaseStep.RemoveRule(remove.rule());
    }
    if (edit instanceof Edit.Replace replace) {
      return new RulebaseStep.ChangeRule(replace.rule().id(), Views.patch(replace.rule()));
    }
    if (edit instanceof Edit.InsertAbove insert) {
      return new RulebaseStep.AddRule(
          Optional.empty(), RulebaseStep.Place.above(insert.target()), Views.patch(insert.rule()));
    }
    return new RulebaseStep.SavePart(DocumentWriter.decryption(((Edit.Decrypt) edit).line(), null));
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
        residue.witness().map(ReviewViews::witness).orElse(null));
  }

  private static boolean estimated(Share share) {
    return share.certainty() == Share.Certainty.ESTIMATED;
  }
}
