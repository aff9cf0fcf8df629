package ironsieve.review;

import ironsieve.compile.CompiledEdit;
import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Tape;
import ironsieve.progress.Progress;
import ironsieve.recorded.RecordedDecisions;
import ironsieve.recorded.Traffic;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * Reviews a compiled rulebase. Rules are reviewed on their own, on all processors: each against
 * those rules only whose claims meet its own. Findings are exact over the product of the
 * dimensions; see {@link Budget} for the one limit.
 */
public final class Reviewer {

  private final ReviewContext reviewing;
  private final Claims claims;
  private final Words words;
  private final PolicyChecks checks;

  private Reviewer(ReviewContext reviewing, Optional<Needs.Earlier> earlier) {
    this.reviewing = reviewing;
    claims = new Claims(reviewing.compiled(), reviewing.progress());
    words = new Words(reviewing.compiled());
    checks = new PolicyChecks(claims, words, reviewing.budget(), earlier);
  }

  /** Everything there is to say, within the budget for each rule. */
  public static Review review(CompiledRulebase compiled, Budget budget) {
    return review(compiled, budget, List.of());
  }

  /** Everything there is to say, also of what recorded traffic falls on. */
  public static Review review(CompiledRulebase compiled, Budget budget, List<Tape> tapes) {
    return review(compiled, budget, tapes, new Progress());
  }

  /** The same, for somebody who looks on. */
  public static Review review(
      CompiledRulebase compiled, Budget budget, List<Tape> tapes, Progress progress) {
    return review(compiled, budget, Traffic.of(tapes), progress);
  }

  /**
   * The same beside traffic that remembers where its lines lie.
   *
   * @throws java.util.concurrent.CancellationException if it is stopped
   */
  public static Review review(
      CompiledRulebase compiled, Budget budget, Traffic traffic, Progress progress) {
    return review(budget, RecordedDecisions.of(compiled, traffic), progress);
  }

  /**
   * The same beside what the rulebase is known to do with recorded traffic.
   *
   * @throws java.util.concurrent.CancellationException if it is stopped
   */
  public static Review review(Budget budget, RecordedDecisions recorded, Progress progress) {
    return review(new ReviewContext(recorded.compiled(), budget, recorded, progress));
  }

  /**
   * The ids of the rules that take part and that nothing reaches, for whoever wants to know no more
   * than that; rules of which it took more than the budget to find out are not among them.
   */
  public static Set<String> unreached(CompiledRulebase compiled, Budget budget) {
    Reviewer reviewer =
        new Reviewer(
            new ReviewContext(
                compiled,
                budget,
                RecordedDecisions.of(compiled, Traffic.of(List.of())),
                new Progress()),
            Optional.empty());
    return IntStream.range(0, compiled.rules().size())
        .parallel()
        .mapToObj(rule -> new RuleMeasure(reviewer.claims, budget, rule).seek())
        .filter(measure -> measure.reached() == Reached.NO)
        .map(RuleMeasure::id)
        .collect(Collectors.toSet());
  }

  private static Review review(ReviewContext reviewing) {
    Reviewer reviewer = new Reviewer(reviewing, Optional.empty());
    ReviewedRules rules = new ReviewedRules(reviewing.compiled().rules().size());
    reviewer.complete(IntStream.range(0, rules.size()).boxed().toList(), rules);
    return new Review(reviewing, rules, reviewer.checks);
  }

  /**
   * The review of what an edit made of a rulebase; the same as one from scratch, but only rules
   * that the edit can concern are looked at again.
   *
   * @param before the review of the rulebase before the edit
   */
  public static Review again(Review before, CompiledEdit edit) {
    return again(before, edit, new Progress());
  }

  /**
   * The same, for somebody who looks on.
   *
   * @throws java.util.concurrent.CancellationException if it is stopped
   */
  public static Review again(Review before, CompiledEdit edit, Progress progress) {
    return again(before, edit, before.recorded().after(edit), progress);
  }

  /**
   * The same beside what the edited rulebase is known to do with recorded traffic.
   *
   * @throws java.util.concurrent.CancellationException if it is stopped
   */
  public static Review again(
      Review before, CompiledEdit edit, RecordedDecisions recorded, Progress progress) {
    ReviewContext reviewing = before.reviewing(recorded, progress);
    CompiledRulebase after = edit.after();
    boolean otherGround =
        after.rulebase().defaultVerdict() != edit.before().rulebase().defaultVerdict()
            || !after
                .rulebase()
                .parts()
                .decryption()
                .equals(edit.before().rulebase().parts().decryption());
    if (otherGround) {
      return review(reviewing);
    }
    Reviewer reviewer =
        new Reviewer(reviewing, Optional.of(new Needs.Earlier(edit, before.resolvers())));
    BitSet concerned =
        new AffectedRules(before, edit, reviewer.claims, reviewer.checks.needs()).rules();
    ReviewedRules known = new ReviewedRules(after.rules().size());
    List<Integer> open = new ArrayList<>();
    for (int rule = 0; rule < known.size(); rule++) {
      int was = edit.origin(rule);
      if (was >= 0) {
        known.remember(rule, before.reviewed(), was, edit);
      }
      if (concerned.get(rule)) {
        open.add(rule);
      } else {
        known.keep(rule, before.reviewed(), was);
      }
    }
    reviewer.complete(open, known);
    for (int rule : open) {
      int was = edit.origin(rule);
      // What is said again stays the same object; then nobody has to compare.
      if (was >= 0 && before.reviewed().get(was).equals(known.get(rule))) {
        known.keep(rule, before.reviewed(), was);
      }
    }
    return new Review(reviewer.reviewing, known, reviewer.checks);
  }

  /** Reviews the open rules; all others are known. */
  private void complete(List<Integer> open, ReviewedRules known) {
    RuleMeasure[] begun = new RuleMeasure[known.size()];
    reviewing.progress().begin("reviewing rules", open.size());
    List<RuleMeasure> measures =
        spread(open).parallelStream().map(rule -> measured(rule, known.branches(rule))).toList();
    measures.forEach(measure -> begun[measure.rule()] = measure);
    List<RuleReview> reviews =
        measures.stream()
            .map(measure -> new RuleReview(measure, claims, words, reviewing.budget()))
            .toList();
    reviews.parallelStream()
        .forEach(
            review ->
                review.judge(
                    other ->
                        begun[other] == null
                            ? known.get(other).reached()
                            : begun[other].reached()));
    List<Reviewed> finished = reviews.parallelStream().map(this::finished).toList();
    for (int i = 0; i < reviews.size(); i++) {
      known.put(measures.get(i).rule(), finished.get(i), measures.get(i).branches());
    }
  }

  /**
   * The same in another order, in which neighbours lie far apart: broad rules often stand together,
   * and would all fall to one processor.
   */
  private static List<Integer> spread(List<Integer> rules) {
    return IntStream.range(0, rules.size())
        .boxed()
        .sorted(Comparator.comparing(Integer::reverse))
        .map(rules::get)
        .toList();
  }

  private RuleMeasure measured(int rule, KnownBranches earlier) {
    reviewing.progress().check();
    return new RuleMeasure(claims, reviewing.budget(), rule).measure(earlier);
  }

  private Reviewed finished(RuleReview review) {
    reviewing.progress().check();
    List<Finding> findings = new ArrayList<>(review.findings());
    findings.addAll(checks.findings(review.measure()));
    // An unknown name comes first, for it may be why the rest is said.
    findings.sort(
        Comparator.comparing(Finding::severity)
            .thenComparing(finding -> finding.kind() != Finding.Kind.UNKNOWN_NAME));
    reviewing.progress().oneMore();
    return new Reviewed(findings, review.measure().residue(), review.measure().reached());
  }
}
