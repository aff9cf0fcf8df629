package ironsieve.review;

import ironsieve.review.CoverSearch.Candidate;
import ironsieve.review.Finding.Evidence;
import ironsieve.review.Finding.Kind;
import ironsieve.review.Finding.Severity;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What the review has to say beyond who takes from whom: what order, encryption, needs and good
 * practice make of a rule, a class for each. Asked of each rule on its own, once its residue is
 * known.
 */
final class PolicyChecks {

  private final Claims claims;
  private final OrderMatters order;
  private final BlindFeature blind;
  private final LeaksFirst leaks;
  private final OpenOutside open;
  private final Needs needs;

  PolicyChecks(Claims claims, Words words, Budget budget, Optional<Needs.Earlier> earlier) {
    this.claims = claims;
    order = new OrderMatters(claims, words, budget);
    blind = new BlindFeature(claims);
    leaks = new LeaksFirst(claims, budget);
    open = new OpenOutside(claims);
    needs = new Needs(claims, earlier);
  }

  /** What there is to say about one rule. */
  List<Finding> findings(RuleMeasure measure) {
    int rule = measure.rule();
    List<Finding> found = new ArrayList<>();
    order.check(rule, measure.meeting(), found);
    blind.check(rule).ifPresent(found::add);
    if (!measure.reaching().isEmpty()) {
      passing(measure, found);
      open.check(measure, found);
    }
    UnknownNames.check(claims.rules().get(rule).rule(), claims.compiled().names())
        .ifPresent(found::add);
    Upkeep.check(claims.rules().get(rule).rule(), claims.space().environment().today(), found);
    return found;
  }

  /** What leaks before it decides, and what it lets through that needs something else. */
  private void passing(RuleMeasure measure, List<Finding> found) {
    int rule = measure.rule();
    List<Candidate> reaching = measure.reaching();
    Optional<Finding> leaking = leaks.check(rule, reaching, false);
    Optional<Finding> lacking = needs.finding(rule, reaching);
    if (!measure.isExact() && leaking.isEmpty()) {
      leaking = leaks.check(rule, claims.parts(rule), true);
    }
    leaking.ifPresent(found::add);
    lacking.ifPresent(found::add);
    if (!measure.isExact()
        && lacking.isEmpty()
        && needs.finding(rule, claims.parts(rule)).isPresent()) {
      // Some of the claim lacks something; whether that is some of what reaches the rule is open.
      found.add(
          Unsure.about(claims.id(rule), "whether dependencies are met for all that it catches"));
    }
  }

  /** What hangs on all rules together, by the number of the rule it is said of. */
  Map<Integer, List<Finding>> overall(ReviewedRules rules) {
    Map<Integer, List<Finding>> found = new HashMap<>();
    new Overpromised(claims.compiled().rulebase())
        .sentences()
        .forEach(
            (id, said) -> {
              int rule = claims.compiled().rule(id).orElseThrow().index();
              rules
                  .get(rule)
                  .residue()
                  .witness()
                  .ifPresent(witness -> add(found, rule, overpromised(id, said, witness)));
            });
    LockOut lockOut = new LockOut(claims);
    lockOut.finding().ifPresent(finding -> add(found, lockOut.rule(), finding));
    return found;
  }

  private static void add(Map<Integer, List<Finding>> found, int rule, Finding finding) {
    found.computeIfAbsent(rule, number -> new ArrayList<>()).add(finding);
  }

  private static Finding overpromised(String rule, Message said, Witness witness) {
    return new Finding(
        Kind.OVERPROMISED, Severity.WARNING, rule, said, List.of(Evidence.of(witness)), List.of());
  }

  Needs needs() {
    return needs;
  }
}
