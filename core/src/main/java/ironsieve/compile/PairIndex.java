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

  // Those that tell most boxes apart first, so that most words are done after two or three.
  private static final List<Dimension> ORDER =
      List.of(
          Dimension.FROM,
          Dimension.TO,
          Dimension.USING,
          Dimension.SERVICE,
          Dimension.PERSON,
          Dimension.SITE,
          Dimension.DEVICE,
          Dimension.TIME);

  private final int[] boxes;
  private final int words;
  // The dimensions to be asked, and for each where its atom 0 would be among the starts.
  private final int[] asked;
  private final int[] bases;
  // For each atom of each dimension where its bitmap starts.
  private final char[] starts;
  private final long[] bitmaps;

  private PairIndex(int[] boxes, int words, Making made) {
    this.boxes = boxes;
    this.words = words;
    asked = made.asked.stream().mapToInt(Integer::intValue).toArray();
    bases = made.bases.stream().mapToInt(Integer::intValue).toArray();
    starts = new char[made.starts.size()];
    for (int i = 0; i < starts.length; i++) {
      starts[i] = (char) made.starts.get(i).intValue();
    }
    bitmaps = made.bitmaps();
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
      for (long[] row : rows) {
        Integer number = known.putIfAbsent(IndexSet.ofWords(row), distinct.size());
        starts.add(words * (number == null ? distinct.size() : number));
        if (number == null) {
          distinct.add(row);
        }
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
  static Optional<PairIndex> of(List<Box> all, IndexSet meeting, IndexSet[] limits) {
    int[] boxes = meeting.members();
    int words = (boxes.length + 63) >> 6;
    Making making = new Making(words);
    for (Dimension dimension : ORDER) {
      int d = dimension.ordinal();
      int first = limits[d].first();
      int[] members = limits[d].members();
      // Atoms cut off later are far from their zone's others, hence a few empty rows in between.
      long[][] rows = new long[members[members.length - 1] + 1 - first][words];
      for (int b = 0; b < boxes.length; b++) {
        int bit = b;
        all.get(boxes[b])
            .side(d)
            .intersect(limits[d])
            .forEach(atom -> rows[atom - first][bit >> 6] |= 1L << bit);
      }
      boolean tells = !Arrays.stream(rows).allMatch(row -> Arrays.equals(row, rows[0]));
      if (tells || dimension == Dimension.FROM) {
        making.add(d, first, rows);
      }
    }
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
}
