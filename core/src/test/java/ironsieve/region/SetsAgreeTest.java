package ironsieve.region;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigInteger;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

/** Range sets, index sets and regions against plain sets of their points. */
class SetsAgreeTest {

  private static final int LAST = 40;
  private static final Line<Integer> LINE = Line.integers(0, LAST);

  @Provide
  Arbitrary<List<Range<Integer>>> runs() {
    Arbitrary<Integer> point = Arbitraries.integers().between(0, LAST);
    return Combinators.combine(point, point)
        .as((a, b) -> new Range<>(Math.min(a, b), Math.max(a, b)))
        .list()
        .ofMaxSize(5);
  }

  private static Set<Integer> points(RangeSet<Integer> set) {
    return IntStream.rangeClosed(0, LAST).filter(set::contains).boxed().collect(Collectors.toSet());
  }

  @Property
  void rangeSetsAreSetsOfPoints(
      @ForAll("runs") List<Range<Integer>> one, @ForAll("runs") List<Range<Integer>> other) {
    RangeSet<Integer> a = RangeSet.of(LINE, one);
    RangeSet<Integer> b = RangeSet.of(LINE, other);
    Set<Integer> as = new HashSet<>();
    one.forEach(r -> IntStream.rangeClosed(r.low(), r.high()).forEach(as::add));
    assertThat(points(a)).isEqualTo(as);
    Set<Integer> bs = points(b);
    assertThat(points(a.union(b))).isEqualTo(plus(as, bs));
    assertThat(points(a.intersect(b))).isEqualTo(common(as, bs));
    assertThat(points(a.minus(b))).isEqualTo(without(as, bs));
    assertThat(a.containsAll(b)).isEqualTo(as.containsAll(bs));
    assertThat(a.size()).isEqualTo(BigInteger.valueOf(as.size()));
    assertThat(a.isEmpty()).isEqualTo(as.isEmpty());
    a.point().ifPresent(p -> assertThat(as).contains(p));
    assertThat(a.complement().complement()).isEqualTo(a);
    for (int i = 1; i < a.ranges().size(); i++) {
      assertThat(a.ranges().get(i).low()).isGreaterThan(a.ranges().get(i - 1).high() + 1);
    }
  }

  private static <T> Set<T> plus(Set<T> a, Set<T> b) {
    Set<T> set = new HashSet<>(a);
    set.addAll(b);
    return set;
  }

  private static <T> Set<T> common(Set<T> a, Set<T> b) {
    Set<T> set = new HashSet<>(a);
    set.retainAll(b);
    return set;
  }

  private static <T> Set<T> without(Set<T> a, Set<T> b) {
    Set<T> set = new HashSet<>(a);
    set.removeAll(b);
    return set;
  }

  private static final int MOST = 5_000;

  /** A few numbers, and whole runs of them with a hole here and there. */
  private static Set<Integer> members(Random random) {
    int most = random.nextBoolean() ? MOST : 400;
    Set<Integer> members = new TreeSet<>();
    for (int i = random.nextInt(20); i > 0; i--) {
      members.add(random.nextInt(most));
    }
    for (int i = random.nextInt(4); i > 0; i--) {
      int low = random.nextInt(most);
      int high = low + random.nextInt(most - low);
      IntStream.range(low, high).forEach(members::add);
      IntStream.range(0, random.nextInt(5)).forEach(h -> members.remove(random.nextInt(most)));
    }
    return members;
  }

  private static IndexSet index(Set<Integer> members) {
    return IndexSet.of(members.stream().mapToInt(Integer::intValue).toArray());
  }

  @Property
  void indexSetsAreSetsOfNumbers(@ForAll long seed) {
    Random random = new Random(seed);
    Set<Integer> as = members(random);
    Set<Integer> bs = members(random);
    if (random.nextInt(4) == 0) {
      bs.retainAll(as);
    }
    IndexSet a = index(as);
    IndexSet b = index(bs);
    assertThat(a.intersect(b)).isEqualTo(index(common(as, bs)));
    assertThat(a.union(b)).isEqualTo(index(plus(as, bs)));
    assertThat(a.minus(b)).isEqualTo(index(without(as, bs)));
    assertThat(a.intersects(b)).isEqualTo(!common(as, bs).isEmpty());
    assertThat(a.containsAll(b)).isEqualTo(as.containsAll(bs));
    assertThat(a.count()).isEqualTo(as.size());
    assertThat(Arrays.stream(a.members()).boxed().toList())
        .isEqualTo(List.copyOf(new TreeSet<>(as)));
    if (!as.isEmpty()) {
      assertThat(a.first()).isEqualTo(Collections.min(as));
      assertThat(a.last()).isEqualTo(Collections.max(as));
    }
    TreeSet<Integer> sorted = new TreeSet<>(as);
    for (int i = 0; i < MOST + 600; i += 1 + random.nextInt(40)) {
      Integer next = sorted.ceiling(i);
      assertThat(a.next(i)).isEqualTo(next == null ? -1 : next);
      assertThat(a.contains(i)).isEqualTo(as.contains(i));
    }
  }

  /** What shares its blocks with others is still the set it was. */
  @Property
  void whatComesOfSetsLeavesThemAlone(@ForAll long seed) {
    Random random = new Random(seed);
    List<Set<Integer>> plain = new ArrayList<>();
    List<IndexSet> sets = new ArrayList<>();
    int size = 1 + random.nextInt(MOST);
    plain.add(IntStream.range(0, size).boxed().collect(Collectors.toSet()));
    sets.add(IndexSet.upTo(size));
    for (int i = 0; i < 20; i++) {
      int at = random.nextInt(sets.size());
      boolean fresh = random.nextBoolean();
      Set<Integer> others = fresh ? members(random) : plain.get(random.nextInt(plain.size()));
      IndexSet other = fresh ? index(others) : sets.get(plain.indexOf(others));
      switch (random.nextInt(3)) {
        case 0 -> {
          plain.add(without(plain.get(at), others));
          sets.add(sets.get(at).minus(other));
        }
        case 1 -> {
          plain.add(common(plain.get(at), others));
          sets.add(sets.get(at).intersect(other));
        }
        default -> {
          plain.add(plus(plain.get(at), others));
          sets.add(sets.get(at).union(other));
        }
      }
    }
    for (int i = 0; i < sets.size(); i++) {
      assertThat(sets.get(i)).isEqualTo(index(plain.get(i))).hasSameHashCodeAs(index(plain.get(i)));
    }
  }

  private static final int SIDE = 4;

  @Provide
  Arbitrary<List<Box>> boxes() {
    Arbitrary<IndexSet> side =
        Arbitraries.integers().between(0, SIDE - 1).set().ofMaxSize(SIDE).map(SetsAgreeTest::index);
    return Combinators.combine(side, side, side).as(Box::of).list().ofMaxSize(4);
  }

  private static Set<List<Integer>> points(List<Box> boxes) {
    Set<List<Integer>> points = new HashSet<>();
    for (int i = 0; i < SIDE * SIDE * SIDE; i++) {
      int[] point = {i % SIDE, i / SIDE % SIDE, i / SIDE / SIDE};
      if (boxes.stream().anyMatch(box -> box.contains(point))) {
        points.add(List.of(point[0], point[1], point[2]));
      }
    }
    return points;
  }

  /** Where all of many neighbours are held they are weighed by one addition. */
  @Property
  void aSetWeighsWhatItsMembersWeigh(@ForAll long seed) {
    Random random = new Random(seed);
    double[] each = random.ints(MOST, 0, 1_000).asDoubleStream().toArray();
    int low = random.nextInt(MOST);
    int high = low + random.nextInt(MOST - low);
    int[] members =
        IntStream.range(low, high).filter(m -> m % 997 != 5 || random.nextBoolean()).toArray();
    assertThat(IndexSet.of(members).weight(new Weights(each)))
        .isEqualTo(IntStream.of(members).mapToDouble(m -> each[m]).sum());
  }

  @Property
  void regionsAreSetsOfPointsAndTheirBoxesDisjoint(
      @ForAll("boxes") List<Box> one, @ForAll("boxes") List<Box> other) {
    Region a = Region.of(one);
    Region b = Region.of(other);
    Set<List<Integer>> as = points(one);
    Set<List<Integer>> bs = points(other);
    assertThat(points(a.boxes())).isEqualTo(as);
    assertThat(points(a.union(b).boxes())).isEqualTo(plus(as, bs));
    assertThat(points(a.intersect(b).boxes())).isEqualTo(common(as, bs));
    assertThat(points(a.minus(b).boxes())).isEqualTo(without(as, bs));
    assertThat(a.containsAll(b)).isEqualTo(as.containsAll(bs));
    assertThat(a.isEmpty()).isEqualTo(as.isEmpty());
    Weights all = Weights.ones(SIDE);
    Weights[] ones = {all, all, all};
    assertThat(a.weight(ones)).isEqualTo(as.size());
    a.point().ifPresent(p -> assertThat(as).contains(List.of(p[0], p[1], p[2])));
    List<Box> parts = new ArrayList<>(a.boxes());
    for (int i = 0; i < parts.size(); i++) {
      for (int j = 0; j < i; j++) {
        assertThat(parts.get(i).intersects(parts.get(j))).isFalse();
      }
    }
  }
}
