package ironsieve.region;

import java.math.BigInteger;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Objects;
import java.util.Optional;

/**
 * An exact, immutable set of points of one {@link Line}, kept as ascending runs that neither touch
 * nor overlap. Every operation is linear in the number of runs and leaves its arguments alone.
 */
public final class RangeSet<P extends Comparable<P>> {

  private final Line<P> line;
  private final List<Range<P>> ranges;

  private RangeSet(Line<P> line, List<Range<P>> ranges) {
    this.line = line;
    this.ranges = List.copyOf(ranges);
  }

  /** The set without points. */
  public static <P extends Comparable<P>> RangeSet<P> empty(Line<P> line) {
    return new RangeSet<>(line, List.of());
  }

  /** The whole line. */
  public static <P extends Comparable<P>> RangeSet<P> all(Line<P> line) {
    return new RangeSet<>(line, List.of(new Range<>(line.first(), line.last())));
  }

  /** The union of runs given in any order. */
  public static <P extends Comparable<P>> RangeSet<P> of(
      Line<P> line, Collection<Range<P>> anyRuns) {
    List<Range<P>> sorted = new ArrayList<>(anyRuns);
    sorted.sort(Comparator.comparing(Range::low));
    List<Range<P>> merged = new ArrayList<>();
    for (Range<P> run : sorted) {
      Range<P> last = merged.isEmpty() ? null : merged.get(merged.size() - 1);
      if (last != null && meetsOrTouches(line, last, run)) {
        P high = last.high().compareTo(run.high()) >= 0 ? last.high() : run.high();
        merged.set(merged.size() - 1, new Range<>(last.low(), high));
      } else {
        merged.add(run);
      }
    }
    return new RangeSet<>(line, merged);
  }

  private static <P extends Comparable<P>> boolean meetsOrTouches(
      Line<P> line, Range<P> earlier, Range<P> later) {
    return later.low().compareTo(earlier.high()) <= 0
        || (earlier.high().compareTo(line.last()) < 0
            && line.after(earlier.high()).equals(later.low()));
  }

  /** The runs, ascending, with a gap between any two. */
  public List<Range<P>> ranges() {
    return ranges;
  }

  public boolean isEmpty() {
    return ranges.isEmpty();
  }

  /** Whether the point is in the set; binary search. */
  public boolean contains(P point) {
    int low = 0;
    int high = ranges.size() - 1;
    while (low <= high) {
      int mid = (low + high) >>> 1;
      Range<P> run = ranges.get(mid);
      if (point.compareTo(run.low()) < 0) {
        high = mid - 1;
      } else if (point.compareTo(run.high()) > 0) {
        low = mid + 1;
      } else {
        return true;
      }
    }
    return false;
  }

  /** All points of either set. */
  public RangeSet<P> union(RangeSet<P> other) {
    List<Range<P>> both = new ArrayList<>(ranges);
    both.addAll(other.ranges);
    return of(line, both);
  }

  /** All points of both sets. */
  public RangeSet<P> intersect(RangeSet<P> other) {
    List<Range<P>> common = new ArrayList<>();
    int i = 0;
    int j = 0;
    while (i < ranges.size() && j < other.ranges.size()) {
      Range<P> a = ranges.get(i);
      Range<P> b = other.ranges.get(j);
      P low = a.low().compareTo(b.low()) >= 0 ? a.low() : b.low();
      P high = a.high().compareTo(b.high()) <= 0 ? a.high() : b.high();
      if (low.compareTo(high) <= 0) {
        common.add(new Range<>(low, high));
      }
      if (a.high().compareTo(b.high()) < 0) {
        i++;
      } else {
        j++;
      }
    }
    return new RangeSet<>(line, common);
  }

  /** All points of this set that are not in the other. */
  public RangeSet<P> minus(RangeSet<P> other) {
    return intersect(other.complement());
  }

  /** All points of the line that are not in this set. */
  public RangeSet<P> complement() {
    List<Range<P>> gaps = new ArrayList<>();
    P next = line.first();
    for (Range<P> run : ranges) {
      if (next.compareTo(run.low()) < 0) {
        gaps.add(new Range<>(next, line.before(run.low())));
      }
      if (run.high().equals(line.last())) {
        return new RangeSet<>(line, gaps);
      }
      next = line.after(run.high());
    }
    gaps.add(new Range<>(next, line.last()));
    return new RangeSet<>(line, gaps);
  }

  /** Whether every point of the other set is in this one. */
  public boolean containsAll(RangeSet<P> other) {
    return other.minus(this).isEmpty();
  }

  /** One point of the set: its lowest; nothing if the set is empty. */
  public Optional<P> point() {
    return ranges.isEmpty() ? Optional.empty() : Optional.of(ranges.get(0).low());
  }

  /** The number of points. */
  public BigInteger size() {
    BigInteger sum = BigInteger.ZERO;
    for (Range<P> run : ranges) {
      sum = sum.add(line.count(run.low(), run.high()));
    }
    return sum;
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof RangeSet<?> set && ranges.equals(set.ranges);
  }

  @Override
  public int hashCode() {
    return Objects.hash(ranges);
  }

  @Override
  public String toString() {
    return ranges.toString();
  }
}
