package ironsieve.review;

import ironsieve.review.Finding.Evidence;
import ironsieve.review.Finding.Kind;
import ironsieve.review.Finding.Severity;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Whether a rule and those above it cross and disagree, so that their order decides. */
final class OrderMatters {

  private static final int MOST_EVIDENCE = 24;

  private final Claims claims;
  private final Words words;
  private final Budget budget;

  OrderMatters(Claims claims, Words words, Budget budget) {
    this.claims = claims;
    this.words = words;
    this.budget = budget;
  }

  /**
   * What there is to say of a rule.
   *
   * @param above the rules above it that it overlaps
   */
  void check(int rule, List<Integer> above, List<Finding> found) {
    List<Integer> crossing = new ArrayList<>();
    List<Evidence> evidence = new ArrayList<>();
    int steps = budget.searchSteps();
    boolean unsure = false;
    for (int other : above) {
      if (!claims.isDisputed(rule, other)) {
        continue;
      }
      Optional<Boolean> holds = claims.holds(rule, other, steps);
      Optional<Boolean> isHeld =
          holds.orElse(false) ? Optional.of(false) : claims.holds(other, rule, steps);
      if (holds.orElse(false) || isHeld.orElse(false)) {
        continue;
      }
      if (holds.isEmpty() || isHeld.isEmpty()) {
        unsure = true;
        continue;
      }
      crossing.add(other);
      if (evidence.size() < MOST_EVIDENCE) {
        Witness witness = claims.witness(claims.disputed(rule, other).get(0));
        evidence.add(
            new Evidence(claims.id(other), words.part(rule, other), Optional.empty(), witness));
      }
    }
    if (unsure) {
      found.add(Unsure.about(claims.id(rule), "whether its order to all rules above it matters"));
    }
    if (crossing.isEmpty()) {
      return;
    }
    found.add(
        new Finding(
            Kind.ORDER_MATTERS,
            Severity.QUIET,
            claims.id(rule),
            Sentences.orderMatters(crossing.stream().map(claims::id).toList()),
            evidence,
            List.of()));
  }
}
