package ironsieve.benchmarks;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Environment;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.review.Budget;
import ironsieve.review.Review;
import ironsieve.review.Reviewer;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * A general solver, told only what the fields say, and decision diagrams find the same rules
 * unreached.
 */
class SolverAgreesTest {

  @ParameterizedTest
  @ValueSource(longs = {7, 8, 9, 10, 11, 12})
  void theReviewAndTheSolverFindTheSameRulesUnreached(long seed) {
    Environment environment = Generated.environment(120, 60);
    Rulebase rulebase = Generated.dense(60, 60, seed);
    Review review = Reviewer.review(CompiledRulebase.of(rulebase, environment), Budget.USUAL);
    List<Boolean> found = new ArrayList<>();
    for (Rule rule : rulebase.rules()) {
      found.add(review.residue(rule.id()).witness().isEmpty());
    }
    try (GeneralSolver solver = new GeneralSolver(environment)) {
      assertThat(found).isEqualTo(solver.unreached(solver.claims(rulebase.rules())));
    }
    CompiledRulebase compiled = review.compiled();
    try (DecisionDiagrams diagrams = new DecisionDiagrams(compiled.space())) {
      assertThat(diagrams.unreached(compiled, Long.MAX_VALUE)).contains(found);
    }
    assertThat(found).as("some rules are unreached, some are not").contains(true, false);
  }

  @ParameterizedTest
  @ValueSource(longs = {7, 8})
  void decisionDiagramsFindTheSameInAGrownRulebase(long seed) {
    CompiledRulebase compiled =
        CompiledRulebase.of(Grown.rulebase(300, 60, seed), Generated.environment(2_000, 60));
    Set<String> unreached = Reviewer.unreached(compiled, Budget.USUAL);
    try (DecisionDiagrams diagrams = new DecisionDiagrams(compiled.space())) {
      assertThat(diagrams.unreached(compiled, Long.MAX_VALUE))
          .contains(
              compiled.rules().stream().map(rule -> unreached.contains(rule.rule().id())).toList());
    }
    assertThat(unreached).isNotEmpty();
  }
}
