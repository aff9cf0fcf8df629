package ironsieve.review;

import ironsieve.region.Box;
import ironsieve.region.Weights;
import ironsieve.review.CoverSearch.Candidate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * Drops a whole box through rules in order, as a probe drops a point: each rule catches its part of
 * what is left. The parts are disjoint, so their weights add up exactly. The number of pieces can
 * grow with every rule met, hence the budget.
 */
final class ShareMeasure {

  /** What one rule caught. */
  static final class Part {
    private final Box first;
    private Box otherwise;
    private double weight;
    private double weightOtherwise;

    private Part(Box first) {
      this.first = first;
    }

    /** Some of what it decides otherwise, if there is any. */
    Optional<Box> otherwise() {
      return Optional.ofNullable(otherwise);
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
  }

  private final Weights[] weights;
  private int stepsLeft;
  private final Map<Integer, Part> caught = new TreeMap<>();
  private final List<Candidate> left = new ArrayList<>();
  private double leftWeight;
  private double scale;
  private Candidate dropped;

  /** A descent that may meet this many rules. */
  ShareMeasure(Weights[] weights, int steps) {
    this.weights = weights;
    this.stepsLeft = steps;
  }

  /**
   * Drops one more part of a claim.
   *
   * @param scale what its weight is multiplied by
   * @return whether it came to the end; if not, the results are of no use
   */
  boolean admit(Candidate part, double scale, List<Candidate> rules) {
    this.scale = scale;
    this.dropped = part;
    return fall(part.box(), rules);
  }

  private boolean fall(Box start, List<Candidate> rules) {
    Box rest = start;
    for (int k = 0; k < rules.size(); k++) {
      Box claim = rules.get(k).box();
      if (!claim.intersects(rest)) {
        continue;
      }
      if (--stepsLeft < 0) {
        return false;
      }
      Box inside = rest.intersect(claim);
      Part part = caught.computeIfAbsent(rules.get(k).owner(), owner -> new Part(inside));
      double weight = inside.weight(weights) * scale;
      part.weight += weight;
      if (!rules.get(k).outcome().equals(dropped.outcome())) {
        part.weightOtherwise += weight;
        part.otherwise = part.otherwise == null ? inside : part.otherwise;
      }
      List<Box> outside = rest.minus(claim);
      if (outside.isEmpty()) {
        return true;
      }
      if (outside.size() > 1) {
        // All but the first lie inside the claim in the dimension that the first is cut off in.
        int d = firstCut(rest, claim);
        Box within = rest.with(d, inside.side(d));
        List<Candidate> met = meeting(within, rules.subList(k + 1, rules.size()));
        for (Box piece : outside.subList(1, outside.size())) {
          if (!fall(piece, met)) {
            return false;
          }
        }
      }
      rest = outside.get(0);
    }
    left.add(new Candidate(dropped.owner(), rest, dropped.outcome()));
    leftWeight += rest.weight(weights) * scale;
    return true;
  }

  private static int firstCut(Box box, Box by) {
    int d = 0;
    while (by.side(d).containsAll(box.side(d))) {
      d++;
    }
    return d;
  }

  /**
   * Of some rules those that a piece meets, so that what is cut from it need not ask the others.
   */
  private static List<Candidate> meeting(Box piece, List<Candidate> rules) {
    List<Candidate> some = new ArrayList<>();
    for (Candidate rule : rules) {
      if (rule.box().intersects(piece)) {
        some.add(rule);
      }
    }
    return some;
  }

  /** What each rule caught, by its number. */
  Map<Integer, Part> caught() {
    return caught;
  }

  /** What fell through, as disjoint parts with the outcomes they came with. */
  List<Candidate> left() {
    return left;
  }

  double leftWeight() {
    return leftWeight;
  }
}
