package ironsieve.compile;

import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;

/**
 * How the atoms of a space that tells more values apart lie inside those of the space it was made
 * from. Carries claims over without reading rules again.
 */
final class Refinement {

  /** Of one dimension: for each new atom the old one it lies in. */
  private static final class Side {
    private final int[] parents;
    private final int kept;
    private final IndexSet keptAtoms;
    private final IndexSet cut;
    private final IndexSet whole;
    private final IndexSet wholeNow;
    private final Map<IndexSet, IndexSet> known = new ConcurrentHashMap<>();

    private Side(int[] parents) {
      this.parents = parents;
      int same = 0;
      while (same < parents.length && parents[same] == same) {
        same++;
      }
      kept = same;
      keptAtoms = IndexSet.upTo(kept);
      whole = IndexSet.upTo(Arrays.stream(parents).max().orElse(-1) + 1);
      wholeNow = IndexSet.upTo(parents.length);
      cut = IndexSet.of(Arrays.stream(parents, kept, parents.length).toArray());
    }

    private IndexSet inside(IndexSet old) {
      if (!old.intersects(cut)) {
        return old;
      }
      // Most boxes hold all of most dimensions.
      return old.equals(whole) ? wholeNow : known.computeIfAbsent(old, this::translated);
    }

    /** Atoms that kept their number need no look, so appending a few is cheap. */
    private IndexSet translated(IndexSet old) {
      IndexSet added =
          IndexSet.of(
              IntStream.range(kept, parents.length)
                  .filter(atom -> old.contains(parents[atom]))
                  .toArray());
      IndexSet same = keptAtoms.containsAll(old) ? old : old.intersect(keptAtoms);
      return same.union(added);
    }
  }

  private final List<Optional<Side>> sides;
  private final int[] refined;

  /**
   * A refinement.
   *
   * @param parents for each dimension, for each new atom the old one it lies in; nothing where the
   *     atoms are the same
   */
  Refinement(List<Optional<int[]>> parents) {
    sides = parents.stream().map(of -> of.map(Side::new)).toList();
    refined = IntStream.range(0, sides.size()).filter(d -> sides.get(d).isPresent()).toArray();
  }

  /** Whether no dimension has changed. */
  boolean isNone() {
    return sides.stream().allMatch(Optional::isEmpty);
  }

  /** The old atoms of one dimension that are no longer one atom with the same number. */
  IndexSet cut(int dimension) {
    return sides.get(dimension).map(side -> side.cut).orElse(IndexSet.EMPTY);
  }

  /** For each new atom the row of the old one. */
  long[][] carried(int dimension, long[][] rows) {
    return sides.get(dimension).map(side -> carried(side, rows)).orElse(rows);
  }

  private static long[][] carried(Side side, long[][] rows) {
    long[][] carried = Arrays.copyOf(rows, side.parents.length);
    for (int atom = side.kept; atom < side.parents.length; atom++) {
      carried[atom] = rows[side.parents[atom]];
    }
    return carried;
  }

  /** For each new atom the number that the old one had. */
  int[] carried(int dimension, int[] numbers) {
    return sides
        .get(dimension)
        .map(side -> Arrays.stream(side.parents).map(parent -> numbers[parent]).toArray())
        .orElse(numbers);
  }

  /** The same points over the new atoms; the box itself if nothing of it was cut. */
  Box of(Box old) {
    Box next = old;
    for (int d : refined) {
      IndexSet side = sides.get(d).get().inside(old.side(d));
      if (!side.equals(old.side(d))) {
        next = next.with(d, side);
      }
    }
    return next;
  }
}
