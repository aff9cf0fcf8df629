package ironsieve.region;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Random;

/**
 * A product of index sets, one for each dimension of a space: all points whose every coordinate
 * lies in that dimension's set. Immutable; empty as soon as one of its sets is.
 */
public final class Box {

  private final IndexSet[] sides;

  private Box(IndexSet[] sides) {
    this.sides = sides;
  }

  /** The product of these sets; at least one. The array is copied. */
  public static Box of(IndexSet... sides) {
    return new Box(sides.clone());
  }

  /** The box with just the point at these coordinates. */
  public static Box at(int[] point) {
    return new Box(Arrays.stream(point).mapToObj(IndexSet::of).toArray(IndexSet[]::new));
  }

  /** How many dimensions the box has. */
  public int dimensions() {
    return sides.length;
  }

  /** The set of one dimension. */
  public IndexSet side(int dimension) {
    return sides[dimension];
  }

  /** This box with one of its sets replaced. */
  public Box with(int dimension, IndexSet side) {
    IndexSet[] changed = sides.clone();
    changed[dimension] = side;
    return new Box(changed);
  }

  public boolean isEmpty() {
    for (IndexSet side : sides) {
      if (side.isEmpty()) {
        return true;
      }
    }
    return false;
  }

  /** Whether the boxes have a point in common. */
  public boolean intersects(Box other) {
    for (int d = 0; d < sides.length; d++) {
      if (!sides[d].intersects(other.sides[d])) {
        return false;
      }
    }
    return true;
  }

  /** Whether every point of the other box is in this one. */
  public boolean containsAll(Box other) {
    if (other.isEmpty()) {
      return true;
    }
    for (int d = 0; d < sides.length; d++) {
      if (!sides[d].containsAll(other.sides[d])) {
        return false;
      }
    }
    return true;
  }

  /** Whether the point with these coordinates is in the box. */
  public boolean contains(int[] point) {
    for (int d = 0; d < sides.length; d++) {
      if (!sides[d].contains(point[d])) {
        return false;
      }
    }
    return true;
  }

  /** All points of both boxes; again a box. */
  public Box intersect(Box other) {
    IndexSet[] common = new IndexSet[sides.length];
    for (int d = 0; d < sides.length; d++) {
      common[d] = sides[d].intersect(other.sides[d]);
    }
    return new Box(common);
  }

  /**
   * All points of this box that are not in the other, as at most one disjoint, non-empty box for
   * each dimension: piece {@code d} lies inside the other in the dimensions before {@code d} and
   * outside it in {@code d}.
   */
  public List<Box> minus(Box other) {
    if (!intersects(other)) {
      return isEmpty() ? List.of() : List.of(this);
    }
    return minus(other, intersect(other));
  }

  /**
   * The same where what both have in common is known.
   *
   * @param common not empty
   */
  public List<Box> minus(Box other, Box common) {
    List<Box> pieces = new ArrayList<>(sides.length);
    Box rest = this;
    for (int d = 0; d < sides.length; d++) {
      IndexSet outside = sides[d].minus(other.sides[d]);
      if (!outside.isEmpty()) {
        pieces.add(rest.with(d, outside));
        rest = rest.with(d, common.sides[d]);
      }
    }
    return pieces;
  }

  /** The lowest point of the box, one coordinate for each dimension; nothing if it is empty. */
  public Optional<int[]> point() {
    return isEmpty()
        ? Optional.empty()
        : Optional.of(Arrays.stream(sides).mapToInt(IndexSet::first).toArray());
  }

  /** Any point of the box, which must not be empty; each is as likely as any other. */
  public int[] anyPoint(Random random) {
    return Arrays.stream(sides)
        .mapToInt(side -> side.members()[random.nextInt(side.count())])
        .toArray();
  }

  /**
   * The sum of the weights of its points, a point weighing the product of its coordinates' weights.
   */
  public double weight(Weights[] weights) {
    double product = 1;
    for (int d = 0; d < sides.length && product > 0; d++) {
      product *= sides[d].weight(weights[d]);
    }
    return product;
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof Box box && Arrays.equals(sides, box.sides);
  }

  @Override
  public int hashCode() {
    return Arrays.hashCode(sides);
  }

  @Override
  public String toString() {
    return Arrays.toString(sides);
  }
}
