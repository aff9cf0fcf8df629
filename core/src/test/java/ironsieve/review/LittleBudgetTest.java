package ironsieve.review;

import static ironsieve.review.Spoken.words;
import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Rulebase;
import ironsieve.review.Finding.Kind;
import ironsieve.review.Finding.Severity;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** What is said of a rule that nothing reaches where the budget ends before all is known of it. */
class LittleBudgetTest {

  private static final Budget LITTLE = new Budget(1, 20, 50, 128, 512);

  /** A deny of everything, more rules that allow than the budget has steps, and the rest. */
  private static List<Finding> findings(Budget budget, String... rest) {
    List<String> rules = new ArrayList<>(List.of("deny"));
    rules.addAll(Collections.nCopies(30, "allow from.zones=Inside"));
    rules.addAll(List.of(rest));
    Rulebase rulebase = Rulebases.of(rules.toArray(String[]::new));
    return Reviewer.review(CompiledRulebase.of(rulebase, SmallWorld.environment()), budget)
        .of("r" + rules.size())
        .stream()
        .filter(finding -> finding.kind() != Kind.UNNOTED)
        .toList();
  }

  @Test
  void thatNothingReachesItIsSaidButNotThatItIsShadowed() {
    assertThat(findings(Budget.USUAL, "allow", "allow"))
        .extracting(Finding::kind)
        .containsExactly(Kind.REDUNDANT);
    assertThat(findings(LITTLE, "allow", "allow"))
        .singleElement()
        .satisfies(
            finding -> {
              assertThat(finding.kind()).isEqualTo(Kind.UNDETERMINED);
              assertThat(finding.severity()).isEqualTo(Severity.WARNING);
              assertThat(words(finding))
                  .isEqualTo(
                      "This rule never matches: the rules above it match all of its connections"
                          + " first. Undetermined: whether those that decide the same would do"
                          + " alone took more work than the review's budget.");
              assertThat(finding.evidence())
                  .extracting(evidence -> evidence.witness().caughtBy())
                  .containsExactly(Optional.of("r1"));
            });
  }

  @Test
  void aConnectionThatNoneDecidesTheSameProvesItShadowedWithoutAnySearch() {
    assertThat(findings(LITTLE, "allow")).extracting(Finding::kind).containsExactly(Kind.SHADOWED);
  }
}
