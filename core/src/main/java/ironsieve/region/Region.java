package ironsieve.region;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A finite union of disjoint boxes of one space: exact, immutable, closed under union, intersection
 * and difference. Differences split boxes along one dimension at a time; in the worst case the
 * number of boxes multiplies with each, so searches over many rules use the budgeted walks of the
 * review instead.
 */
public final class Region {

  /** The region without points. */
  public static final Region EMPTY = new Region(List.of());

  private final List<Box> boxes;

  private Region(List<Box> boxes) {
    this.boxes = List.copyOf(boxes);
  }

  /** The union of boxes that may overlap; empty ones are dropped. */
  public static Region of(List<Box> boxes) {
    Region sum = EMPTY;
    for (Box box : boxes) {
      sum = sum.union(box.isEmpty() ? EMPTY : new Region(List.of(box)));
    }
    return sum;
  }

  /** Disjoint, non-empty boxes that together are the region. */
  public List<Box> boxes() {
    return boxes;
  }

  public boolean isEmpty() {
    return boxes.isEmpty();
  }

  /** All points of either region. */
  public Region union(Region other) {
    List<Box> both = new ArrayList<>(boxes);
    both.addAll(other.minus(this).boxes);
    return new Region(both);
  }

  /** All points of both regions. */
  public Region intersect(Region other) {
    List<Box> common = new ArrayList<>();
    for (Box a : boxes) {
      for (Box b : other.boxes) {
        if (a.intersects(b)) {
          common.add(a.intersect(b));
        }
      }
    }
    return new Region(common);
  }

  /** All points of this region that are not in the other. */
  public Region minus(Region other) {
    List<Box> left = boxes;
    for (Box taken : other.boxes) {
      List<Box> next = new ArrayList<>(left.size());
      for (Box box : left) {
        next.addAll(box.minus(taken));
      }
      left = next;
    }
    return new Region(left);
  }

  /** Whether every point of the other region is in this one. */
  public boolean containsAll(Region other) {
    return other.minus(this).isEmpty();
  }

  /** Whether the point with these coordinates is in the region. */
  public boolean contains(int[] point) {
    return boxes.stream().anyMatch(box -> box.contains(point));
  }

  /** One point of the region; nothing if it is empty. */
  public Optional<int[]> point() {
    return boxes.isEmpty() ? Optional.empty() : boxes.get(0).point();
  }

  /** The sum of the weights of its points. */
  public double weight(Weights[] weights) {
    return boxes.stream().mapToDouble(box -> box.weight(weights)).sum();
  }
}
