package ironsieve.review;

import ironsieve.region.Box;
import ironsieve.review.CoverSearch.Answer;
import ironsieve.review.CoverSearch.Candidate;
import ironsieve.review.CoverSearch.Question;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.IntPredicate;
import java.util.function.Supplier;

/**
 * How much of what a rule claims is left to it, who takes the rest, and a point of each; exact
 * where the budget allows, estimated from samples where not. Worked out once, by one thread.
 */
final class RuleMeasure {

  /** So many points are tried before a proof is begun. */
  private static final int FEW_POINTS = 32;

  /** Sums of the same shares in another order miss each other by less. */
  private final Claims claims;

  private final Budget budget;
  private final int rule;
  private final List<Box> claim;
  private final List<Candidate> above = new ArrayList<>();
  private final Map<Integer, Taken> takers = new TreeMap<>();
  private Share left;
  private boolean sure = true;
  private Optional<int[]> leftPoint = Optional.empty();
  private Optional<List<Candidate>> leftParts = Optional.empty();
  private final List<int[]> sampled = new ArrayList<>();
  private boolean isUnsureWhatReaches;
  private KnownBranches branches = KnownBranches.NONE;

  /**
   * What a rule above takes: how much, how much of that it decides otherwise, and a point of it,
   * one that is decided otherwise if there is any.
   *
   * @param isPartlyAlike whether it decides some of that as the claim does, or may do so
   */
  record Taken(Share share, Share otherwise, int[] point, boolean differs, boolean isPartlyAlike) {}

  RuleMeasure(Claims claims, Budget budget, int rule) {
    this.claims = claims;
    this.budget = budget;
    this.rule = rule;
    this.claim = claims.of(rule);
  }

  /**
   * Works out, or estimates, the residue.
   *
   * @param earlier what became of the rule's branches in another revision
   */
  RuleMeasure measure(KnownBranches earlier) {
    if (claim.isEmpty()) {
      left = Share.exact(0);
      return this;
    }
    above.addAll(claims.above(claim, rule));
    sure = descend(earlier) || sample();
    return this;
  }

  /**
   * In place of {@link #measure(KnownBranches)}, for whoever wants to know no more than whether it
   * is reached.
   */
  RuleMeasure seek() {
    above.addAll(claims.above(claim, rule));
    Answer answer = search(claim, above);
    if (answer instanceof Answer.Uncovered found) {
      leftPoint = found.piece().point();
    } else if (answer instanceof Answer.OutOfBudget) {
      sure = descend(KnownBranches.NONE) || sample();
    }
    return this;
  }

  String id() {
    return claims.id(rule);
  }

  /** The number of the rule among those that take part. */
  int rule() {
    return rule;
  }

  Reached reached() {
    return leftPoint.isPresent() ? Reached.YES : sure ? Reached.NO : Reached.UNKNOWN;
  }

  /** What the rule claims, as disjoint boxes. */
  List<Box> claim() {
    return claim;
  }

  /** What rules above claim of it, from the top. */
  List<Candidate> above() {
    return above;
  }

  /** Who takes from it, by the number of the rule. */
  Map<Integer, Taken> takers() {
    return takers;
  }

  /** The takers that give some of the claim another verdict, from the top. */
  List<Integer> takersOtherwise() {
    return takers.keySet().stream().filter(taker -> takers.get(taker).differs()).toList();
  }

  /** How much of the claim gets another verdict from some takers; exactly 1 if all of it does. */
  Share otherwise(Collection<Integer> from) {
    if (from.size() == takers.size() && isWhollyOtherwise()) {
      return Share.WHOLE;
    }
    double sum = from.stream().mapToDouble(taker -> takers.get(taker).otherwise().value()).sum();
    return new Share(sum, left.certainty());
  }

  /** Whether nothing reaches the rule and each taker gives all that it takes another verdict. */
  boolean isWhollyOtherwise() {
    return reached() == Reached.NO && takers.values().stream().noneMatch(Taken::isPartlyAlike);
  }

  /** What became of its branches, where it is a broad rule. */
  KnownBranches branches() {
    return branches;
  }

  /** How much is left to it. */
  Share left() {
    return left;
  }

  /** A point that reaches it, if one is known. */
  Optional<int[]> leftPoint() {
    return leftPoint;
  }

  /** What reaches it as disjoint parts, where that was worked out and not estimated. */
  Optional<List<Candidate>> leftParts() {
    return leftParts;
  }

  /** Whether it is known whether anything reaches it. */
  boolean isSure() {
    return sure;
  }

  /** Some points that reach it; as many as are of use to try before a proof is begun. */
  List<int[]> reachedPoints() {
    List<int[]> points = new ArrayList<>(sampled);
    leftPoint.ifPresent(points::add);
    for (Candidate part : leftParts.orElse(List.of())) {
      if (points.size() == FEW_POINTS) {
        break;
      }
      points.add(part.box().point().orElseThrow());
    }
    return points;
  }

  /**
   * What reaches the rule, as disjoint parts; where only estimated, a single point that is known to
   * reach it, if there is one.
   */
  List<Candidate> reaching() {
    return leftParts.orElseGet(
        () ->
            leftPoint
                .map(point -> List.of(new Candidate(rule, Box.at(point), claims.own(point, rule))))
                .orElse(List.of()));
  }

  /** Whether {@link #reaching()} is all that reaches the rule. */
  boolean isExact() {
    return leftParts.isPresent() || claim.isEmpty();
  }

  /** Whether {@link #reachingIn} ran out of its budget and found nothing. */
  boolean isUnsureWhatReaches() {
    return isUnsureWhatReaches;
  }

  /** A part of what reaches the rule that lies in a box, if there is one; empty if unsure. */
  Optional<Candidate> reachingIn(Box box) {
    if (leftParts.isPresent()) {
      return leftParts.get().stream()
          .filter(part -> part.outcome().verdict().passes() && part.box().intersects(box))
          .map(part -> new Candidate(rule, part.box().intersect(box), part.outcome()))
          .findFirst();
    }
    for (Candidate part : claims.parts(rule)) {
      if (part.outcome().verdict().passes() && part.box().intersects(box)) {
        Box wanted = part.box().intersect(box);
        Answer answer = search(List.of(wanted), claims.above(wanted, rule));
        if (answer instanceof Answer.Uncovered found) {
          return Optional.of(new Candidate(rule, found.piece(), part.outcome()));
        }
        isUnsureWhatReaches |= answer instanceof Answer.OutOfBudget;
      }
    }
    return Optional.empty();
  }

  /** The rules above that meet it, from the top. */
  List<Integer> meeting() {
    return above.stream().map(Candidate::owner).distinct().toList();
  }

  Residue residue() {
    List<Residue.Taker> list =
        new ArrayList<>(Parallel.stream(takers.entrySet()).map(this::taker).toList());
    list.sort(Comparator.comparing(Residue.Taker::share, Share.LARGEST_FIRST));
    return new Residue(claims.id(rule), left, list, leftPoint.map(claims::witness));
  }

  private Residue.Taker taker(Map.Entry<Integer, Taken> entry) {
    Taken taken = entry.getValue();
    return new Residue.Taker(
        claims.id(entry.getKey()),
        claims.verdict(entry.getKey()),
        taken.share(),
        taken.differs() ? Optional.of(taken.otherwise()) : Optional.empty(),
        claims.witness(taken.point(), entry.getKey()));
  }

  /** Works out shares exactly; false if that is more work than the budget. */
  private boolean descend(KnownBranches earlier) {
    ShareMeasure descent = new ShareMeasure(claims.space().weights(), budget, earlier);
    double[] scales = claims.scales(claim);
    for (int b = 0; b < claim.size(); b++) {
      Candidate part = claims.parts(rule).get(b);
      List<Candidate> met = claim.size() == 1 ? above : claims.above(part.box(), rule);
      if (!descent.admit(part, scales[b], met)) {
        return false;
      }
    }
    Caught caught = descent.caught();
    branches = descent.branches();
    boolean byOne = caught.left().isEmpty() && caught.parts().size() == 1;
    Parallel.stream(caught.parts().entrySet())
        .map(entry -> Map.entry(entry.getKey(), takenBy(entry.getValue(), byOne)))
        .toList()
        .forEach(taken -> takers.put(taken.getKey(), taken.getValue()));
    left = takers.isEmpty() ? Share.WHOLE : Share.exact(caught.leftWeight());
    leftParts = Optional.of(caught.left());
    leftPoint = caught.left().stream().findFirst().map(Candidate::box).map(claims.space()::example);
    return true;
  }

  private Taken takenBy(Caught.Part part, boolean all) {
    return new Taken(
        all ? Share.WHOLE : Share.exact(part.weight()),
        all && !part.isPartlyAlike() ? Share.WHOLE : Share.exact(part.weightOtherwise()),
        claims.space().example(part.otherwise().orElse(part.first())),
        part.otherwise().isPresent(),
        part.isPartlyAlike());
  }

  /** Estimates shares, and searches for a witness; false if there may or may not be one. */
  private boolean sample() {
    Map<Integer, int[]> points = new TreeMap<>();
    Map<Integer, Integer> counts = new TreeMap<>();
    Map<Integer, Integer> otherwise = new TreeMap<>();
    Sampler sampler = new Sampler(claim, claims.scales(claim), claims.space().weights(), seed());
    int reached = 0;
    for (int i = 0; i < budget.samples(); i++) {
      int[] point = sampler.next();
      int match = claims.firstMatch(point);
      if (match == rule) {
        reached++;
        leftPoint = leftPoint.or(() -> Optional.of(point));
        if (sampled.size() < FEW_POINTS) {
          sampled.add(point);
        }
      } else {
        boolean differs = !claims.outcome(point).equals(claims.own(point, rule));
        counts.merge(match, 1, Integer::sum);
        if (differs && otherwise.merge(match, 1, Integer::sum) == 1) {
          points.put(match, point);
        }
        points.putIfAbsent(match, point);
      }
    }
    counts.forEach(
        (taker, count) ->
            takers.put(
                taker,
                new Taken(
                    estimated(count),
                    estimated(otherwise.getOrDefault(taker, 0)),
                    points.get(taker),
                    otherwise.containsKey(taker),
                    true)));
    left = estimated(reached);
    if (leftPoint.isPresent()) {
      return true;
    }
    Answer answer = search(claim, above);
    if (answer instanceof Answer.Uncovered found) {
      leftPoint = Optional.of(claims.space().example(found.piece()));
    } else if (answer instanceof Answer.Covered) {
      left = Share.exact(0);
    }
    return !(answer instanceof Answer.OutOfBudget);
  }

  /** By id, so that a rule that moves is estimated from the same points. */
  private long seed() {
    return claims.id(rule).hashCode();
  }

  Share estimated(int count) {
    return Share.estimated((double) count / budget.samples());
  }

  Answer search(List<Box> boxes, List<Candidate> candidates) {
    return search(List.of(new Question(boxes, candidates)));
  }

  Answer search(List<Question> questions) {
    return claims.search(questions, budget.searchSteps());
  }

  /**
   * Makes sure that the takers that are known cover the claim. Where they were only sampled, what
   * they leave is caught by another one, which is a taker too.
   *
   * @param coveredByTakers whether they cover it, asked again for each that was found
   * @return false if that takes more than the budget
   */
  boolean findTakers(Supplier<List<Question>> coveredByTakers) {
    while (true) {
      Answer answer = search(coveredByTakers.get());
      if (!(answer instanceof Answer.Uncovered found)) {
        return answer instanceof Answer.Covered;
      }
      int[] point = claims.space().example(found.piece());
      int taker = claims.firstMatch(point);
      boolean differs = !claims.outcome(point).equals(claims.own(point, rule));
      takers.put(taker, new Taken(estimated(0), estimated(0), point, differs, true));
    }
  }

  /**
   * Samples can miss a small taker that gives another verdict; this finds one if there is one.
   *
   * @return false if it found none and took too much work to be certain that there is none
   */
  boolean findTakerOtherwise() {
    List<Integer> others = above.stream().map(Candidate::owner).distinct().toList();
    boolean unsure = false;
    for (int other : others) {
      for (Box disputed : claims.disputed(rule, other)) {
        Answer answer = search(List.of(disputed), claims.above(disputed, other));
        if (answer instanceof Answer.Uncovered found) {
          missed(other, claims.space().example(found.piece()));
          return true;
        }
        unsure |= answer instanceof Answer.OutOfBudget;
      }
    }
    return !unsure;
  }

  /** Notes a taker that decides otherwise and that no sample fell into. */
  void missed(int other, int[] point) {
    Share share = takers.containsKey(other) ? takers.get(other).share() : estimated(0);
    takers.put(other, new Taken(share, estimated(0), point, true, true));
  }

  Question coveredBy(IntPredicate among) {
    return new Question(claim, above.stream().filter(c -> among.test(c.owner())).toList());
  }
}
