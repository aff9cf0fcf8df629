package ironsieve.compile;

import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The bitmaps of only those boxes that can concern connections from one zone to another, numbered
 * anew: a few words instead of hundreds. Worth its while once many points of the pair are asked
 * for.
 *
 * <p>A lookup costs what it misses in the caches. So all lies in two arrays; most atoms are alike
 * to the few boxes of a pair, hence each distinct bitmap is kept once; and dimensions in which all
 * atoms are alike are not asked at all.
 */
final class PairIndex {

  private static final int FROM = Dimension.FROM.ordinal();
  private static final int TO = Dimension.TO.ordinal();
  private static final int USING = Dimension.USING.ordinal();
  private static final int SERVICE = Dimension.SERVICE.ordinal();
  private static final int PERSON = Dimension.PERSON.ordinal();
  private static final int TIME = Dimension.TIME.ordinal();

  // For each bit of the words its box; −1 for those of no box, and for one more, the end.
  private final int[] boxes;
  private final int words;
  private final int count;
  // The dimensions to be asked, and for each where its atom 0 would be among the starts.
  private final int[] asked;
  private final int[] bases;
  // For each atom of each dimension where its bitmap starts.
  private final char[] starts;
  private final long[] bitmaps;
  // The usual dimensions as they are asked of many points: where the atom 0 of each would be, and
  // all bits of a point's atom, or none where the dimension tells nothing and all boxes are held.
  private final int[] first = new int[Space.DIMENSIONS];
  private final int[] mask = new int[Space.DIMENSIONS];
  private final boolean isUsual;

  private PairIndex(int[] boxes, int words, Making made) {
    this.boxes = Arrays.copyOf(boxes, (words << 6) + 1);
    Arrays.fill(this.boxes, boxes.length, this.boxes.length, -1);
    this.words = words;
    count = boxes.length;
    asked = made.asked.stream().mapToInt(Integer::intValue).toArray();
    bases = made.bases.stream().mapToInt(Integer::intValue).toArray();
    starts = new char[made.starts.size()];
    for (int i = 0; i < starts.length; i++) {
      starts[i] = (char) made.starts.get(i).intValue();
    }
    bitmaps = made.bitmaps();
    Arrays.fill(first, made.starts.size() - 1);
    for (int i = 0; i < asked.length; i++) {
      first[asked[i]] = bases[i];
      mask[asked[i]] = -1;
    }
    isUsual = mask[Dimension.SITE.ordinal()] == 0 && mask[Dimension.DEVICE.ordinal()] == 0;
  }

  /** An index while it is put together. */
  private static final class Making {
    private final List<Integer> asked = new ArrayList<>();
    private final List<Integer> bases = new ArrayList<>();
    private final List<Integer> starts = new ArrayList<>();
    private final Map<IndexSet, Integer> known = new HashMap<>();
    private final List<long[]> distinct = new ArrayList<>();
    private final int words;

    private Making(int words) {
      this.words = words;
    }

    private void add(int dimension, int first, long[][] rows) {
      asked.add(dimension);
      bases.add(starts.size() - first);
      Arrays.stream(rows).forEach(this::add);
    }

    private void add(long[] row) {
      Integer number = known.putIfAbsent(IndexSet.ofWords(row), distinct.size());
      starts.add(words * (number == null ? distinct.size() : number));
      if (number == null) {
        distinct.add(row);
      }
    }

    private long[] bitmaps() {
      long[] all = new long[distinct.size() * words];
      for (int i = 0; i < distinct.size(); i++) {
        System.arraycopy(distinct.get(i), 0, all, i * words, words);
      }
      return all;
    }
  }

  /**
   * The index of a pair of zones, or nothing if there are too many boxes for one.
   *
   * @param meeting the numbers of the boxes that meet both
   * @param limits for each dimension the atoms of the points that will be asked for; none is empty
   */
  static Optional<PairIndex> of(Box[] all, IndexSet meeting, IndexSet[] limits) {
    int[] boxes = meeting.members();
    // At least two, which is what most pairs need and is gone through quickest.
    int words = Math.max(2, (boxes.length + 63) >> 6);
    Making making = new Making(words);
    for (int d : BoxIndex.ORDER) {
      int first = limits[d].first();
      int[] members = limits[d].members();
      // Atoms cut off later are far from their zone's others, hence a few empty rows in between.
      long[][] rows = new long[members[members.length - 1] + 1 - first][words];
      for (int b = 0; b < boxes.length; b++) {
        int bit = b;
        all[boxes[b]]
            .side(d)
            .intersect(limits[d])
            .forEach(atom -> rows[atom - first][bit >> 6] |= 1L << bit);
      }
      boolean tells = !Arrays.stream(rows).allMatch(row -> Arrays.equals(row, rows[0]));
      if (tells || d == FROM) {
        making.add(d, first, rows);
      }
    }
    long[] whole = new long[words];
    Arrays.fill(whole, -1L);
    making.add(whole);
    return making.distinct.size() * words > Character.MAX_VALUE
        ? Optional.empty()
        : Optional.of(new PairIndex(boxes, words, making));
  }

  /** The first box that holds a point of the pair, or −1. Allocates nothing. */
  int first(int[] point) {
    for (int w = 0; w < words; w++) {
      long hit = -1L;
      for (int i = 0; i < asked.length; i++) {
        hit &= bitmaps[starts[bases[i] + point[asked[i]]] + w];
        if (hit == 0) {
          break;
        }
      }
      if (hit != 0) {
        return boxes[(w << 6) + Long.numberOfTrailingZeros(hit)];
      }
    }
    return -1;
  }

  /** Whether any of some dimensions, a bit for each, tells boxes of the pair apart. */
  boolean isAsked(int dimensions) {
    for (int dimension : asked) {
      if ((dimensions >> dimension & 1) != 0) {
        return true;
      }
    }
    return false;
  }

  /** The first box that holds one of the points that a point may be, or −1. */
  int first(int[] point, int ignored) {
    for (int w = 0; w < words; w++) {
      // Bits beyond the boxes stand in no row, but where nothing is asked of it all of them do.
      long hit = w << 6 < count ? -1L >>> Math.max(0, (w + 1 << 6) - count) : 0;
      for (int i = 0; i < asked.length && hit != 0; i++) {
        if ((ignored >> asked[i] & 1) == 0) {
          hit &= bitmaps[starts[bases[i] + point[asked[i]]] + w];
        }
      }
      if (hit != 0) {
        return boxes[(w << 6) + Long.numberOfTrailingZeros(hit)];
      }
    }
    return -1;
  }

  /**
   * The same for many points of this pair. A branch that is guessed wrong waits for all that a
   * point looks up; here there is none, so that the lookups of several points overlap.
   *
   * @param atoms the atoms of one point after those of another
   * @param order for each of these points its number
   * @param from the first point to be looked up
   * @param to after the last point to be looked up
   * @param found gets the box of each point, or −1, at its number
   */
  void first(int[] atoms, int[] order, int from, int to, int[] found) {
    if (!isUsual) {
      int[] point = new int[Space.DIMENSIONS];
      for (int n = from; n < to; n++) {
        System.arraycopy(atoms, n * Space.DIMENSIONS, point, 0, Space.DIMENSIONS);
        found[order[n]] = first(point);
      }
    } else if (words == 2) {
      firstOfTwoWords(atoms, order, from, to, found);
    } else {
      firstOfManyWords(atoms, order, from, to, found);
    }
  }

  // In both, what is read again and again is read once, into variables of their own: each array
  // and each bound that is looked up for every point costs a tenth of all it takes.

  private void firstOfTwoWords(int[] atoms, int[] order, int from, int to, int[] found) {
    char[] starts = this.starts;
    long[] bitmaps = this.bitmaps;
    int[] boxes = this.boxes;
    int fromFirst = first[FROM];
    int toFirst = first[TO];
    int usingFirst = first[USING];
    int serviceFirst = first[SERVICE];
    int personFirst = first[PERSON];
    int timeFirst = first[TIME];
    int toMask = mask[TO];
    int usingMask = mask[USING];
    int serviceMask = mask[SERVICE];
    int personMask = mask[PERSON];
    int timeMask = mask[TIME];
    for (int n = from; n < to; n++) {
      int p = n * Space.DIMENSIONS;
      int s0 = starts[fromFirst + atoms[p + FROM]];
      int s1 = starts[toFirst + (atoms[p + TO] & toMask)];
      int s2 = starts[usingFirst + (atoms[p + USING] & usingMask)];
      int s3 = starts[serviceFirst + (atoms[p + SERVICE] & serviceMask)];
      int s4 = starts[personFirst + (atoms[p + PERSON] & personMask)];
      int s5 = starts[timeFirst + (atoms[p + TIME] & timeMask)];
      long hit = bitmaps[s0] & bitmaps[s1] & bitmaps[s2] & bitmaps[s3] & bitmaps[s4] & bitmaps[s5];
      long next =
          bitmaps[s0 + 1]
              & bitmaps[s1 + 1]
              & bitmaps[s2 + 1]
              & bitmaps[s3 + 1]
              & bitmaps[s4 + 1]
              & bitmaps[s5 + 1];
      // 64 where there is none in the first word, and only then does the second one count.
      int bit = Long.numberOfTrailingZeros(hit);
      found[order[n]] = boxes[bit + (bit >> 6) * Long.numberOfTrailingZeros(next)];
    }
  }

  private void firstOfManyWords(int[] atoms, int[] order, int from, int to, int[] found) {
    char[] starts = this.starts;
    long[] bitmaps = this.bitmaps;
    int words = this.words;
    int fromFirst = first[FROM];
    for (int n = from; n < to; n++) {
      int p = n * Space.DIMENSIONS;
      int s0 = starts[fromFirst + atoms[p + FROM]];
      int s1 = starts[first[TO] + (atoms[p + TO] & mask[TO])];
      int s2 = starts[first[USING] + (atoms[p + USING] & mask[USING])];
      int s3 = starts[first[SERVICE] + (atoms[p + SERVICE] & mask[SERVICE])];
      int s4 = starts[first[PERSON] + (atoms[p + PERSON] & mask[PERSON])];
      int s5 = starts[first[TIME] + (atoms[p + TIME] & mask[TIME])];
      int box = 0;
      int none = 1;
      for (int w = 0; w < words; w++) {
        long hit =
            bitmaps[s0 + w]
                & bitmaps[s1 + w]
                & bitmaps[s2 + w]
                & bitmaps[s3 + w]
                & bitmaps[s4 + w]
                & bitmaps[s5 + w];
        int bit = Long.numberOfTrailingZeros(hit);
        box += none * bit;
        none &= bit >> 6;
      }
      found[order[n]] = boxes[box];
    }
  }
}
