package ironsieve.compile;

import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/**
 * For each dimension and atom the bitmap of the boxes that touch it. One AND over the dimensions of
 * a point finds its first box; an AND over the dimensions of a box (an OR over its atoms in each)
 * finds all boxes that can meet it, so most pairs of rules are never looked at. Needs boxes × atoms
 * bits.
 */
public final class BoxIndex {

  private final List<Box> boxes;
  private final int words;
  private final long[][][] rows;
  private final IndexSet[] whole;
  private final List<Map<IndexSet, long[]>> touching;

  BoxIndex(List<Box> boxes, Space space) {
    this.boxes = boxes;
    words = (boxes.size() + 63) >> 6;
    rows = new long[Space.DIMENSIONS][][];
    whole = new IndexSet[Space.DIMENSIONS];
    touching =
        java.util.stream.IntStream.range(0, Space.DIMENSIONS)
            .<Map<IndexSet, long[]>>mapToObj(d -> new ConcurrentHashMap<>())
            .toList();
    for (int d = 0; d < Space.DIMENSIONS; d++) {
      whole[d] = space.whole(d);
      rows[d] = new long[space.weights()[d].length][words];
      for (int b = 0; b < boxes.size(); b++) {
        mark(rows[d], boxes.get(b).side(d), b);
      }
    }
  }

  private static void mark(long[][] rows, IndexSet side, int box) {
    side.forEach(atom -> rows[atom][box >> 6] |= 1L << box);
  }

  /** The first box that holds the point, or −1. Allocates nothing. */
  public int first(int[] point) {
    return first(point, 0);
  }

  /** The first box numbered {@code from} or more that holds the point, or −1. Allocates nothing. */
  public int first(int[] point, int from) {
    // Those that tell most boxes apart first, so that most words are done after two or three.
    long[] from0 = row(Dimension.FROM, point);
    long[] to = row(Dimension.TO, point);
    long[] using = row(Dimension.USING, point);
    long[] service = row(Dimension.SERVICE, point);
    long[] person = row(Dimension.PERSON, point);
    long[] site = row(Dimension.SITE, point);
    long[] device = row(Dimension.DEVICE, point);
    long[] time = row(Dimension.TIME, point);
    int start = from >> 6;
    long mask = -1L << from;
    for (int w = start; w < words; w++) {
      long hit = from0[w] & to[w] & mask;
      mask = -1L;
      if (hit != 0) {
        hit &= using[w] & service[w] & person[w];
        if (hit != 0) {
          hit &= site[w] & device[w] & time[w];
          if (hit != 0) {
            return (w << 6) + Long.numberOfTrailingZeros(hit);
          }
        }
      }
    }
    return -1;
  }

  private long[] row(Dimension dimension, int[] point) {
    return rows[dimension.ordinal()][point[dimension.ordinal()]];
  }

  /** The numbers of all boxes that meet this one, ascending. */
  public IndexSet meeting(Box box) {
    long[] hits = new long[words];
    java.util.Arrays.fill(hits, -1L);
    if (words > 0 && (boxes.size() & 63) != 0) {
      hits[words - 1] = (1L << boxes.size()) - 1;
    }
    for (int d = 0; d < Space.DIMENSIONS; d++) {
      IndexSet side = box.side(d);
      if (side.equals(whole[d])) {
        continue;
      }
      long[] row = touching(d, side);
      for (int w = 0; w < words; w++) {
        hits[w] &= row[w];
      }
    }
    return IndexSet.ofWords(hits);
  }

  private long[] touching(int dimension, IndexSet side) {
    return touching
        .get(dimension)
        .computeIfAbsent(
            side,
            atoms -> {
              long[] any = new long[words];
              atoms.forEach(
                  atom -> {
                    long[] row = rows[dimension][atom];
                    for (int w = 0; w < words; w++) {
                      any[w] |= row[w];
                    }
                  });
              return any;
            });
  }
}
