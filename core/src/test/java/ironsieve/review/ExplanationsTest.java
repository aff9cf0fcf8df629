package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Rulebase;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

class ExplanationsTest {

  private static final Rulebase BASE =
      Rulebases.of(
          "deny from.people=ada",
          "allow from.zones=Inside",
          "deny from.zones=Inside using.applications=Mail",
          "allow from.people=group nobody");
  private static final Review REVIEW =
      Reviewer.review(CompiledRulebase.of(BASE, SmallWorld.environment()), Budget.USUAL);

  @ParameterizedTest
  @EnumSource(Finding.Kind.class)
  void everyKindIsExplainedInWholeSentences(Finding.Kind kind) {
    Finding finding =
        new Finding(kind, Finding.Severity.NOTE, "r2", Message.text(""), List.of(), List.of());
    for (String sentence : new Explanations(BASE, REVIEW).of(finding)) {
      assertThat(sentence).endsWith(".").hasSizeGreaterThan(20);
    }
  }

  @Test
  void whoTakesHowMuchIsToldByNumber() {
    Finding shadowed =
        REVIEW.of("r3").stream()
            .filter(f -> f.kind() == Finding.Kind.SHADOWED)
            .findFirst()
            .orElseThrow();
    assertThat(new Explanations(BASE, REVIEW).of(shadowed))
        .contains(
            "0 % of what it matches is still left to it.",
            "Rule 2 takes 75 %, 75 % with another verdict.",
            "Rule 1 takes 25 %, decided the same.");
  }

  @Test
  void theWorstComesFirstAndAmongEqualsTheTopmost() {
    List<Finding.Severity> order = REVIEW.worstFirst().stream().map(Finding::severity).toList();
    assertThat(order).isSorted();
    assertThat(REVIEW.worstFirst().get(0).rule()).isEqualTo("r3");
    Map<Finding.Severity, List<String>> byWeight =
        REVIEW.worstFirst().stream()
            .collect(
                java.util.stream.Collectors.groupingBy(
                    Finding::severity,
                    java.util.stream.Collectors.mapping(
                        Finding::rule, java.util.stream.Collectors.toList())));
    byWeight.values().forEach(rules -> assertThat(rules).isSorted());
  }
}
