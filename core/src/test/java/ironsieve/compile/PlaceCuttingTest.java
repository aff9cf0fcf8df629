package ironsieve.compile;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.SmallWorld;
import ironsieve.model.Connection.Place;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.Range;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalInt;
import java.util.Random;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

/** Atoms of places that are cut later tell as much apart as those made at once. */
class PlaceCuttingTest {

  private static final List<Zone> ZONES = SmallWorld.environment().zones();

  @Test
  void aValueOfNoAddressCutsNothing() {
    PlaceAxis axis = new PlaceAxis(ZONES, List.of(List.of(range("10.0.0.7", "10.0.0.9"))));
    // A host object whose name leads nowhere, or an empty list.
    PlaceAxis.Cut cut = axis.cut(List.of(List.of()));
    assertThat(cut.parents()).hasSize(axis.weights().count());
    assertThat(cut.axis().weights().count()).isEqualTo(axis.weights().count());
    Place inside = new Place(ZONES.get(0).name(), axis.sample(0).address());
    assertThat(cut.axis().atom(inside)).isEqualTo(axis.atom(inside));
  }

  @Property(tries = 200)
  void piecesAreThoseMadeAtOnce(@ForAll long seed) {
    Random random = new Random(seed);
    List<List<Range<Address>>> first = values(random);
    List<List<Range<Address>>> more = values(random);
    PlaceAxis coarse = new PlaceAxis(ZONES, first);
    PlaceAxis.Cut cut = coarse.cut(more);
    List<List<Range<Address>>> all = new ArrayList<>(first);
    all.addAll(more);
    PlaceAxis fresh = new PlaceAxis(ZONES, all);
    int count = cut.axis().weights().count();
    assertThat(count).isEqualTo(fresh.weights().count());
    assertThat(cut.parents()).hasSize(count);
    for (int atom = 0; atom < count; atom++) {
      Place sample = cut.axis().sample(atom);
      assertThat(cut.axis().atom(sample)).isEqualTo(OptionalInt.of(atom));
      assertThat(coarse.atom(sample)).isEqualTo(OptionalInt.of(cut.parents()[atom]));
      int same = fresh.atom(sample).orElseThrow();
      assertThat(cut.axis().weights().of(atom)).isEqualTo(fresh.weights().of(same));
      assertThat(cut.axis().zone(sample.zone()).contains(atom)).isTrue();
      assertThat(cut.axis().version(sample.address().version()).contains(atom)).isTrue();
    }
  }

  private static List<List<Range<Address>>> values(Random random) {
    List<List<Range<Address>>> values = new ArrayList<>();
    for (int v = random.nextInt(4); v >= 0; v--) {
      List<Range<Address>> ranges = new ArrayList<>();
      for (int r = random.nextInt(3); r > 0; r--) {
        // Close together, so that they meet, and sometimes so wide that sums are not exact.
        String end = "10.0." + random.nextInt(3) + ".";
        int low = random.nextInt(200);
        ranges.add(
            random.nextInt(5) == 0
                ? range("2001:db8::" + (1 + random.nextInt(9)), "2001:db8:0:" + (1 + v) + "::")
                : range(end + low, end + (low + random.nextInt(50))));
      }
      values.add(ranges);
    }
    return values;
  }

  private static Range<Address> range(String low, String high) {
    return new Range<>(Address.parse(low), Address.parse(high));
  }
}
