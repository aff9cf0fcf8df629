package ironsieve.compile;

import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicIntegerArray;
import java.util.concurrent.atomic.AtomicReferenceArray;
import java.util.function.IntPredicate;
import java.util.stream.IntStream;

/**
 * For each dimension and atom the boxes that touch it, as a {@link SparseRow}. One AND over the
 * dimensions of a point finds its first box; an AND over the dimensions of a box (an OR over its
 * atoms in each) finds all boxes that can meet it, so most pairs of rules are never looked at.
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

  private final List<Box> boxes;
  private final int words;
  private final int marks;
  private final long[][][] rows;
  private final IndexSet[] whole;
  private final List<Map<IndexSet, long[]>> touching;
  private final List<IndexSet> zones;
  private final int[] zoneOf;
  private final AtomicReferenceArray<PairIndex> pairs;
  private final AtomicIntegerArray asked;

  private BoxIndex(List<Box> boxes, Space space, long[][][] rows) {
    this.boxes = boxes;
    this.rows = rows;
    zones = space.zones();
    zoneOf = new int[space.weights()[Dimension.FROM.ordinal()].count()];
    for (int z = 0; z < zones.size(); z++) {
      int zone = z;
      zones.get(z).forEach(atom -> zoneOf[atom] = zone);
    }
    pairs = new AtomicReferenceArray<>(zones.size() * zones.size());
    asked = new AtomicIntegerArray(zones.size() * zones.size());
    words = (boxes.size() + 63) >> 6;
    marks = SparseRow.marks(boxes.size());
    whole = new IndexSet[Space.DIMENSIONS];
    touching =
        IntStream.range(0, Space.DIMENSIONS)
            .<Map<IndexSet, long[]>>mapToObj(d -> new ConcurrentHashMap<>())
            .toList();
    for (int d = 0; d < Space.DIMENSIONS; d++) {
      whole[d] = space.whole(d);
    }
  }

  BoxIndex(List<Box> boxes, Space space) {
    this(boxes, space, new long[Space.DIMENSIONS][][]);
    IntStream.range(0, Space.DIMENSIONS)
        .parallel()
        .forEach(
            d -> {
              long[] none = new long[marks];
              long[][] made = made(d, space.weights()[d].count(), box -> true);
              for (int atom = 0; atom < made.length; atom++) {
                made[atom] = made[atom] == null ? none : made[atom];
              }
              rows[d] = made;
            });
  }

  /** The rows of only some boxes; nothing for an atom that none of them touches. */
  private long[][] made(int dimension, int atoms, IntPredicate among) {
    SparseRow.Making[] makings = new SparseRow.Making[atoms];
    for (int b = 0; b < boxes.size(); b++) {
      if (among.test(b)) {
        int box = b;
        boxes
            .get(b)
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
    return Arrays.stream(makings)
        .map(making -> making == null ? null : making.row())
        .toArray(long[][]::new);
  }

  /** About how many bytes the rows take. */
  public long bytes() {
    long sum = 0;
    for (long[][] ofDimension : rows) {
      for (long[] row : ofDimension) {
        sum += Long.BYTES * (row.length + 3L);
      }
    }
    return sum;
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

  /** The index of the same boxes over finer atoms; rows are shared, for none is ever changed. */
  BoxIndex over(List<Box> same, Space finer, Refinement refinement) {
    long[][][] carried = new long[Space.DIMENSIONS][][];
    for (int d = 0; d < Space.DIMENSIONS; d++) {
      carried[d] = new long[finer.weights()[d].count()][];
      for (int atom = 0; atom < carried[d].length; atom++) {
        carried[d][atom] = rows[d][refinement.parent(d, atom)];
      }
    }
    return new BoxIndex(same, finer, carried);
  }

  /**
   * The index of other boxes, many of which are here too.
   *
   * @param origins for each of the other boxes its number here, or −1 if it is new
   */
  BoxIndex rearranged(List<Box> others, Space space, int[] origins) {
    Rearrangement rearrangement = new Rearrangement(origins, boxes.size());
    BoxIndex next = new BoxIndex(others, space, new long[Space.DIMENSIONS][][]);
    IntStream.range(0, Space.DIMENSIONS)
        .parallel()
        .forEach(d -> next.rows[d] = next.followed(d, rows[d], rearrangement, origins));
    return next;
  }

  private long[][] followed(
      int dimension, long[][] old, Rearrangement rearrangement, int[] origins) {
    SparseRow.Making making = new SparseRow.Making(marks);
    boolean grows = Arrays.stream(origins).anyMatch(origin -> origin < 0);
    long[][] added =
        grows ? made(dimension, old.length, box -> origins[box] < 0) : new long[old.length][];
    long[][] moved = new long[old.length][];
    for (int atom = 0; atom < old.length; atom++) {
      moved[atom] = rearrangement.of(old[atom], making);
      if (added[atom] != null) {
        moved[atom] = SparseRow.union(moved[atom], added[atom], marks);
      }
    }
    return moved;
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
    for (int w = 0; w < words; w++) {
      long hit = -1L;
      for (int d = 0; d < Space.DIMENSIONS && hit != 0; d++) {
        if ((ignored >> d & 1) == 0) {
          hit &= SparseRow.word(rows[d][point[d]], marks, w);
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
    return zoneOf[points[at + Dimension.FROM.ordinal()]] * zones.size()
        + zoneOf[points[at + Dimension.TO.ordinal()]];
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
    IndexSet[] limits = whole.clone();
    limits[Dimension.FROM.ordinal()] = from;
    limits[Dimension.TO.ordinal()] = to;
    return PairIndex.of(boxes, meeting(Box.of(limits)), limits);
  }

  /** The first box numbered {@code from} or more that holds the point, or −1. Allocates nothing. */
  public int first(int[] point, int from) {
    // Those that tell most boxes apart first, so that most words are done after two or three.
    long[] from0 = row(Dimension.FROM, point);
    long[] to = row(Dimension.TO, point);
    long[] using = row(Dimension.USING, point);
    long[] service = row(Dimension.SERVICE, point);
    long[] person = row(Dimension.PERSON, point);
    int start = from >> 6;
    for (int m = start >> 6; m < marks; m++) {
      long both = from0[m] & to[m] & using[m] & service[m] & person[m];
      both &= m == start >> 6 ? -1L << start : -1L;
      for (; both != 0; both &= both - 1) {
        int w = (m << 6) + Long.numberOfTrailingZeros(both);
        long hit = SparseRow.word(from0, marks, w) & SparseRow.word(to, marks, w);
        hit &= w == start ? -1L << from : -1L;
        if (hit != 0) {
          hit &= SparseRow.word(using, marks, w) & SparseRow.word(service, marks, w);
          hit &= SparseRow.word(person, marks, w);
        }
        if (hit != 0) {
          hit &= SparseRow.word(row(Dimension.SITE, point), marks, w);
          hit &= SparseRow.word(row(Dimension.DEVICE, point), marks, w);
          hit &= SparseRow.word(row(Dimension.TIME, point), marks, w);
        }
        if (hit != 0) {
          return (w << 6) + Long.numberOfTrailingZeros(hit);
        }
      }
    }
    return -1;
  }

  private long[] row(Dimension dimension, int[] point) {
    return rows[dimension.ordinal()][point[dimension.ordinal()]];
  }

  /**
   * The numbers of all boxes that meet this one, ascending. Sides of few atoms are asked first;
   * once few boxes are left, each of them is looked at instead of putting another side together.
   */
  public IndexSet meeting(Box box) {
    long[] hits = new long[words];
    Arrays.fill(hits, -1L);
    if (words > 0 && (boxes.size() & 63) != 0) {
      hits[words - 1] = (1L << boxes.size()) - 1;
    }
    int[] costs = new int[Space.DIMENSIONS];
    for (int d = 0; d < Space.DIMENSIONS; d++) {
      IndexSet side = box.side(d);
      costs[d] = side.equals(whole[d]) ? Integer.MAX_VALUE : side.count();
    }
    for (int d = cheapest(costs); costs[d] < Integer.MAX_VALUE; d = cheapest(costs)) {
      if (count(hits) <= FEW_BOXES) {
        sift(hits, box, d);
      } else if (costs[d] <= FEW_ATOMS) {
        and(hits, together(d, box.side(d)));
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
        if (!boxes.get(number).side(dimension).intersects(box.side(dimension))) {
          hits[w] &= ~(1L << number);
        }
      }
    }
  }

  private long[] touching(int dimension, IndexSet side) {
    Map<IndexSet, long[]> known = touching.get(dimension);
    long[] any = known.get(side);
    if (any == null) {
      any = together(dimension, side);
      // Pieces of what is left of a broad rule are asked for once and are many.
      if (known.size() < MOST_SIDES) {
        known.put(side, any);
      }
    }
    return any;
  }

  private long[] together(int dimension, IndexSet side) {
    long[] any = new long[words];
    side.forEach(atom -> SparseRow.or(rows[dimension][atom], marks, any));
    return any;
  }
}
