package ironsieve.compile;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Edits;
import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.model.Rulebase;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

/**
 * The index says what reading the rules from the top says, before and after pairs have their own.
 */
class BoxIndexTest {

  private static final int ENOUGH_FOR_ALL_PAIRS = 600;

  @Provide
  Arbitrary<Rulebases.Case> cases() {
    return Rulebases.cases(8);
  }

  @Property(tries = 300)
  void theFirstRuleIsTheOneThatReadingFromTheTopFinds(
      @ForAll("cases") Rulebases.Case given, @ForAll long seed) {
    Random random = new Random(seed);
    CompiledRulebase compiled = CompiledRulebase.of(given.rulebase(), given.world().surroundings());
    agrees(compiled, given.world().points(), random);
    Rulebase edited = Edits.some(given.rulebase(), given.rulebase(), random);
    agrees(Following.of(compiled, edited).after(), given.world().points(), random);
  }

  private static void agrees(
      CompiledRulebase compiled, List<SmallWorld.Point> points, Random random) {
    List<int[]> some = new ArrayList<>();
    for (int i = 0; i < 40; i++) {
      some.add(compiled.space().point(points.get(random.nextInt(points.size())).connection()));
    }
    for (int round = 0; round < ENOUGH_FOR_ALL_PAIRS; round++) {
      for (int[] point : some) {
        int first = compiled.firstMatch(point);
        if (round == 0 || round == ENOUGH_FOR_ALL_PAIRS - 1) {
          assertThat(first).isEqualTo(fromTheTop(compiled, point));
        }
      }
    }
  }

  private static int fromTheTop(CompiledRulebase compiled, int[] point) {
    for (CompiledRule rule : compiled.rules()) {
      if (rule.claims(point)) {
        return rule.index();
      }
    }
    return -1;
  }
}
