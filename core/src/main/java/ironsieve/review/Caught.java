package ironsieve.review;

import ironsieve.region.Box;
import ironsieve.review.CoverSearch.Candidate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.IntUnaryOperator;
import java.util.function.UnaryOperator;

/**
 * What rules caught of a box that was dropped through them, and what fell through, in the order it
 * was met. Filled by one thread, then only read.
 */
final class Caught {

  /** What one rule caught. */
  static final class Part {
    private final Box first;
    private Box otherwise;
    private boolean isPartlyAlike;
    private double weight;
    private double weightOtherwise;

    private Part(Box first) {
      this.first = first;
    }

    /** Some of what it decides otherwise, if there is any. */
    Optional<Box> otherwise() {
      return Optional.ofNullable(otherwise);
    }

    /** Whether it decides some of it as it would be decided anyway; weights could not tell. */
    boolean isPartlyAlike() {
      return isPartlyAlike;
    }

    double weightOtherwise() {
      return weightOtherwise;
    }

    /** Some of it, not empty. */
    Box first() {
      return first;
    }

    double weight() {
      return weight;
    }

    private void add(Part more) {
      weight += more.weight;
      weightOtherwise += more.weightOtherwise;
      isPartlyAlike |= more.isPartlyAlike;
      otherwise = otherwise == null ? more.otherwise : otherwise;
    }

    private Part over(UnaryOperator<Box> boxes) {
      Part part = new Part(boxes.apply(first));
      part.otherwise = otherwise == null ? null : boxes.apply(otherwise);
      part.weight = weight;
      part.weightOtherwise = weightOtherwise;
      part.isPartlyAlike = isPartlyAlike;
      return part;
    }
  }

  private final Map<Integer, Part> parts = new HashMap<>();
  private final List<Candidate> left = new ArrayList<>();
  private double leftWeight;
  private int steps;

  /** What each rule caught, by its number. */
  Map<Integer, Part> parts() {
    return parts;
  }

  /** What fell through, as disjoint parts with the outcomes they came with. */
  List<Candidate> left() {
    return left;
  }

  double leftWeight() {
    return leftWeight;
  }

  /** How many rules caught something, each counted as often as it did. */
  int steps() {
    return steps;
  }

  /**
   * Notes that a rule catches some of a box.
   *
   * @param inside what it catches
   * @param otherwise whether it decides it otherwise
   */
  void note(int rule, Box inside, double weight, boolean otherwise) {
    steps++;
    Part part = parts.computeIfAbsent(rule, owner -> new Part(inside));
    part.weight += weight;
    if (otherwise) {
      part.weightOtherwise += weight;
      part.otherwise = part.otherwise == null ? inside : part.otherwise;
    } else {
      part.isPartlyAlike = true;
    }
  }

  /** Notes what no rule catches. */
  void noteLeft(Candidate rest, double weight) {
    left.add(rest);
    leftWeight += weight;
  }

  /** Adds what was caught of another box. */
  void add(Caught more) {
    more.parts.forEach(
        (owner, part) -> parts.computeIfAbsent(owner, one -> new Part(part.first)).add(part));
    left.addAll(more.left);
    leftWeight += more.leftWeight;
    steps += more.steps;
  }

  /**
   * The same by the numbers and over the atoms of another revision.
   *
   * @param numbers for the number of a rule that caught something the one it has there
   * @param dropped the number there of the rule that was dropped
   */
  Caught over(IntUnaryOperator numbers, int dropped, UnaryOperator<Box> boxes) {
    Caught there = new Caught();
    parts.forEach((owner, part) -> there.parts.put(numbers.applyAsInt(owner), part.over(boxes)));
    for (Candidate rest : left) {
      there.left.add(new Candidate(dropped, boxes.apply(rest.box()), rest.outcome()));
    }
    there.leftWeight = leftWeight;
    there.steps = steps;
    return there;
  }
}
