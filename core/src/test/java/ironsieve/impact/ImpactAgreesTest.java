package ironsieve.impact;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Edits;
import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.Twin;
import ironsieve.World;
import ironsieve.compile.CompiledRulebase;
import ironsieve.decide.Decider;
import ironsieve.model.Chapter;
import ironsieve.model.Environment;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Verdict;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

/** Every kind really changes as said, and nothing outside them changes. */
class ImpactAgreesTest {

  private static final int ENOUGH = 1_000_000;

  /** Two rulebases over one world. */
  private record Pair(World world, Rulebase before, Rulebase other) {}

  @Provide
  Arbitrary<Pair> pairs() {
    return World.any()
        .flatMap(
            world ->
                Combinators.combine(Rulebases.random(world, 7), Rulebases.random(world, 7))
                    .as((before, other) -> new Pair(world, before, other)));
  }

  @Property(tries = 1500)
  void whatIsListedChangesAndNothingElseDoes(@ForAll("pairs") Pair pair, @ForAll long seed) {
    Environment environment = pair.world().environment();
    Rulebase before = pair.before();
    Rulebase after = Edits.some(before, pair.other(), new Random(seed));
    List<SmallWorld.Point> ahead = pair.world().ahead();
    Impact impact = Comparison.between(before, after, environment, ENOUGH);
    assertThat(impact.extent()).isEqualTo(Impact.Extent.COMPLETE);
    Random random = new Random(seed);
    for (int i = 0; i < 300; i++) {
      SmallWorld.Point point = ahead.get(random.nextInt(ahead.size()));
      Outcome was = outcome(before, environment, point);
      Outcome becomes = outcome(after, environment, point);
      int[] at = impact.space().point(point.connection());
      List<Impact.Kind> kinds =
          impact.kinds().stream()
              .filter(kind -> kind.boxes().stream().anyMatch(box -> box.contains(at)))
              .toList();
      assertThat(kinds).as("%s", point).hasSize(was.equals(becomes) ? 0 : 1);
      for (Impact.Kind kind : kinds) {
        assertThat(kind.before().outcome()).isEqualTo(was);
        assertThat(kind.after().outcome()).isEqualTo(becomes);
      }
    }
    for (Impact.Kind kind : impact.kinds()) {
      assertThat(decider(before, environment).outcome(kind.witness()))
          .isEqualTo(kind.before().outcome());
      assertThat(decider(after, environment).outcome(kind.witness()))
          .isEqualTo(kind.after().outcome());
    }
  }

  private static Outcome outcome(
      Rulebase rulebase, Environment environment, SmallWorld.Point point) {
    List<Rule> on = rulebase.rules().stream().filter(Rule::isOn).toList();
    return new Twin(rulebase, environment).outcome(on, point.connection());
  }

  private static Decider decider(Rulebase rulebase, Environment environment) {
    return new Decider(CompiledRulebase.of(rulebase, environment));
  }

  @Test
  void theImpactIsSaidInTheRulebasesOwnWords() {
    Rulebase before =
        Rulebases.of(
            "allow from.zones=Inside from.people=group crew using.applications=category talk",
            "deny from.zones=Inside using.applications=Mail/send");
    List<Rule> turned = new ArrayList<>(before.rules());
    Collections.reverse(turned);
    Rulebase after =
        new Rulebase("t", List.of(new Chapter("c", "", "", turned)), before.sets(), Verdict.DENY);
    Impact impact = Comparison.between(before, after, SmallWorld.environment(), ENOUGH);
    assertThat(impact.kinds()).hasSize(1);
    assertThat(impact.kinds().get(0).words())
        .extracting(words -> words.part() + " " + words.text())
        .containsExactly("from Inside", "person group crew", "application Mail/send");
    assertThat(impact.kinds().get(0).before().outcome().verdict()).isEqualTo(Verdict.ALLOW);
    assertThat(impact.kinds().get(0).after().rule()).contains("r2");
  }

  @Test
  void newlyLetThroughFromOutsideComesFirstAndASmallBudgetIsAdmitted() {
    Rulebase before = Rulebases.of("deny from.zones=Outside", "allow from.people=ada");
    Rulebase after = Rulebases.of("allow from.zones=Outside", "deny from.people=ada");
    Impact impact = Comparison.between(before, after, SmallWorld.environment(), ENOUGH);
    assertThat(impact.kinds().get(0).after().outcome().verdict()).isEqualTo(Verdict.ALLOW);
    assertThat(impact.kinds().get(0).witness().from().place().zone()).isEqualTo("Outside");
    assertThat(Comparison.between(before, after, SmallWorld.environment(), 0).extent())
        .isEqualTo(Impact.Extent.PARTIAL);
  }
}
