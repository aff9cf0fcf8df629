package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.compile.CompiledRulebase;
import ironsieve.impact.Comparison;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

class RemediesTest {

  @Provide
  Arbitrary<Rulebases.Case> cases() {
    return Rulebases.cases(7);
  }

  @Property(tries = 2500)
  void aRemedyReallyEndsItsFinding(@ForAll("cases") Rulebases.Case given) {
    Rulebase rulebase = given.rulebase();
    Review review = review(rulebase, given);
    Remedies remedies =
        new Remedies(CompiledRulebase.of(rulebase, given.world().surroundings()), review);
    for (Finding finding : review.findings()) {
      if (finding.kind() == Finding.Kind.SHADOWED || finding.kind() == Finding.Kind.EMPTY) {
        assertThat(remedies.of(finding)).hasSize(2);
      }
      for (Remedy remedy : remedies.of(finding)) {
        Review after = review(Edit.made(rulebase, remedy.edit()), given);
        assertThat(after.of(finding.rule()))
            .as("%s by %s", finding.kind(), remedy)
            .noneMatch(left -> left.kind() == finding.kind());
        if (remedy.words().startsWith("Narrow")) {
          assertThat(
                  Comparison.between(
                          rulebase,
                          Edit.made(rulebase, remedy.edit()),
                          given.world().surroundings(),
                          100_000)
                      .kinds())
              .isEmpty();
        }
      }
    }
  }

  @Test
  void aRuleOfWhichOnlySomeValuesAreTakenIsSplit() {
    Rulebase rulebase =
        Rulebases.of("deny from.people=ada", "allow from.people=ada|ben using.applications=Mail");
    CompiledRulebase compiled = CompiledRulebase.of(rulebase, SmallWorld.surroundings());
    Review review = Reviewer.review(compiled, Budget.USUAL);
    Finding finding = review.of("r2").get(0);
    assertThat(finding.kind()).isEqualTo(Finding.Kind.PARTLY_SHADOWED);
    Remedy split =
        new Remedies(compiled, review)
            .of(finding).stream()
                .filter(remedy -> remedy.edit() instanceof Edit.Split)
                .findFirst()
                .orElseThrow();
    assertThat(split.words()).isEqualTo("Split it: person ada above rule 1");
    assertThat(Edit.made(rulebase, split.edit()).rules().stream().map(Rule::id))
        .containsExactly("r2-part", "r1", "r2");
  }

  private static Review review(Rulebase rulebase, Rulebases.Case given) {
    return Reviewer.review(
        CompiledRulebase.of(rulebase, given.world().surroundings()), Budget.USUAL);
  }
}
