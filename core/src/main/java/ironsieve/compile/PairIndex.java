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
  private static final int USING = Dimension.USING.ordinal();
  private static final int SERVICE = Dimension.SERVICE.ordinal();
  private static final int PERSON = Dimension.PERSON.ordinal();
  private static final int SITE = Dimension.SITE.ordinal();
  private static final int DEVICE = Dimension.DEVICE.ordinal();
  private static final int TIME = Dimension.TIME.ordinal();

  private final int[] boxes;
  // By dimension all rows in one array, for a lookup costs what it misses in the caches.
  private final long[][] rows;
  private final int words;
  // Atoms cut off later are far from their zone's others, hence a few empty rows in between.
  private final int offsetFrom;
  private final int offsetTo;

  /**
   * The index of a pair of zones.
   *
   * @param meeting the numbers of the boxes that meet both
   * @param limits for each dimension the atoms of the points that will be asked for; none is empty
   */
  PairIndex(List<Box> all, IndexSet meeting, IndexSet[] limits) {
    boxes = meeting.members();
    words = (boxes.length + 63) >> 6;
    rows = new long[limits.length][];
    for (int d = 0; d < limits.length; d++) {
      int first = limits[d].first();
      int[] members = limits[d].members();
      long[] ofDimension = new long[(members[members.length - 1] + 1 - first) * words];
      for (int b = 0; b < boxes.length; b++) {
        int bit = b;
        all.get(boxes[b])
            .side(d)
            .intersect(limits[d])
            .forEach(atom -> ofDimension[(atom - first) * words + (bit >> 6)] |= 1L << bit);
      }
      rows[d] = ofDimension;
    }
    offsetFrom = limits[FROM].first();
    offsetTo = limits[TO].first();
  }

  /** The first box that holds a point of the pair, or −1. Allocates nothing. */
  int first(int[] point) {
    int from = (point[FROM] - offsetFrom) * words;
    int to = (point[TO] - offsetTo) * words;
    int using = point[USING] * words;
    int service = point[SERVICE] * words;
    int person = point[PERSON] * words;
    int site = point[SITE] * words;
    int device = point[DEVICE] * words;
    int time = point[TIME] * words;
    for (int w = 0; w < words; w++) {
      long hit = rows[FROM][from + w] & rows[TO][to + w];
      if (hit != 0) {
        hit &= rows[USING][using + w] & rows[SERVICE][service + w] & rows[PERSON][person + w];
        if (hit != 0) {
          hit &= rows[SITE][site + w] & rows[DEVICE][device + w] & rows[TIME][time + w];
          if (hit != 0) {
            return boxes[(w << 6) + Long.numberOfTrailingZeros(hit)];
          }
        }
      }
    }
    return -1;
  }
}
