package ironsieve.review;

import ironsieve.compile.Dimension;
import ironsieve.region.Box;
import ironsieve.region.Weights;
import ironsieve.review.CoverSearch.Candidate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * Drops a whole box through rules in order, as a probe drops a point: each rule catches its part of
 * what is left. The parts are disjoint, so their weights add up exactly. The number of pieces can
 * grow with every rule met, hence the budget.
 */
final class ShareMeasure {

  private final Weights[] weights;
  private final Budget budget;
  private final AtomicInteger stepsLeft;
  private final KnownBranches.Opened earlier;
  private final List<KnownBranches.Known> branches = new ArrayList<>();
  private final Caught all = new Caught();

  /**
   * A descent within a budget.
   *
   * @param earlier what became of the branches of an earlier one, over the same space
   */
  ShareMeasure(Weights[] weights, Budget budget, KnownBranches earlier) {
    this.weights = weights;
    this.budget = budget;
    this.stepsLeft = new AtomicInteger(budget.descentSteps());
    this.earlier = earlier.opened();
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
    if (rules.size() < budget.sharedFrom()) {
      return new Fall(part, scale, all, Optional.empty()).fall(part.box(), spans);
    }
    List<Branch> noted = new ArrayList<>();
    if (!new Fall(part, scale, all, Optional.of(noted)).fall(part.box(), spans)) {
      return false;
    }
    List<Optional<KnownBranches.Known>> fallen =
        noted.parallelStream().map(branch -> fallen(branch, part, scale)).toList();
    for (Optional<KnownBranches.Known> known : fallen) {
      if (known.isEmpty()) {
        return false;
      }
      all.add(known.get().caught());
      if (rules.size() >= budget.rememberedFrom()) {
        branches.add(known.get());
      }
    }
    return true;
  }

  /** What becomes of a branch by itself; nothing if that takes more than the budget. */
  private Optional<KnownBranches.Known> fallen(Branch branch, Candidate dropped, double scale) {
    Spans met = branch.met();
    KnownBranches.Question question =
        new KnownBranches.Question(branch.pieces, met.rules, dropped, scale);
    Optional<Caught> known = earlier.caught(question);
    if (known.isPresent()) {
      // It counts as if it had been worked out, so that what is said does not depend on it.
      return stepsLeft.addAndGet(-known.get().steps()) < 0
          ? Optional.empty()
          : known.map(question::answered);
    }
    Caught caught = new Caught();
    boolean isDone = branch.fall(new Fall(dropped, scale, caught, Optional.empty()), met);
    return isDone ? Optional.of(question.answered(caught)) : Optional.empty();
  }

  /**
   * Pieces that one rule cut off, all within a box.
   *
   * @param from the first rule that they can meet
   */
  private record Branch(Box within, List<Box> pieces, Spans spans, int from) {

    /** The rules that they can meet. */
    private Spans met() {
      return spans.meeting(within, from);
    }

    private boolean fall(Fall fall, Spans met) {
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
    private final Caught caught;
    private final Optional<List<Branch>> noted;

    private Fall(Candidate dropped, double scale, Caught caught, Optional<List<Branch>> noted) {
      this.dropped = dropped;
      this.scale = scale;
      this.caught = caught;
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
          } else if (!branch.fall(this, branch.met())) {
            return false;
          }
        }
        rest = outside.get(0);
      }
      caught.noteLeft(
          new Candidate(dropped.owner(), rest, dropped.outcome()), rest.weight(weights) * scale);
      return true;
    }

    private void catches(Candidate rule, Box inside) {
      caught.note(
          rule.owner(),
          inside,
          inside.weight(weights) * scale,
          !rule.outcome().equals(dropped.outcome()));
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

  /** What each rule caught, and what fell through. */
  Caught caught() {
    return all;
  }

  /** What became of the branches, for a later descent of the same rule. */
  KnownBranches branches() {
    return branches.isEmpty() ? KnownBranches.NONE : new KnownBranches(List.copyOf(branches));
  }
}
