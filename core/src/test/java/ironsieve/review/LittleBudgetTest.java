package ironsieve.review;

import static ironsieve.review.Spoken.words;
import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Rulebase;
import ironsieve.review.Finding.Kind;
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
    return about(budget, rules.toArray(String[]::new));
  }

  /** What is said of who takes from the last of some rules. */
  private static List<Finding> about(Budget budget, String... rules) {
    Rulebase rulebase = Rulebases.of(rules);
    return Reviewer.review(CompiledRulebase.of(rulebase, SmallWorld.environment()), budget)
        .of("r" + rules.length)
        .stream()
        .filter(finding -> finding.kind() != Kind.UNNOTED)
        .toList();
  }

  /**
   * Twelve allows together take what the deny below them is about; to prove it takes many steps.
   */
  private static String[] hiddenDeny() {
    List<String> rules = new ArrayList<>();
    for (String person : List.of("ada", "ben", "cy")) {
      for (String zone : List.of("Inside", "!Inside")) {
        for (String ports : List.of("1-1000", "1001-65535")) {
          rules.add(
              "allow from.people=" + person + " to.zones=" + zone + " using.services=tcp/" + ports);
        }
      }
    }
    rules.add("deny from.people=ada|ben|cy using.services=tcp/1-65535");
    rules.add("allow");
    rules.add("allow from.people=identified using.services=tcp from.networks=10.0.0.0/8");
    return rules.toArray(String[]::new);
  }

  @Test
  void thatNothingReachesItIsSaidButNotWhetherItIsShadowed() {
    assertThat(about(Budget.USUAL, hiddenDeny()))
        .extracting(Finding::kind)
        .contains(Kind.REDUNDANT)
        .doesNotContain(Kind.SHADOWED, Kind.UNDETERMINED);
    assertThat(about(LITTLE, hiddenDeny()))
        .noneMatch(finding -> finding.kind() == Kind.REDUNDANT || finding.kind() == Kind.SHADOWED)
        .first()
        .satisfies(
            finding -> {
              assertThat(finding.kind()).isEqualTo(Kind.UNDETERMINED);
              assertThat(words(finding))
                  .isEqualTo(
                      "This rule never matches: the rules above it match all of its connections"
                          + " first. Undetermined: whether any of its connections gets another"
                          + " verdict from them took more work than the review's budget.");
              assertThat(finding.evidence())
                  .extracting(evidence -> evidence.witness().caughtBy())
                  .isNotEmpty()
                  .doesNotContain(Optional.of("r13"));
            });
  }

  @Test
  void aConnectionThatNoneDecidesTheSameProvesItShadowedWithoutAnySearch() {
    assertThat(findings(LITTLE, "allow")).extracting(Finding::kind).containsExactly(Kind.SHADOWED);
  }

  @Test
  void aPlaceIsCalledGoodOnlyWhereThatIsProven() {
    assertThat(placeOf(Budget.USUAL, hiddenDeny()))
        .startsWith("No place helps: all of its connections already get the same verdict from");
    assertThat(placeOf(LITTLE, hiddenDeny()))
        .isEqualTo(
            "No better place is known: whether rules above give part of it another verdict took"
                + " more work than the review's budget.");
  }

  private static String placeOf(Budget budget, String... rules) {
    CompiledRulebase compiled = CompiledRulebase.of(Rulebases.of(rules), SmallWorld.environment());
    Message why = Placement.of(compiled, "r" + rules.length, budget).orElseThrow().why();
    return why.with(id -> Integer.parseInt(id.substring(1)));
  }
}
