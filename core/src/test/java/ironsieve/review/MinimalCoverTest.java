package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Rulebase;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class MinimalCoverTest {

  private static Finding finding(String rule, Finding.Kind kind, String... rules) {
    Rulebase rulebase = Rulebases.of(rules);
    Review review =
        Reviewer.review(CompiledRulebase.of(rulebase, SmallWorld.environment()), Budget.USUAL);
    return review.of(rule).stream().filter(f -> f.kind() == kind).findFirst().orElseThrow();
  }

  private static List<String> named(Finding finding) {
    finding
        .evidence()
        .forEach(
            evidence ->
                assertThat(evidence.witness().caughtBy()).isEqualTo(Optional.of(evidence.rule())));
    return finding.evidence().stream().map(Finding.Evidence::rule).toList();
  }

  @Test
  void aRuleThatCatchesNothingOfItIsNotNamed() {
    Finding shadowed =
        finding(
            "r4",
            Finding.Kind.SHADOWED,
            "allow from.zones=Inside",
            "deny from.zones=!Inside",
            "allow",
            "deny from.people=identified");
    assertThat(named(shadowed)).containsExactly("r1", "r2");
  }

  /** That another rule would decide the same does not help what is decided before it. */
  @Test
  void whereOneThatDecidesTheSameComesTooLateItIsShadowedByTheOneThatIsFirst() {
    Finding shadowed =
        finding(
            "r3",
            Finding.Kind.SHADOWED,
            "deny from.zones=Inside",
            "allow",
            "allow from.zones=Inside");
    assertThat(named(shadowed)).containsExactly("r1");
    assertThat(shadowed.said().with(id -> Integer.parseInt(id.substring(1))))
        .isEqualTo("This rule never matches: rule 1 matches all of its connections first.");
  }
}
