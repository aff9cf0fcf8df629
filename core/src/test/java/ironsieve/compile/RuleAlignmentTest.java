package ironsieve.compile;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;

/** Entries are found wherever they are, near or far. */
class RuleAlignmentTest {

  @Property(tries = 500)
  void everyEntryIsFoundWhereItIs(
      @ForAll @IntRange(max = 200) int size,
      @ForAll @IntRange(max = 6) int edits,
      @ForAll long seed) {
    List<String> before = new ArrayList<>(IntStream.range(0, size).mapToObj(i -> "r" + i).toList());
    List<String> after = new ArrayList<>(before);
    Random random = new Random(seed);
    for (int i = 0; i < edits; i++) {
      edit(after, "new" + i, random);
    }
    int[] places = RuleAlignment.of(after.size(), after::get, before.size(), before::get);
    assertThat(places).isEqualTo(after.stream().mapToInt(before::indexOf).toArray());
  }

  /** Adds one, takes up to fifty out, or moves as many elsewhere. */
  private static void edit(List<String> list, String fresh, Random random) {
    int from = random.nextInt(list.size() + 1);
    List<String> some = list.subList(from, Math.min(list.size(), from + random.nextInt(50)));
    List<String> taken = new ArrayList<>(some);
    switch (random.nextInt(3)) {
      case 0 -> list.add(from, fresh);
      case 1 -> some.clear();
      default -> {
        some.clear();
        list.addAll(random.nextInt(list.size() + 1), taken);
      }
    }
  }
}
