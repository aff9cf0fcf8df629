package ironsieve.review;

import ironsieve.compile.Dimension;
import ironsieve.region.Box;
import ironsieve.region.Weights;
import ironsieve.review.CoverSearch.Candidate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;

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

    private Part with(Part more) {
      weight += more.weight;
      weightOtherwise += more.weightOtherwise;
      otherwise = otherwise == null ? more.otherwise : otherwise;
      return this;
    }
  }

  /** Of a part that meets so many rules, what each cuts from it falls on by itself. */
  private static final int MANY_RULES = 128;

  private final Weights[] weights;
  private final AtomicInteger stepsLeft;
  private final Sum all = new Sum();

  /** A descent that may meet this many rules. */
  ShareMeasure(Weights[] weights, int steps) {
    this.weights = weights;
    this.stepsLeft = new AtomicInteger(steps);
  }

  /**
   * Drops one more part of a claim. All processors take part where it meets many rules; what comes
   * out does not depend on how many there are.
   *
   * @param scale what its weight is multiplied by
   * @return whether it came to the end; if not, the results are of no use
   */
  boolean admit(Candidate part, double scale, List<Candidate> rules) {
    Spans spans = new Spans(rules);
    if (rules.size() < MANY_RULES) {
      return new Fall(part, scale, all, Optional.empty()).fall(part.box(), spans);
    }
    List<Branch> branches = new ArrayList<>();
    if (!new Fall(part, scale, all, Optional.of(branches)).fall(part.box(), spans)) {
      return false;
    }
    List<Optional<Sum>> sums =
        branches.parallelStream().map(branch -> sum(branch, part, scale)).toList();
    sums.forEach(sum -> sum.ifPresent(all::add));
    return sums.stream().allMatch(Optional::isPresent);
  }

  /** What becomes of a branch by itself; nothing if that takes more than the budget. */
  private Optional<Sum> sum(Branch branch, Candidate dropped, double scale) {
    Sum sum = new Sum();
    boolean isDone = branch.fall(new Fall(dropped, scale, sum, Optional.empty()));
    return isDone ? Optional.of(sum) : Optional.empty();
  }

  /** What was caught and what fell through, in the order it was met. */
  private static final class Sum {
    private final Map<Integer, Part> caught = new HashMap<>();
    private final List<Candidate> left = new ArrayList<>();
    private double leftWeight;

    private void add(Sum more) {
      more.caught.forEach((owner, part) -> caught.merge(owner, part, Part::with));
      left.addAll(more.left);
      leftWeight += more.leftWeight;
    }
  }

  /**
   * Pieces that one rule cut off, all within a box.
   *
   * @param from the first rule that they can meet
   */
  private record Branch(Box within, List<Box> pieces, Spans spans, int from) {

    private boolean fall(Fall fall) {
      Spans met = spans.meeting(within, from);
      for (Box piece : pieces) {
        if (!fall.fall(piece, met)) {
          return false;
        }
      }
      return true;
    }
  }

  /** The fall of one part; what is cut from it falls with it, or is only noted. */
  private final class Fall {
    private final Candidate dropped;
    private final double scale;
    private final Sum sum;
    private final Optional<List<Branch>> noted;

    private Fall(Candidate dropped, double scale, Sum sum, Optional<List<Branch>> noted) {
      this.dropped = dropped;
      this.scale = scale;
      this.sum = sum;
      this.noted = noted;
    }

    private boolean fall(Box start, Spans spans) {
      List<Candidate> rules = spans.rules;
      Box rest = start;
      for (int k = 0; k < rules.size(); k++) {
        Box claim = rules.get(k).box();
        if (!claim.intersects(rest)) {
          continue;
        }
        if (stepsLeft.decrementAndGet() < 0) {
          return false;
        }
        Box inside = rest.intersect(claim);
        catches(rules.get(k), inside);
        List<Box> outside = rest.minus(claim, inside);
        if (outside.isEmpty()) {
          return true;
        }
        if (outside.size() > 1) {
          // All but the first lie inside the claim in the dimension that the first is cut off in.
          int d = firstCut(rest, claim);
          Box within = rest.with(d, inside.side(d));
          Branch branch = new Branch(within, outside.subList(1, outside.size()), spans, k + 1);
          if (noted.isPresent()) {
            noted.get().add(branch);
          } else if (!branch.fall(this)) {
            return false;
          }
        }
        rest = outside.get(0);
      }
      sum.left.add(new Candidate(dropped.owner(), rest, dropped.outcome()));
      sum.leftWeight += rest.weight(weights) * scale;
      return true;
    }

    private void catches(Candidate rule, Box inside) {
      Part part = sum.caught.computeIfAbsent(rule.owner(), owner -> new Part(inside));
      double weight = inside.weight(weights) * scale;
      part.weight += weight;
      if (!rule.outcome().equals(dropped.outcome())) {
        part.weightOtherwise += weight;
        part.otherwise = part.otherwise == null ? inside : part.otherwise;
      }
    }
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
    private volatile int[] ends;

    private Spans(List<Candidate> rules) {
      this.rules = rules;
    }

    /** Worked out when first asked for; two threads that both do come to the same. */
    private int[] ends() {
      int[] known = ends;
      if (known == null) {
        known = new int[4 * rules.size()];
        for (int k = 0; k < rules.size(); k++) {
          write(rules.get(k).box(), known, 4 * k);
        }
        ends = known;
      }
      return known;
    }

    private static void write(Box box, int[] into, int at) {
      into[at] = box.side(FROM).first();
      into[at + 1] = box.side(FROM).last();
      into[at + 2] = box.side(TO).first();
      into[at + 3] = box.side(TO).last();
    }

    /** The rules from one on that a piece meets, so that what is cut from it asks no others. */
    private Spans meeting(Box piece, int from) {
      int[] ends = ends();
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
    return all.caught;
  }

  /** What fell through, as disjoint parts with the outcomes they came with. */
  List<Candidate> left() {
    return all.left;
  }

  double leftWeight() {
    return all.leftWeight;
  }
}
