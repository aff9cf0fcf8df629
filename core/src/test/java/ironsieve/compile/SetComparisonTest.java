package ironsieve.compile;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.SmallWorld;
import ironsieve.compile.SetComparison.Relation;
import ironsieve.model.NamedSet;
import ironsieve.model.Parts;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

/** Sets are compared by what they hold, and not by how that is written. */
class SetComparisonTest {

  private static NamedSet set(String name, ValueKind kind, String... values) {
    return new NamedSet(
        name, kind, Stream.of(values).map(value -> ValueText.parse(kind, value)).toList(), "");
  }

  private static List<Relation> compared(NamedSet... sets) {
    List<NamedSet> all = List.of(sets);
    return SetComparison.of(all, new Names(Parts.of(all), SmallWorld.environment()));
  }

  @Test
  void networksAreTheSameWhateverTheyAreWrittenAs() {
    assertThat(
            compared(
                set("halves", ValueKind.NETWORK, "192.0.2.0/25", "192.0.2.128/25"),
                set("whole", ValueKind.NETWORK, "192.0.2.0-192.0.2.255"),
                set("part", ValueKind.NETWORK, "192.0.2.7", "192.0.2.9"),
                set("other", ValueKind.NETWORK, "198.51.100.0/24")))
        .containsExactlyInAnyOrder(
            new Relation(ValueKind.NETWORK, "halves", "whole", true),
            new Relation(ValueKind.NETWORK, "part", "halves", false),
            new Relation(ValueKind.NETWORK, "part", "whole", false));
  }

  @Test
  void setsInsideSetsAreOpenedAndKindsAreApart() {
    assertThat(
            compared(
                set("web", ValueKind.SERVICE, "tcp/80", "tcp/443"),
                set("all", ValueKind.SERVICE, "set web", "udp/53"),
                set("web too", ValueKind.SERVICE, "tcp/443", "tcp/80"),
                set("nothing", ValueKind.ZONE)))
        .containsExactlyInAnyOrder(
            new Relation(ValueKind.SERVICE, "web", "all", false),
            new Relation(ValueKind.SERVICE, "web too", "all", false),
            new Relation(ValueKind.SERVICE, "web", "web too", true));
  }

  /** Each address of a small line asked for by itself says the same. */
  @Property(tries = 300)
  void oneLiesInsideAnotherWhereEachOfItsAddressesDoes(@ForAll long seed) {
    Random random = new Random(seed);
    List<NamedSet> sets = new ArrayList<>();
    List<List<Integer>> held = new ArrayList<>();
    for (int s = 0; s < 4; s++) {
      List<Value> values = new ArrayList<>();
      List<Integer> addresses = new ArrayList<>();
      for (int v = 0; v < 1 + random.nextInt(3); v++) {
        int low = random.nextInt(8);
        int high = low + random.nextInt(8 - low);
        values.add(ValueText.parse(ValueKind.NETWORK, "192.0.2." + low + "-192.0.2." + high));
        IntStream.rangeClosed(low, high).forEach(addresses::add);
      }
      sets.add(new NamedSet("s" + s, ValueKind.NETWORK, values, ""));
      held.add(addresses);
    }
    List<Relation> naive = new ArrayList<>();
    for (int one = 0; one < 4; one++) {
      for (int other = 0; other < 4; other++) {
        boolean inside = held.get(other).containsAll(held.get(one));
        boolean same = inside && held.get(one).containsAll(held.get(other));
        if (one != other && inside && (!same || one < other)) {
          naive.add(new Relation(ValueKind.NETWORK, "s" + one, "s" + other, same));
        }
      }
    }
    assertThat(compared(sets.toArray(NamedSet[]::new))).containsExactlyInAnyOrderElementsOf(naive);
  }
}
