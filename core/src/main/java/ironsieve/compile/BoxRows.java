package ironsieve.compile;

import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import java.util.stream.IntStream;

/**
 * For each dimension and atom the numbers of the boxes that touch it. Most boxes hold all of most
 * dimensions, so these are kept once for a dimension and stand in no row; the others in a {@link
 * SparseRow} for each atom. Never changed: what comes of an edit shares what is the same.
 */
final class BoxRows {

  private final Box[] boxes;
  private final IndexSet[] whole;
  private final int words;
  private final int marks;
  private final long[] taken;
  private final long[][] everywhere;
  private final long[][] everywhereMarks;
  private final long[][][] rows;

  private BoxRows(
      Box[] boxes, IndexSet[] whole, long[] taken, long[][] everywhere, long[][][] rows) {
    this.boxes = boxes;
    this.whole = whole;
    this.taken = taken;
    this.everywhere = everywhere;
    this.rows = rows;
    words = taken.length;
    marks = SparseRow.marks(boxes.length);
    everywhereMarks = new long[Space.DIMENSIONS][marks];
    for (int d = 0; d < Space.DIMENSIONS; d++) {
      for (int w = 0; w < words; w++) {
        everywhereMarks[d][w >> 6] |= everywhere[d][w] == 0 ? 0 : 1L << w;
      }
    }
  }

  /**
   * The rows of some boxes.
   *
   * @param boxes at its number each box, null where there is none; not to be changed any more
   */
  static BoxRows of(Box[] boxes, Space space) {
    IndexSet[] whole = whole(space);
    int words = (boxes.length + 63) >> 6;
    long[] taken = new long[words];
    long[][] everywhere = new long[Space.DIMENSIONS][words];
    for (int b = 0; b < boxes.length; b++) {
      taken[b >> 6] |= boxes[b] == null ? 0 : 1L << b;
      for (int d = 0; d < Space.DIMENSIONS; d++) {
        boolean isWhole = boxes[b] != null && boxes[b].side(d).equals(whole[d]);
        everywhere[d][b >> 6] |= isWhole ? 1L << b : 0;
      }
    }
    long[][][] rows = new long[Space.DIMENSIONS][][];
    BoxRows made = new BoxRows(boxes, whole, taken, everywhere, rows);
    IntStream.range(0, Space.DIMENSIONS)
        .parallel()
        .forEach(d -> rows[d] = made.build(d, space.weights()[d].count()));
    return made;
  }

  private static IndexSet[] whole(Space space) {
    return IntStream.range(0, Space.DIMENSIONS).mapToObj(space::whole).toArray(IndexSet[]::new);
  }

  private long[][] build(int dimension, int atoms) {
    SparseRow.Making[] makings = new SparseRow.Making[atoms];
    for (int b = 0; b < boxes.length; b++) {
      if (boxes[b] != null && !isEverywhere(dimension, b)) {
        int box = b;
        boxes[b]
            .side(dimension)
            .forEach(
                atom -> {
                  if (makings[atom] == null) {
                    makings[atom] = new SparseRow.Making(marks);
                  }
                  makings[atom].or(box >> 6, 1L << box);
                });
      }
    }
    long[] none = new long[marks];
    return Arrays.stream(makings)
        .map(making -> making == null ? none : making.row())
        .toArray(long[][]::new);
  }

  private boolean isEverywhere(int dimension, int box) {
    return (everywhere[dimension][box >> 6] & 1L << box) != 0;
  }

  /**
   * The same boxes over finer atoms.
   *
   * @param same at the number of each box here what it is over the finer atoms
   */
  BoxRows over(Box[] same, Space finer, Refinement refinement) {
    long[][][] carried = new long[Space.DIMENSIONS][][];
    for (int d = 0; d < Space.DIMENSIONS; d++) {
      carried[d] = refinement.carried(d, rows[d]);
    }
    return new BoxRows(same, whole(finer), taken, everywhere, carried);
  }

  /**
   * Other boxes over the same atoms. Where the same box has the same number nothing is looked at
   * again, of the others only the rows in which they stand.
   *
   * @param others as many numbers as here, at its number each box, null where there is none
   */
  BoxRows followedBy(Box[] others) {
    BitSet changed = new BitSet();
    for (int b = 0; b < boxes.length; b++) {
      if (boxes[b] != others[b]) {
        changed.set(b);
      }
    }
    long[] takenThen = taken.clone();
    long[][] everywhereThen = Arrays.stream(everywhere).map(long[]::clone).toArray(long[][]::new);
    for (int b = changed.nextSetBit(0); b >= 0; b = changed.nextSetBit(b + 1)) {
      set(takenThen, b, others[b] != null);
      for (int d = 0; d < Space.DIMENSIONS; d++) {
        set(everywhereThen[d], b, others[b] != null && others[b].side(d).equals(whole[d]));
      }
    }
    BoxRows next =
        new BoxRows(others, whole, takenThen, everywhereThen, new long[Space.DIMENSIONS][][]);
    Change change = new Change(changed, this, next);
    for (int d = 0; d < Space.DIMENSIONS; d++) {
      next.rows[d] = change.after(d);
    }
    return next;
  }

  private static void set(long[] bits, int number, boolean value) {
    if (value) {
      bits[number >> 6] |= 1L << number;
    } else {
      bits[number >> 6] &= ~(1L << number);
    }
  }

  /** What becomes of rows where some numbers are of another box, or of none. */
  private static final class Change {
    private final BoxRows before;
    private final BoxRows after;
    private final int[] numbers;
    // The words that have some of them, and all that these words have besides.
    private final int[] changing;
    private final long[] kept;

    private Change(BitSet changed, BoxRows before, BoxRows after) {
      this.before = before;
      this.after = after;
      numbers = changed.stream().toArray();
      changing = Arrays.stream(numbers).map(number -> number >> 6).distinct().toArray();
      kept = new long[changing.length];
      Arrays.fill(kept, -1L);
      for (int number : numbers) {
        kept[place(number)] &= ~(1L << number);
      }
    }

    private int place(int number) {
      return Arrays.binarySearch(changing, number >> 6);
    }

    private long[][] after(int dimension) {
      // For each atom that any of the boxes touches or touched, the new bits of these words.
      Map<Integer, long[]> bits = new HashMap<>();
      for (int number : numbers) {
        int at = place(number);
        before
            .inRows(dimension, number)
            .forEach(atom -> bits.computeIfAbsent(atom, touched -> new long[changing.length]));
        after
            .inRows(dimension, number)
            .forEach(
                atom ->
                    bits.computeIfAbsent(atom, touched -> new long[changing.length])[at] |=
                        1L << number);
      }
      long[][] old = before.rows[dimension];
      long[][] next = old.clone();
      bits.forEach(
          (atom, set) ->
              next[atom] = SparseRow.changed(old[atom], before.marks, changing, kept, set));
      return next;
    }
  }

  /** The atoms in whose rows a box stands. */
  private IndexSet inRows(int dimension, int box) {
    return boxes[box] == null || isEverywhere(dimension, box)
        ? IndexSet.EMPTY
        : boxes[box].side(dimension);
  }

  /** At its number each box, null where there is none. */
  Box[] boxes() {
    return boxes;
  }

  /** All atoms of a dimension. */
  IndexSet whole(int dimension) {
    return whole[dimension];
  }

  /** How many words have a bit for each number. */
  int words() {
    return words;
  }

  /** How many words of marks there are, {@link SparseRow#marks}. */
  int marks() {
    return marks;
  }

  /** The numbers that are of a box. */
  long[] taken() {
    return taken.clone();
  }

  /** For so many words of a row, a bit for each that has boxes of an atom. */
  long marks(int dimension, int atom, int number) {
    return rows[dimension][atom][number] | everywhereMarks[dimension][number];
  }

  /** A word of the boxes that touch an atom. */
  long word(int dimension, int atom, int number) {
    return SparseRow.word(rows[dimension][atom], marks, number) | everywhere[dimension][number];
  }

  /** The boxes that touch any of some atoms; none does if there are none. */
  long[] any(int dimension, IndexSet atoms) {
    if (atoms.isEmpty()) {
      return new long[words];
    }
    long[] any = everywhere[dimension].clone();
    atoms.forEach(atom -> SparseRow.or(rows[dimension][atom], marks, any));
    return any;
  }

  /** About how many bytes they take. */
  long bytes() {
    long sum = 0;
    for (int d = 0; d < Space.DIMENSIONS; d++) {
      sum += Long.BYTES * (everywhere[d].length + 3L);
      for (long[] row : rows[d]) {
        sum += Long.BYTES * (row.length + 3L);
      }
    }
    return sum;
  }
}
