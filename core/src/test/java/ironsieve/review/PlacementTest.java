package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.compile.CompiledRulebase;
import ironsieve.impact.Comparison;
import ironsieve.model.Chapter;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import net.jqwik.api.constraints.IntRange;
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
    Placement placement = of(base, "r3").orElseThrow();
    Placement.Move better = placement.move().orElseThrow();
    assertThat(better.side()).isEqualTo(Placement.Side.ABOVE);
    assertThat(better.rule()).isEqualTo("r2");
    assertThat(words(placement))
        .isEqualTo("Better above rule 2: below it, this rule would never match.");
  }

  @Test
  void aBroadRuleBelongsBelowItsExceptions() {
    Rulebase base =
        Rulebases.of(
            "allow from.people=group crew",
            "deny from.people=ada using.applications=Mail",
            "reject from.people=ben");
    Placement.Move better = of(base, "r1").orElseThrow().move().orElseThrow();
    assertThat(better.side()).isEqualTo(Placement.Side.BELOW);
    assertThat(better.rule()).isEqualTo("r3");
  }

  @Test
  void aBlockBelowAnAllowThatTakesMostOfItBelongsAboveThat() {
    Rulebase base =
        Rulebases.of("allow from.people=ada", "deny from.people=ada|ben using.applications=Mail");
    Placement placement = of(base, "r2").orElseThrow();
    assertThat(placement.move()).contains(new Placement.Move(Placement.Side.ABOVE, "r1"));
    assertThat(words(placement))
        .isEqualTo(
            "Better above rule 1: 50 % of what this rule matches gets another verdict from rule 1.");
  }

  @Test
  void ofABlockThatSeveralRulesTakeTogetherNoneIsSaidToTakeItAll() {
    Rulebase base =
        Rulebases.of("allow from.people=ada", "allow from.people=ben", "deny from.people=ada|ben");
    assertThat(words(of(base, "r3").orElseThrow()))
        .isEqualTo(
            "Better above rule 1: 100 % of what this rule matches gets another verdict from rules"
                + " 1 and 2.");
    Rulebase wider =
        Rulebases.of(
            "allow from.people=ada|cy",
            "allow from.people=ben|cy",
            "deny from.people=ada|ben using.applications=Mail");
    assertThat(words(of(wider, "r3").orElseThrow()))
        .isEqualTo(
            "Better above rule 1: 100 % of what this rule matches gets another verdict from rules"
                + " 1 and 2.");
  }

  @Test
  void aBlockBelongsAboveTheAllowThatHoldsItEvenIfSmallerOnesStandHigher() {
    String[] rules = {
      "allow from.people=ada to.zones=Outside using.services=tcp/443",
      "allow from.people=group crew",
      "deny from.people=group crew using.applications=Mail|Chat"
    };
    Placement placement = of(Rulebases.of(rules), "r3").orElseThrow();
    assertThat(words(placement))
        .isEqualTo("Better above rule 2: below it, this rule would never match.");
    Placement taken = of(Rulebases.of(rules[0], rules[2], rules[1]), "r2").orElseThrow();
    assertThat(taken.move()).isEmpty();
    assertThat(words(taken))
        .matches(
            "Under 0\\.1 % of what this rule matches gets another verdict from rule 1. Only above"
                + " rule 1 would all of that get this rule's; move it there if that is what you"
                + " want\\.");
  }

  @Test
  void aBlockBelowItsExceptionsStandsWell() {
    Rulebase base =
        Rulebases.of("allow from.people=ada using.applications=Mail", "deny from.people=ada");
    Placement placement = of(base, "r2").orElseThrow();
    assertThat(placement.move()).isEmpty();
    assertThat(words(placement)).isEqualTo("It stands well, below rule 1, an exception from it.");
  }

  @Test
  void anAllowBelowABlockIsToldWhatWouldLetItThrough() {
    Rulebase base =
        Rulebases.of("deny from.people=ada", "allow from.people=ada using.applications=Mail");
    Placement placement = of(base, "r2").orElseThrow();
    assertThat(placement.move()).isEmpty();
    assertThat(words(placement))
        .isEqualTo(
            "100 % of what this rule matches gets another verdict from rule 1. Only above rule 1"
                + " would all of it get this rule's; move it there if more is to be let through.");
  }

  private static String words(Placement placement) {
    return placement.why().with(id -> Integer.parseInt(id.substring(1)));
  }

  @Provide
  Arbitrary<Rulebase> rulebases() {
    return Rulebases.random(SmallWorld.WORLD, 7);
  }

  /**
   * Whoever takes the advice is not told to move again, nothing more is let through, and the rule
   * takes more effect if it blocks, or still some if it lets through.
   */
  @Property(tries = 1000)
  void theAdviceHoldsOnceItIsTaken(@ForAll("rulebases") Rulebase rulebase) {
    for (Rule rule : rulebase.rules()) {
      Optional<Placement.Move> better = of(rulebase, rule.id()).flatMap(Placement::move);
      if (better.isPresent()) {
        Rulebase moved = moved(rulebase, rule, better.get());
        assertThat(of(moved, rule.id()).flatMap(Placement::move)).isEmpty();
        assertThat(Comparison.between(rulebase, moved, SmallWorld.environment(), 100_000).kinds())
            .noneMatch(
                kind ->
                    kind.after().outcome().verdict().passes()
                        && !kind.before().outcome().verdict().passes());
        double before = left(rulebase, rule);
        double after = left(moved, rule);
        assertThat(after).isPositive();
        if (better.get().side() == Placement.Side.ABOVE) {
          assertThat(after).isGreaterThan(before);
        }
        if (words(of(rulebase, rule.id()).orElseThrow()).endsWith("this rule would never match.")) {
          Placement.Move below = new Placement.Move(Placement.Side.BELOW, better.get().rule());
          assertThat(left(moved(rulebase, rule, below), rule)).isZero();
        }
      }
    }
  }

  /** Where it is said that a rule stands well or that no place helps, none lets it block more. */
  @Property(tries = 500)
  void aBlockThatStaysLosesOnlyToItsExceptionsOrIsToldOf(@ForAll("rulebases") Rulebase rulebase) {
    for (Rule rule : rulebase.rules()) {
      Optional<Placement> placement = of(rulebase, rule.id());
      if (placement.isPresent() && placement.get().move().isEmpty()) {
        Residue residue = Reviewer.review(compiled(rulebase), Budget.USUAL).residue(rule.id());
        boolean loses = residue.takers().stream().anyMatch(t -> t.otherwise().isPresent());
        if (loses) {
          assertThat(words(placement.get()))
              .matches("It stands well, below .*|.* another verdict .*");
        } else {
          assertThat(words(placement.get())).doesNotContain("another verdict");
        }
      }
    }
  }

  /** However little work there may be, nothing is said to be decided the same that is not. */
  @Property(tries = 500)
  void whatIsSaidWithALittleBudgetIsSo(
      @ForAll("rulebases") Rulebase rulebase, @ForAll @IntRange(min = 1, max = 400) int steps) {
    Budget little = new Budget(1, steps, 10, 128, 512);
    for (Rule rule : rulebase.rules()) {
      Optional<Placement> placement = Placement.of(compiled(rulebase), rule.id(), little);
      if (placement.isEmpty()) {
        continue;
      }
      Residue residue = Reviewer.review(compiled(rulebase), Budget.USUAL).residue(rule.id());
      String said = words(placement.get());
      if (said.contains("same verdict")) {
        assertThat(residue.takers()).as(said).noneMatch(t -> t.otherwise().isPresent());
      }
      if (said.contains("all of its connections already")) {
        assertThat(residue.share().value()).isZero();
      }
      if (said.contains("no rule above matches any")) {
        assertThat(residue.takers()).isEmpty();
      }
    }
  }

  private static double left(Rulebase rulebase, Rule rule) {
    return Reviewer.review(compiled(rulebase), Budget.USUAL).residue(rule.id()).share().value();
  }

  private static Rulebase moved(Rulebase rulebase, Rule rule, Placement.Move place) {
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
