package ironsieve.review;

import ironsieve.model.FieldName;
import ironsieve.model.Verdict;
import ironsieve.region.Box;
import ironsieve.review.CoverSearch.Candidate;
import ironsieve.review.CoverSearch.Outcome;
import ironsieve.review.Finding.Evidence;
import ironsieve.review.Finding.Kind;
import ironsieve.review.Finding.Severity;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.IntFunction;
import java.util.stream.IntStream;

/**
 * The review of one rule, in two steps: first its residue and who takes from it, then, once that is
 * known of every rule, the findings. Each step is done once, by one thread.
 */
final class RuleReview {

  /** The broadest rules have thousands of exceptions; the largest few are evidence enough. */
  private static final int MOST_EVIDENCE = 24;

  private final Claims claims;
  private final Words words;
  private final Budget budget;
  private final int rule;
  private final List<Box> claim;
  private final List<Finding> findings = new ArrayList<>();
  private final List<Candidate> above = new ArrayList<>();
  private final Map<Integer, Taken> takers = new TreeMap<>();
  private Share left;
  private boolean sure = true;
  private Optional<int[]> leftPoint = Optional.empty();
  private Optional<List<Box>> leftBoxes = Optional.empty();

  /** What a rule above takes: how much, and a point of it. */
  private record Taken(Share share, int[] point) {}

  RuleReview(Claims claims, Words words, Budget budget, int rule) {
    this.claims = claims;
    this.words = words;
    this.budget = budget;
    this.rule = rule;
    this.claim = claims.of(rule);
  }

  /** Whether anything reaches a rule. */
  enum Reached {
    YES,
    NO,
    UNKNOWN
  }

  /** The first step: works out, or estimates, the residue. */
  RuleReview measure() {
    if (claim.isEmpty()) {
      left = Share.exact(0);
      return this;
    }
    Set<Candidate> distinct = new LinkedHashSet<>();
    claim.forEach(box -> distinct.addAll(claims.above(box, rule)));
    above.addAll(distinct);
    above.sort(Comparator.comparingInt(Candidate::owner));
    sure = descend() || sample();
    return this;
  }

  Reached reached() {
    return leftPoint.isPresent() ? Reached.YES : sure ? Reached.NO : Reached.UNKNOWN;
  }

  /**
   * The second step.
   *
   * @param reached for every rule, what its first step found
   */
  void judge(IntFunction<Reached> reached) {
    if (claim.isEmpty()) {
      sayEmpty();
    } else if (!sure) {
      say(Kind.UNDETERMINED, Severity.NOTE, undetermined("whether anything still reaches it"));
    } else if (leftPoint.isEmpty()) {
      sayCovered();
    } else {
      sayPartlyTaken(reached);
      sayRedundantBelow();
    }
  }

  List<Finding> findings() {
    findings.sort(Comparator.comparing(Finding::severity));
    return findings;
  }

  Residue residue() {
    List<Residue.Taker> list = new ArrayList<>();
    takers.forEach(
        (taker, taken) ->
            list.add(
                new Residue.Taker(
                    claims.id(taker),
                    claims.verdict(taker),
                    taken.share(),
                    claims.witness(taken.point()))));
    list.sort(Comparator.comparing((Residue.Taker t) -> t.share().value()).reversed());
    return new Residue(claims.id(rule), left, list, leftPoint.map(claims::witness));
  }

  /** Works out shares exactly; false if that is more work than the budget. */
  private boolean descend() {
    Descent descent = new Descent(claims.space().weights(), budget.descentSteps());
    double[] scales = claims.scales(claim);
    for (int b = 0; b < claim.size(); b++) {
      if (!descent.admit(claim.get(b), scales[b], claims.above(claim.get(b), rule))) {
        return false;
      }
    }
    boolean byOne = descent.left().isEmpty() && descent.caught().size() == 1;
    descent
        .caught()
        .forEach(
            (taker, part) ->
                takers.put(
                    taker,
                    new Taken(
                        byOne ? Share.WHOLE : Share.exact(part.weight()),
                        claims.space().example(part.first()))));
    left = takers.isEmpty() ? Share.WHOLE : Share.exact(descent.leftWeight());
    leftBoxes = Optional.of(descent.left());
    leftPoint = descent.left().stream().findFirst().map(claims.space()::example);
    return true;
  }

  /** Estimates shares, and searches for a witness; false if there may or may not be one. */
  private boolean sample() {
    Map<Integer, int[]> points = new TreeMap<>();
    Map<Integer, Integer> counts = new TreeMap<>();
    Sampler sampler = new Sampler(claim, claims.scales(claim), claims.space().weights(), rule + 1L);
    int reached = 0;
    for (int i = 0; i < budget.samples(); i++) {
      int[] point = sampler.next();
      int match = claims.firstMatch(point);
      if (match == rule) {
        reached++;
        leftPoint = leftPoint.or(() -> Optional.of(point));
      } else {
        counts.merge(match, 1, Integer::sum);
        points.putIfAbsent(match, point);
      }
    }
    counts.forEach(
        (taker, count) ->
            takers.put(
                taker,
                new Taken(Share.estimated((double) count / budget.samples()), points.get(taker))));
    left = Share.estimated((double) reached / budget.samples());
    if (leftPoint.isPresent()) {
      return true;
    }
    Outcome outcome = search(claim, above);
    if (outcome instanceof Outcome.Uncovered found) {
      leftPoint = Optional.of(claims.space().example(found.piece()));
    } else if (outcome instanceof Outcome.Covered) {
      left = Share.exact(0);
    }
    return !(outcome instanceof Outcome.OutOfBudget);
  }

  private Outcome search(List<Box> boxes, List<Candidate> candidates) {
    return CoverSearch.run(boxes, candidates, claims.space().weights(), budget.searchSteps());
  }

  private boolean decidesOtherwise(int other) {
    return claims.verdict(other) != claims.verdict(rule);
  }

  private void sayEmpty() {
    List<FieldName> clash = Emptiness.clash(claims.rules().get(rule).rule(), claims.compiled());
    findings.add(
        new Finding(
            Kind.EMPTY,
            Severity.ERROR,
            claims.id(rule),
            "This rule " + words.clash(claims.rules().get(rule).rule(), clash) + ".",
            List.of(),
            clash));
  }

  /**
   * Nothing reaches the rule: redundant if rules that decide the same suffice, shadowed otherwise.
   */
  private void sayCovered() {
    List<Candidate> alike =
        above.stream().filter(candidate -> !decidesOtherwise(candidate.owner())).toList();
    Outcome byAlike = search(claim, alike);
    if (byAlike instanceof Outcome.Covered covered) {
      List<Integer> cover = smallest(alike, covered.by());
      say(
          Kind.REDUNDANT,
          Severity.WARNING,
          "Everything this rule is about is already decided the same way by "
              + words.rules(cover)
              + ".",
          cover);
      return;
    }
    if (byAlike instanceof Outcome.OutOfBudget) {
      say(
          Kind.UNDETERMINED,
          Severity.NOTE,
          undetermined("whether the rules above it that decide the same would do alone"));
    }
    if (search(claim, above) instanceof Outcome.Covered covered) {
      List<Integer> cover = smallest(above, covered.by());
      String together = cover.size() > 1 ? " together take" : " takes";
      say(
          Kind.SHADOWED,
          Severity.ERROR,
          "Nothing reaches this rule: " + words.rules(cover) + together + " all it is about.",
          cover);
    } else {
      // The exact descent proved it covered with less work than the search needs to name a small
      // cover.
      say(
          Kind.SHADOWED,
          Severity.ERROR,
          "Nothing reaches this rule: the rules above take all it is about.",
          List.copyOf(takers.keySet()));
    }
  }

  private List<Integer> smallest(List<Candidate> candidates, Set<Integer> known) {
    return new Covers(claims, claim, candidates, budget.searchSteps() / 10).smallest(known);
  }

  private void sayPartlyTaken(IntFunction<Reached> reached) {
    if (leftBoxes.isEmpty()) {
      addUnsampledExceptions(reached);
    }
    Set<Integer> otherwise = new TreeSet<>();
    takers.keySet().stream().filter(this::decidesOtherwise).forEach(otherwise::add);
    if (leftBoxes.isEmpty() && otherwise.isEmpty()) {
      searchTakerOtherwise().ifPresent(otherwise::add);
    }
    if (otherwise.isEmpty()) {
      return;
    }
    Set<Integer> exceptions = new TreeSet<>();
    otherwise.stream().filter(this::liesInside).forEach(exceptions::add);
    double sum = otherwise.stream().mapToDouble(t -> takers.get(t).share().value()).sum();
    Share share = new Share(sum, left.certainty());
    boolean normal = exceptions.size() == otherwise.size();
    List<Integer> named = new ArrayList<>(otherwise);
    named.sort(Comparator.comparing((Integer t) -> takers.get(t).share().value()).reversed());
    say(
        Kind.PARTLY_SHADOWED,
        normal ? Severity.QUIET : Severity.WARNING,
        Words.percent(share)
            + " of what this rule is about is decided otherwise above, by "
            + words.rules(otherwise.stream().toList())
            + ".",
        named);
    if (!exceptions.isEmpty()) {
      say(
          Kind.EXCEPTION,
          Severity.QUIET,
          "Above it, "
              + words.rules(List.copyOf(exceptions))
              + (exceptions.size() == 1 ? " is an exception" : " are exceptions")
              + " from this rule.",
          List.copyOf(exceptions));
    }
  }

  /**
   * Samples can miss a small exception; but what lies wholly inside this rule takes whatever
   * reaches it.
   */
  private void addUnsampledExceptions(IntFunction<Reached> reached) {
    List<Integer> others =
        above.stream()
            .map(Candidate::owner)
            .distinct()
            .filter(other -> !takers.containsKey(other) && decidesOtherwise(other))
            .filter(this::liesInside)
            .toList();
    for (int other : others) {
      if (reached.apply(other) == Reached.YES) {
        exceptionPoint(other).ifPresent(p -> takers.put(other, new Taken(Share.estimated(0), p)));
      } else if (reached.apply(other) == Reached.UNKNOWN) {
        say(
            Kind.UNDETERMINED,
            Severity.NOTE,
            undetermined("whether " + words.rule(other) + " is an exception from it"));
      }
    }
  }

  /** A point of an exception that reaches it; its own review found one, so the search is short. */
  private Optional<int[]> exceptionPoint(int other) {
    for (Box box : claims.of(other)) {
      if (search(List.of(box), claims.above(box, other)) instanceof Outcome.Uncovered found) {
        return Optional.of(claims.space().example(found.piece()));
      }
    }
    return Optional.empty();
  }

  /** Samples can miss a small taker; this finds one for certain if there is one. */
  private Optional<Integer> searchTakerOtherwise() {
    List<Integer> others =
        above.stream().map(Candidate::owner).filter(this::decidesOtherwise).distinct().toList();
    boolean unsure = false;
    for (int other : others) {
      for (Box common : claims.common(rule, other)) {
        Outcome outcome = search(List.of(common), claims.above(common, other));
        if (outcome instanceof Outcome.Uncovered found) {
          takers.put(other, new Taken(Share.estimated(0), claims.space().example(found.piece())));
          return Optional.of(other);
        }
        unsure |= outcome instanceof Outcome.OutOfBudget;
      }
    }
    if (unsure) {
      say(
          Kind.UNDETERMINED,
          Severity.NOTE,
          undetermined("whether rules above decide part of it otherwise"));
    }
    return Optional.empty();
  }

  private boolean liesInside(int other) {
    return search(claims.of(other), claims.candidates(IntStream.of(rule)))
        instanceof Outcome.Covered;
  }

  /** Whether what lies below would decide all that reaches the rule the same way. */
  private void sayRedundantBelow() {
    if (changesWithout(leftPoint.orElseThrow())) {
      return;
    }
    Sampler sampler = new Sampler(claim, claims.scales(claim), claims.space().weights(), rule + 1L);
    for (int i = 0; i < Math.min(32, budget.samples()); i++) {
      int[] point = sampler.next();
      if (claims.firstMatch(point) == rule && changesWithout(point)) {
        return;
      }
    }
    Optional<Set<Integer>> below = decidersBelow();
    if (below.isEmpty()) {
      return;
    }
    List<Integer> named = below.get().stream().filter(r -> r >= 0).toList();
    String what =
        named.isEmpty()
            ? "the last line"
            : words.rules(named) + (below.get().contains(-1) ? " and the last line" : "");
    say(
        Kind.REDUNDANT,
        Severity.NOTE,
        "Taking this rule out would change no verdict: below it, "
            + what
            + " would decide the same.",
        named);
  }

  private boolean changesWithout(int[] point) {
    return claims.verdict(claims.firstMatchBelow(point, rule)) != claims.verdict(rule);
  }

  /**
   * The rules below (−1 for the last line) that would catch the residue, if all of them decide the
   * same.
   */
  private Optional<Set<Integer>> decidersBelow() {
    Set<Integer> deciders = new TreeSet<>();
    Optional<List<Box>> residue = leftBoxes;
    if (residue.isEmpty()) {
      say(
          Kind.UNDETERMINED,
          Severity.NOTE,
          undetermined("whether what lies below decides the same"));
      return Optional.empty();
    }
    Descent descent = new Descent(claims.space().weights(), budget.searchSteps());
    for (Box box : residue.get()) {
      if (!descent.admit(box, 1, claims.below(box, rule))) {
        say(
            Kind.UNDETERMINED,
            Severity.NOTE,
            undetermined("whether what lies below decides the same"));
        return Optional.empty();
      }
    }
    deciders.addAll(descent.caught().keySet());
    if (!descent.left().isEmpty()) {
      deciders.add(-1);
    }
    Verdict own = claims.verdict(rule);
    return deciders.stream().allMatch(r -> claims.verdict(r) == own)
        ? Optional.of(deciders)
        : Optional.empty();
  }

  private String undetermined(String what) {
    return "Undetermined: " + what + " took more work than the review's budget.";
  }

  private void say(Kind kind, Severity severity, String sentence) {
    say(kind, severity, sentence, List.of());
  }

  private void say(Kind kind, Severity severity, String sentence, List<Integer> rules) {
    List<Evidence> evidence = new ArrayList<>();
    for (int other : rules.subList(0, Math.min(rules.size(), MOST_EVIDENCE))) {
      evidence.add(new Evidence(claims.id(other), words.part(rule, other), witness(other)));
    }
    if (rules.isEmpty() && kind == Kind.REDUNDANT) {
      evidence.add(new Evidence("", "", claims.witness(leftPoint.orElseThrow())));
    }
    findings.add(new Finding(kind, severity, claims.id(rule), sentence, evidence, List.of()));
  }

  /**
   * A connection of the claim that shows what another rule has to do with it: one that the other
   * catches if there is one, otherwise one that both claim, otherwise one that reaches this rule.
   */
  private Witness witness(int other) {
    Taken taken = takers.get(other);
    if (taken != null) {
      return claims.witness(taken.point());
    }
    List<Box> common = claims.common(rule, other);
    for (Box box : common) {
      if (other < rule
          && search(List.of(box), claims.above(box, other)) instanceof Outcome.Uncovered found) {
        return claims.witness(found.piece());
      }
    }
    return common.isEmpty() || other > rule
        ? claims.witness(leftPoint.orElseThrow())
        : claims.witness(common.get(0));
  }
}
