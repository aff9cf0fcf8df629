package ironsieve.compile;

import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicIntegerArray;
import java.util.concurrent.atomic.AtomicReferenceArray;
import java.util.stream.IntStream;

/**
 * For each dimension and atom the bitmap of the boxes that touch it. One AND over the dimensions of
 * a point finds its first box; an AND over the dimensions of a box (an OR over its atoms in each)
 * finds all boxes that can meet it, so most pairs of rules are never looked at. Needs boxes × atoms
 * bits.
 */
public final class BoxIndex {

  /** So many points of a pair of zones are asked for before it gets an index of its own. */
  private static final int WORTH_AN_INDEX = 500;

  private final List<Box> boxes;
  private final int words;
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
    zoneOf = new int[space.weights()[Dimension.FROM.ordinal()].length];
    for (int z = 0; z < zones.size(); z++) {
      int zone = z;
      zones.get(z).forEach(atom -> zoneOf[atom] = zone);
    }
    pairs = new AtomicReferenceArray<>(zones.size() * zones.size());
    asked = new AtomicIntegerArray(zones.size() * zones.size());
    words = words(boxes);
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
    for (int d = 0; d < Space.DIMENSIONS; d++) {
      rows[d] = new long[space.weights()[d].length][words];
      for (int b = 0; b < boxes.size(); b++) {
        mark(rows[d], boxes.get(b).side(d), b);
      }
    }
  }

  private static int words(List<Box> boxes) {
    return (boxes.size() + 63) >> 6;
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
      carried[d] = new long[finer.weights()[d].length][];
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
    Window window = Window.of(origins, boxes.size());
    List<Run> runs = window.of(Run.of(origins));
    long[][][] moved = new long[Space.DIMENSIONS][][];
    IntStream.range(0, Space.DIMENSIONS)
        .parallel()
        .forEach(
            d -> {
              long[][] old = rows[d];
              long[][] ofDimension = new long[old.length][];
              for (int atom = 0; atom < old.length; atom++) {
                ofDimension[atom] =
                    window.isClear(old[atom], words(others))
                        ? old[atom]
                        : window.copied(old[atom], runs, words(others));
              }
              for (int b = 0; b < origins.length; b++) {
                if (origins[b] < 0) {
                  others
                      .get(b)
                      .side(d)
                      .forEach(
                          atom -> {
                            if (ofDimension[atom] == old[atom]) {
                              ofDimension[atom] = old[atom].clone();
                            }
                          });
                  mark(ofDimension, others.get(b).side(d), b);
                }
              }
              moved[d] = ofDimension;
            });
    return new BoxIndex(others, space, moved);
  }

  /**
   * The words outside of which every bit stays where it was, so that a row with nothing in them can
   * be shared.
   */
  private record Window(int from, int to) {

    private static Window of(int[] origins, int before) {
      int from = 0;
      while (from < origins.length && origins[from] == from) {
        from++;
      }
      int to = Math.max(before, origins.length);
      // With fewer or more boxes than before all from the first that moved on moves.
      while (before == origins.length && to > from && origins[to - 1] == to - 1) {
        to--;
      }
      return new Window(from >> 6, (to + 63) >> 6);
    }

    /** What of some runs lies in the window; the rest goes nowhere. */
    private List<Run> of(List<Run> runs) {
      List<Run> inside = new ArrayList<>();
      for (Run run : runs) {
        int start = Math.max(run.to(), from << 6);
        int end = Math.min(run.to() + run.length(), to << 6);
        if (start < end) {
          inside.add(new Run(run.from() + start - run.to(), start, end - start));
        }
      }
      return inside;
    }

    /** A row after the runs that lie in the window. */
    private long[] copied(long[] row, List<Run> runs, int words) {
      long[] copy = Arrays.copyOf(row, words);
      Arrays.fill(copy, Math.min(from, words), Math.min(to, words), 0);
      for (Run run : runs) {
        run.copy(row, copy);
      }
      return copy;
    }

    /** Whether a row can stay as it is among as many words. */
    private boolean isClear(long[] row, int words) {
      if (row.length != words) {
        return false;
      }
      for (int w = from; w < Math.min(to, words); w++) {
        if (row[w] != 0) {
          return false;
        }
      }
      return true;
    }
  }

  /** Neighbours that stay neighbours: so many bits from one place go to another. */
  private record Run(int from, int to, int length) {

    private static List<Run> of(int[] origins) {
      List<Run> runs = new ArrayList<>();
      int start = 0;
      for (int b = 1; b <= origins.length; b++) {
        boolean goesOn =
            b < origins.length && origins[b - 1] >= 0 && origins[b] == origins[b - 1] + 1;
        if (!goesOn) {
          if (origins[start] >= 0) {
            runs.add(new Run(origins[start], start, b - start));
          }
          start = b;
        }
      }
      return runs;
    }

    /** The bits up to the beginning of a word, then whole words, then the rest. */
    private void copy(long[] row, long[] copy) {
      int done = Math.min(length, -to & 63);
      if (done > 0) {
        copy[to >> 6] |= bits(row, from, done) << to;
      }
      int shift = (from + done) & 63;
      for (; length - done >= 64; done += 64) {
        int word = (from + done) >> 6;
        copy[(to + done) >> 6] =
            shift == 0 ? row[word] : row[word] >>> shift | row[word + 1] << -shift;
      }
      if (done < length) {
        copy[(to + done) >> 6] |= bits(row, from + done, length - done);
      }
    }

    /** Up to 64 bits of a row from any place on. */
    private static long bits(long[] row, int from, int count) {
      int word = from >> 6;
      long low = row[word] >>> from;
      boolean split = (from & 63) + count > 64;
      long all = split ? low | row[word + 1] << -from : low;
      return count == 64 ? all : all & (1L << count) - 1;
    }
  }

  private static void mark(long[][] rows, IndexSet side, int box) {
    side.forEach(atom -> rows[atom][box >> 6] |= 1L << box);
  }

  /** The first box that holds the point, or −1. Allocates nothing, but for one time in a while. */
  public int first(int[] point) {
    int from = zoneOf[point[Dimension.FROM.ordinal()]];
    int to = zoneOf[point[Dimension.TO.ordinal()]];
    int pair = from * zones.size() + to;
    PairIndex known = pairs.get(pair);
    if (known != null) {
      return known.first(point);
    }
    if (asked.incrementAndGet(pair) == WORTH_AN_INDEX) {
      between(zones.get(from), zones.get(to)).ifPresent(index -> pairs.set(pair, index));
    }
    return first(point, 0);
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
    Arrays.fill(hits, -1L);
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
