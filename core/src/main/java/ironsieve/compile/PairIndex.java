package ironsieve.compile;

import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.List;

/**
 * The bitmaps of only those boxes that can concern connections from one zone to another, numbered
 * anew: a few words instead of hundreds. Worth its while once many points of the pair are asked
 * for.
 */
final class PairIndex {

  private static final int FROM = Dimension.FROM.ordinal();
  private static final int TO = Dimension.TO.ordinal();

  private final int[] boxes;
  private final long[][][] rows;
  private final int words;
  // Atoms cut off later are far from their zone's others, hence a few empty rows in between.
  private final int offsetFrom;
  private final int offsetTo;

  /**
   * The index of a pair of zones.
   *
   * @param meeting the numbers of the boxes that meet both
   * @param limits for each dimension the atoms of the points that will be asked for
   */
  PairIndex(List<Box> all, IndexSet meeting, IndexSet[] limits) {
    boxes = meeting.members();
    words = (boxes.length + 63) >> 6;
    rows = new long[limits.length][][];
    for (int d = 0; d < limits.length; d++) {
      int first = limits[d].isEmpty() ? 0 : limits[d].first();
      int[] members = limits[d].members();
      int last = members.length == 0 ? -1 : members[members.length - 1];
      long[][] ofDimension = new long[last + 1 - first][];
      for (int atom : members) {
        ofDimension[atom - first] = new long[words];
      }
      for (int b = 0; b < boxes.length; b++) {
        int bit = b;
        all.get(boxes[b])
            .side(d)
            .intersect(limits[d])
            .forEach(atom -> ofDimension[atom - first][bit >> 6] |= 1L << bit);
      }
      rows[d] = ofDimension;
    }
    offsetFrom = limits[FROM].isEmpty() ? 0 : limits[FROM].first();
    offsetTo = limits[TO].isEmpty() ? 0 : limits[TO].first();
  }

  /** The first box that holds a point of the pair, or −1. Allocates nothing. */
  int first(int[] point) {
    long[] from = rows[FROM][point[FROM] - offsetFrom];
    long[] to = rows[TO][point[TO] - offsetTo];
    long[] using = row(Dimension.USING, point);
    long[] service = row(Dimension.SERVICE, point);
    long[] person = row(Dimension.PERSON, point);
    long[] site = row(Dimension.SITE, point);
    long[] device = row(Dimension.DEVICE, point);
    long[] time = row(Dimension.TIME, point);
    for (int w = 0; w < words; w++) {
      long hit = from[w] & to[w];
      if (hit != 0) {
        hit &= using[w] & service[w] & person[w] & site[w] & device[w] & time[w];
        if (hit != 0) {
          return boxes[(w << 6) + Long.numberOfTrailingZeros(hit)];
        }
      }
    }
    return -1;
  }

  private long[] row(Dimension dimension, int[] point) {
    return rows[dimension.ordinal()][point[dimension.ordinal()]];
  }
}
