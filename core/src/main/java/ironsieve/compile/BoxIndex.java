package ironsieve.compile;

import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicIntegerArray;
import java.util.concurrent.atomic.AtomicReferenceArray;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/**
 * Finds boxes by points and by boxes. One AND over the {@link BoxRows} of a point finds its first
 * box; an AND over the dimensions of a box (an OR over its atoms in each) finds all boxes that can
 * meet it, so most pairs of rules are never looked at. Safe for many threads.
 */
public final class BoxIndex {

  /** The atoms of a side with so many are put together each time; of a larger one once. */
  private static final int FEW_ATOMS = 64;

  /** So many boxes are sooner looked at than told apart by another side. */
  private static final int FEW_BOXES = 64;

  /** So many sides of a dimension are remembered. */
  private static final int MOST_SIDES = 512;

  /** So many points at most are asked for at once in one array; they fit into the second cache. */
  public static final int MOST_AT_ONCE = 1 << 14;

  /** So many points of a pair of zones are asked for before it gets an index of its own. */
  static final int WORTH_AN_INDEX = 2_000;

  /** The dimensions, those that tell most boxes apart first: after two or three most is done. */
  static final int[] ORDER =
      Stream.of(
              Dimension.FROM,
              Dimension.TO,
              Dimension.USING,
              Dimension.SERVICE,
              Dimension.PERSON,
              Dimension.SITE,
              Dimension.DEVICE,
              Dimension.TIME)
          .mapToInt(Dimension::ordinal)
          .toArray();

  private static final int FROM = Dimension.FROM.ordinal();
  private static final int TO = Dimension.TO.ordinal();

  private final BoxRows rows;
  private final List<Map<IndexSet, long[]>> touching;
  private final List<IndexSet> zones;
  private final int[] zoneOf;
  private final AtomicReferenceArray<PairIndex> pairs;
  private final AtomicIntegerArray asked;

  private BoxIndex(BoxRows rows, List<IndexSet> zones, int[] zoneOf) {
    this.rows = rows;
    this.zones = zones;
    this.zoneOf = zoneOf;
    pairs = new AtomicReferenceArray<>(zones.size() * zones.size());
    asked = new AtomicIntegerArray(zones.size() * zones.size());
    touching =
        IntStream.range(0, Space.DIMENSIONS)
            .<Map<IndexSet, long[]>>mapToObj(d -> new ConcurrentHashMap<>())
            .toList();
  }

  /**
   * The index of some boxes.
   *
   * @param boxes at its number each box, null where there is none; not to be changed any more
   */
  BoxIndex(Box[] boxes, Space space) {
    this(BoxRows.of(boxes, space), space.zones(), zoneOf(space));
  }

  private static int[] zoneOf(Space space) {
    int[] zoneOf = new int[space.weights()[FROM].count()];
    for (int z = 0; z < space.zones().size(); z++) {
      int zone = z;
      space.zones().get(z).forEach(atom -> zoneOf[atom] = zone);
    }
    return zoneOf;
  }

  /** About how many bytes the rows take. */
  public long bytes() {
    return rows.bytes();
  }

  /** The numbers of the boxes that hold something of the atoms that were cut. */
  IndexSet cut(Refinement refinement) {
    IndexSet all = IndexSet.EMPTY;
    for (int d = 0; d < Space.DIMENSIONS; d++) {
      IndexSet atoms = refinement.cut(d);
      all = atoms.isEmpty() ? all : all.union(IndexSet.ofWords(touching(d, atoms)));
    }
    return all;
  }

  /**
   * The index of the same boxes over finer atoms.
   *
   * @param same at the number of each box here what it is over the finer atoms
   */
  BoxIndex over(Box[] same, Space finer, Refinement refinement) {
    return new BoxIndex(
        rows.over(same, finer, refinement), finer.zones(), refinement.carried(FROM, zoneOf));
  }

  /**
   * The index of other boxes over the same atoms; quick where most have the numbers they have here.
   *
   * @param others at its number each box, null where there is none
   */
  BoxIndex followedBy(Box[] others, Space space) {
    return others.length == rows.boxes().length
        ? new BoxIndex(rows.followedBy(others), zones, zoneOf)
        : new BoxIndex(others, space);
  }

  /** The first box that holds the point, or −1. Allocates nothing, but for one time in a while. */
  public int first(int[] point) {
    int pair = pair(point, 0);
    PairIndex known = ofPair(pair, 1);
    return known == null ? first(point, 0) : known.first(point);
  }

  /**
   * The first box that holds each of many points, or −1. Points of one pair of zones are asked for
   * together, so that what is known of the pair is in the nearest cache and nothing has to be
   * guessed: twice as quick as one by one, where points come in any order.
   *
   * @param points the atoms of one point after those of another
   * @param count how many points, at most {@value #MOST_AT_ONCE}
   * @param ignored what of each is not known, a bit for each dimension; {@code found} is then the
   *     first box that holds one of the points it may be, and whoever asks looks whether it holds
   *     all of them
   * @param found gets a box, or −1, for each point
   */
  public void first(int[] points, int count, int ignored, int[] found) {
    int[] ends = new int[zones.size() * zones.size()];
    int[] order = new int[count];
    int[] atoms = new int[count * Space.DIMENSIONS];
    int[] pairOf = new int[count];
    sortByPair(points, count, ends, order, atoms, pairOf);
    int[] point = new int[Space.DIMENSIONS];
    int next = 0;
    while (next < count) {
      int pair = pairOf[order[next]];
      PairIndex known = ofPair(pair, ends[pair] - next);
      if (known != null && !known.isAsked(ignored)) {
        known.first(atoms, order, next, ends[pair], found);
      } else {
        for (int n = next; n < ends[pair]; n++) {
          System.arraycopy(atoms, n * Space.DIMENSIONS, point, 0, Space.DIMENSIONS);
          found[order[n]] =
              known == null ? firstIgnoring(point, ignored) : known.first(point, ignored);
        }
      }
      next = ends[pair];
    }
  }

  /**
   * Counting sort of points that lie one after the other.
   *
   * @param ends gets for each pair after its last point
   * @param order gets the numbers of the points, pair after pair
   * @param atoms gets the atoms of these points, one after the other
   * @param pairOf gets the pair of each point
   */
  private void sortByPair(
      int[] points, int count, int[] ends, int[] order, int[] atoms, int[] pairOf) {
    for (int i = 0; i < count; i++) {
      pairOf[i] = pair(points, i * Space.DIMENSIONS);
      ends[pairOf[i]]++;
    }
    int sum = 0;
    for (int pair = 0; pair < ends.length; pair++) {
      int of = ends[pair];
      ends[pair] = sum;
      sum += of;
    }
    for (int i = 0; i < count; i++) {
      int at = ends[pairOf[i]]++;
      order[at] = i;
      System.arraycopy(
          points, i * Space.DIMENSIONS, atoms, at * Space.DIMENSIONS, Space.DIMENSIONS);
    }
  }

  /** The first box that holds a point of which some dimensions are not known, or −1. */
  private int firstIgnoring(int[] point, int ignored) {
    if (ignored == 0) {
      return first(point, 0);
    }
    for (int w = 0; w < rows.words(); w++) {
      long hit = -1L;
      for (int d = 0; d < Space.DIMENSIONS && hit != 0; d++) {
        if ((ignored >> d & 1) == 0) {
          hit &= rows.word(d, point[d], w);
        }
      }
      if (hit != 0) {
        return (w << 6) + Long.numberOfTrailingZeros(hit);
      }
    }
    return -1;
  }

  /** The pair of zones of the point that begins at a place of an array. */
  private int pair(int[] points, int at) {
    return zoneOf[points[at + FROM]] * zones.size() + zoneOf[points[at + TO]];
  }

  /**
   * The index of a pair of which so many more points are asked for; null, for this is asked for
   * every point, where it has none yet.
   */
  private PairIndex ofPair(int pair, int points) {
    PairIndex known = pairs.get(pair);
    if (known == null) {
      int before = asked.getAndAdd(pair, points);
      if (before < WORTH_AN_INDEX && before + points >= WORTH_AN_INDEX) {
        IndexSet from = zones.get(pair / zones.size());
        known = between(from, zones.get(pair % zones.size())).orElse(null);
        pairs.set(pair, known);
      }
    }
    return known;
  }

  private Optional<PairIndex> between(IndexSet from, IndexSet to) {
    IndexSet[] limits =
        IntStream.range(0, Space.DIMENSIONS).mapToObj(rows::whole).toArray(IndexSet[]::new);
    limits[FROM] = from;
    limits[TO] = to;
    return PairIndex.of(rows.boxes(), meeting(Box.of(limits)), limits);
  }

  /** The first box numbered {@code from} or more that holds the point, or −1. Allocates nothing. */
  public int first(int[] point, int from) {
    int start = from >> 6;
    for (int m = start >> 6; m < rows.marks(); m++) {
      long some = m == start >> 6 ? -1L << start : -1L;
      for (int i = 0; i < ORDER.length && some != 0; i++) {
        some &= rows.marks(ORDER[i], point[ORDER[i]], m);
      }
      for (; some != 0; some &= some - 1) {
        int w = (m << 6) + Long.numberOfTrailingZeros(some);
        long hit = w == start ? -1L << from : -1L;
        for (int i = 0; i < ORDER.length && hit != 0; i++) {
          hit &= rows.word(ORDER[i], point[ORDER[i]], w);
        }
        if (hit != 0) {
          return (w << 6) + Long.numberOfTrailingZeros(hit);
        }
      }
    }
    return -1;
  }

  /**
   * The numbers of all boxes that meet this one, ascending. Sides of few atoms are asked first;
   * once few boxes are left, each of them is looked at instead of putting another side together.
   */
  public IndexSet meeting(Box box) {
    long[] hits = rows.taken();
    int[] costs = new int[Space.DIMENSIONS];
    for (int d = 0; d < Space.DIMENSIONS; d++) {
      IndexSet side = box.side(d);
      costs[d] = side.equals(rows.whole(d)) ? Integer.MAX_VALUE : side.count();
    }
    for (int d = cheapest(costs); costs[d] < Integer.MAX_VALUE; d = cheapest(costs)) {
      if (count(hits) <= FEW_BOXES) {
        sift(hits, box, d);
      } else if (costs[d] <= FEW_ATOMS) {
        and(hits, rows.any(d, box.side(d)));
      } else {
        and(hits, touching(d, box.side(d)));
      }
      costs[d] = Integer.MAX_VALUE;
    }
    return IndexSet.ofWords(hits);
  }

  private static int cheapest(int[] costs) {
    int least = 0;
    for (int d = 1; d < costs.length; d++) {
      least = costs[d] < costs[least] ? d : least;
    }
    return least;
  }

  private static void and(long[] hits, long[] others) {
    for (int w = 0; w < hits.length; w++) {
      hits[w] &= others[w];
    }
  }

  private static int count(long[] hits) {
    int sum = 0;
    for (long word : hits) {
      sum += Long.bitCount(word);
    }
    return sum;
  }

  private void sift(long[] hits, Box box, int dimension) {
    for (int w = 0; w < hits.length; w++) {
      for (long word = hits[w]; word != 0; word &= word - 1) {
        int number = (w << 6) + Long.numberOfTrailingZeros(word);
        if (!rows.boxes()[number].side(dimension).intersects(box.side(dimension))) {
          hits[w] &= ~(1L << number);
        }
      }
    }
  }

  private long[] touching(int dimension, IndexSet side) {
    Map<IndexSet, long[]> known = touching.get(dimension);
    long[] any = known.get(side);
    if (any == null) {
      any = rows.any(dimension, side);
      // Pieces of what is left of a broad rule are asked for once and are many.
      if (known.size() < MOST_SIDES) {
        known.put(side, any);
      }
    }
    return any;
  }
}
