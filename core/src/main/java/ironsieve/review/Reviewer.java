package ironsieve.review;

import ironsieve.compile.CompiledRulebase;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;

/**
 * Reviews a compiled rulebase. Rules are reviewed on their own, on all processors: each against
 * those rules only whose claims meet its own. Findings are exact over the product of the
 * dimensions; see {@link Budget} for the one limit.
 */
public final class Reviewer {

  private Reviewer() {}

  /** Everything there is to say, within the budget for each rule. */
  public static Review review(CompiledRulebase compiled, Budget budget) {
    Claims claims = new Claims(compiled);
    Words words = new Words(compiled);
    List<RuleReview> reviews =
        IntStream.range(0, compiled.rules().size())
            .parallel()
            .mapToObj(rule -> new RuleReview(claims, words, budget, rule).measure())
            .toList();
    reviews.parallelStream().forEach(review -> review.judge(r -> reviews.get(r).reached()));
    Practice practice = new Practice(claims, words, budget);
    List<List<Finding>> more =
        IntStream.range(0, reviews.size())
            .parallel()
            .mapToObj(rule -> practice.findings(rule, reviews.get(rule)))
            .toList();
    List<Finding> findings = new ArrayList<>();
    Map<String, Residue> residues = new HashMap<>();
    for (int rule = 0; rule < reviews.size(); rule++) {
      List<Finding> ofRule = new ArrayList<>(reviews.get(rule).findings());
      ofRule.addAll(more.get(rule));
      ofRule.sort(Comparator.comparing(Finding::severity));
      findings.addAll(ofRule);
      residues.put(reviews.get(rule).residue().rule(), reviews.get(rule).residue());
    }
    return new Review(findings, residues);
  }
}
