package ironsieve.review;

import ironsieve.compile.Dimension;
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
    return fall(part.box(), new Spans(rules));
  }

  private boolean fall(Box start, Spans spans) {
    List<Candidate> rules = spans.rules;
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
        Spans met = spans.meeting(within, k + 1);
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
   * Rules from the top with how far their addresses reach, one number after the other: of a wide
   * rule many small pieces are cut, and nearly all of hundreds of rules lie beside each of them.
   */
  private static final class Spans {
    private static final int FROM = Dimension.FROM.ordinal();
    private static final int TO = Dimension.TO.ordinal();
    private final List<Candidate> rules;
    private int[] ends;

    private Spans(List<Candidate> rules) {
      this.rules = rules;
    }

    private static void write(Box box, int[] into, int at) {
      into[at] = box.side(FROM).first();
      into[at + 1] = box.side(FROM).last();
      into[at + 2] = box.side(TO).first();
      into[at + 3] = box.side(TO).last();
    }

    /** The rules from one on that a piece meets, so that what is cut from it asks no others. */
    private Spans meeting(Box piece, int from) {
      if (ends == null) {
        ends = new int[4 * rules.size()];
        for (int k = 0; k < rules.size(); k++) {
          write(rules.get(k).box(), ends, 4 * k);
        }
      }
      int[] own = new int[4];
      write(piece, own, 0);
      List<Candidate> some = new ArrayList<>();
      for (int k = from; k < rules.size(); k++) {
        int at = 4 * k;
        boolean isBeside =
            ends[at] > own[1]
                || ends[at + 1] < own[0]
                || ends[at + 2] > own[3]
                || ends[at + 3] < own[2];
        if (!isBeside && rules.get(k).box().intersects(piece)) {
          some.add(rules.get(k));
        }
      }
      return new Spans(some);
    }
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
