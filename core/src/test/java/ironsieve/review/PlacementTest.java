package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.compile.CompiledRulebase;
import ironsieve.impact.Comparison;
import ironsieve.model.Chapter;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.review.Finding.Kind;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

class PlacementTest {

  private static CompiledRulebase compiled(Rulebase rulebase) {
    return CompiledRulebase.of(rulebase, SmallWorld.environment());
  }

  private static Optional<Placement> of(Rulebase rulebase, String rule) {
    return Placement.of(compiled(rulebase), rule, Budget.USUAL);
  }

  @Test
  void aBlockBelowItsAllowBelongsAboveIt() {
    Rulebase base =
        Rulebases.of(
            "deny using.services=icmp",
            "allow from.people=group crew",
            "deny from.people=group deck using.applications=Mail");
    Placement better = of(base, "r3").orElseThrow();
    assertThat(better.side()).isEqualTo(Placement.Side.ABOVE);
    assertThat(better.rule()).isEqualTo("r2");
    assertThat(better.why().with(id -> Integer.parseInt(id.substring(1))))
        .isEqualTo("Better above rule 2: below it, this rule would never match.");
  }

  @Test
  void aBroadRuleBelongsBelowItsExceptions() {
    Rulebase base =
        Rulebases.of(
            "allow from.people=group crew",
            "deny from.people=ada using.applications=Mail",
            "reject from.people=ben");
    Placement better = of(base, "r1").orElseThrow();
    assertThat(better.side()).isEqualTo(Placement.Side.BELOW);
    assertThat(better.rule()).isEqualTo("r3");
  }

  @Provide
  Arbitrary<Rulebase> rulebases() {
    return Rulebases.random(SmallWorld.WORLD, 7);
  }

  /** Whoever takes the advice is not told to move again, and no single rule keeps all from it. */
  @Property(tries = 1000)
  void theAdviceHoldsOnceItIsTaken(@ForAll("rulebases") Rulebase rulebase) {
    for (Rule rule : rulebase.rules()) {
      Optional<Placement> better = of(rulebase, rule.id());
      if (better.isPresent()) {
        Rulebase moved = moved(rulebase, rule, better.get());
        assertThat(of(moved, rule.id())).isEmpty();
        assertThat(Comparison.between(rulebase, moved, SmallWorld.environment(), 100_000).kinds())
            .noneMatch(
                kind ->
                    kind.after().outcome().verdict().passes()
                        && !kind.before().outcome().verdict().passes());
        if (better.get().side() == Placement.Side.ABOVE) {
          Review review = Reviewer.review(compiled(moved), Budget.USUAL);
          assertThat(
                  review.of(rule.id()).stream()
                      .filter(finding -> finding.kind() == Kind.SHADOWED)
                      .filter(finding -> finding.evidence().size() == 1))
              .isEmpty();
        }
      }
    }
  }

  private static Rulebase moved(Rulebase rulebase, Rule rule, Placement place) {
    List<Rule> rules = new ArrayList<>(rulebase.rules());
    rules.remove(rule);
    int other = rules.indexOf(rulebase.rule(place.rule()).orElseThrow());
    rules.add(place.side() == Placement.Side.ABOVE ? other : other + 1, rule);
    return new Rulebase(
        "moved",
        List.of(new Chapter("c", "All", "", rules)),
        rulebase.parts(),
        rulebase.defaultVerdict());
  }
}
