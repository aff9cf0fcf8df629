package ironsieve.region;

/**
 * A closed, non-empty run of points on a {@link Line}.
 *
 * @param low the first point, included
 * @param high the last point, included
 */
public record Range<P extends Comparable<P>>(P low, P high) {

  public Range {
    if (low.compareTo(high) > 0) {
      throw new IllegalArgumentException("a range runs upwards, but " + low + " > " + high);
    }
  }

  /** Whether the point lies in the run. */
  public boolean contains(P point) {
    return low.compareTo(point) <= 0 && point.compareTo(high) <= 0;
  }
}
