package ironsieve.compile;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;

import ironsieve.Edits;
import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.model.Rulebase;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

/**
 * The index says what reading the rules from the top says, before and after pairs have their own.
 */
class BoxIndexTest {

  private static final int ENOUGH_FOR_ALL_PAIRS = BoxIndex.WORTH_AN_INDEX + 100;

  @Provide
  Arbitrary<Rulebases.Case> cases() {
    return Rulebases.cases(8);
  }

  @Property(tries = 150)
  void theFirstRuleIsTheOneThatReadingFromTheTopFinds(
      @ForAll("cases") Rulebases.Case given, @ForAll long seed) {
    Random random = new Random(seed);
    CompiledRulebase compiled = CompiledRulebase.of(given.rulebase(), given.world().environment());
    agrees(compiled, given.world().points(), random);
    Rulebase edited = Edits.some(given.rulebase(), given.rulebase(), random);
    agrees(CompiledEdit.of(compiled, edited).after(), given.world().points(), random);
  }

  /** More than are sorted at once, before and after pairs have their own. */
  @Property(tries = 30)
  void manyPointsTogetherFallWhereEachAloneDoes(
      @ForAll("cases") Rulebases.Case given, @ForAll long seed) {
    Random random = new Random(seed);
    CompiledRulebase compiled = CompiledRulebase.of(given.rulebase(), given.world().environment());
    List<int[]> some = points(compiled, given.world().points(), random, 200);
    int[] naive = some.stream().mapToInt(point -> fromTheTop(compiled, point)).toArray();
    assertThat(together(compiled, some)).isEqualTo(naive);
    List<int[]> drawn = new ArrayList<>();
    List<Integer> expected = new ArrayList<>();
    for (int i = 0; i < 80_000; i++) {
      int one = random.nextInt(some.size());
      drawn.add(some.get(one));
      expected.add(naive[one]);
    }
    assertThat(together(compiled, drawn))
        .isEqualTo(expected.stream().mapToInt(Integer::intValue).toArray());
    assertThatCode(() -> compiled.index().first(new int[0], 0, 0, new int[0]))
        .as("no points at all")
        .doesNotThrowAnyException();
  }

  /** The rules that catch points, as many at once as can be asked for. */
  private static int[] together(CompiledRulebase compiled, List<int[]> points) {
    int most = BoxIndex.MOST_AT_ONCE;
    int[] rules = new int[points.size()];
    for (int begin = 0; begin < rules.length; begin += most) {
      List<int[]> some = points.subList(begin, Math.min(rules.length, begin + most));
      int[] atoms = some.stream().flatMapToInt(Arrays::stream).toArray();
      int[] boxes = new int[some.size()];
      compiled.index().first(atoms, boxes.length, 0, boxes);
      for (int i = 0; i < boxes.length; i++) {
        rules[begin + i] = boxes[i] < 0 ? -1 : compiled.ruleOfBox(boxes[i]);
      }
    }
    return rules;
  }

  /** With more addresses in a zone than are put together each time they are asked for. */
  @Property(tries = 20)
  void meetingABoxIsWhatComparingItWithEachFinds(@ForAll long seed) {
    Random random = new Random(seed);
    List<String> lines = new ArrayList<>();
    for (int i = 0; i < 300; i++) {
      String from = "from.networks=10.0." + random.nextInt(4) + "." + random.nextInt(255);
      String to = random.nextInt(3) == 0 ? " to.networks=10.1." + random.nextInt(3) + ".0/24" : "";
      lines.add((random.nextBoolean() ? "allow " : "deny ") + (i % 40 == 0 ? "" : from) + to);
    }
    CompiledRulebase compiled = compiled(Rulebases.of(lines.toArray(String[]::new)));
    List<Box> boxes = compiled.boxes();
    for (int i = 0; i < 200; i++) {
      Box box = boxes.get(random.nextInt(boxes.size()));
      for (int d = 0; d < Space.DIMENSIONS; d++) {
        IndexSet other = boxes.get(random.nextInt(boxes.size())).side(d);
        box =
            switch (random.nextInt(i % 20 == 0 ? 5 : 4)) {
              case 4 -> box.with(d, IndexSet.EMPTY);
              case 0 -> box.with(d, compiled.space().whole(d));
              case 1 -> box.with(d, compiled.space().whole(d).minus(other));
              case 2 -> box.with(d, box.side(d).union(other));
              default -> box;
            };
      }
      Box asked = box;
      int[] naive =
          IntStream.range(0, compiled.boxNumbers())
              .filter(number -> compiled.box(number) != null)
              .filter(number -> compiled.box(number).intersects(asked))
              .toArray();
      assertThat(compiled.index().meeting(asked).members()).isEqualTo(naive);
    }
  }

  private static CompiledRulebase compiled(Rulebase rulebase) {
    return CompiledRulebase.of(rulebase, SmallWorld.environment());
  }

  private static void agrees(
      CompiledRulebase compiled, List<SmallWorld.Point> points, Random random) {
    List<int[]> some = points(compiled, points, random, 40);
    for (int round = 0; round < ENOUGH_FOR_ALL_PAIRS; round++) {
      for (int[] point : some) {
        int first = compiled.firstMatch(point);
        if (round == 0 || round == ENOUGH_FOR_ALL_PAIRS - 1) {
          assertThat(first).isEqualTo(fromTheTop(compiled, point));
        }
      }
    }
  }

  private static List<int[]> points(
      CompiledRulebase compiled, List<SmallWorld.Point> points, Random random, int count) {
    List<int[]> some = new ArrayList<>();
    for (int i = 0; i < count; i++) {
      some.add(compiled.space().point(points.get(random.nextInt(points.size())).connection()));
    }
    return some;
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
