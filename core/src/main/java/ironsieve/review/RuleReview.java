package ironsieve.review;

import ironsieve.model.FieldName;
import ironsieve.model.Outcome;
import ironsieve.region.Box;
import ironsieve.review.CoverSearch.Answer;
import ironsieve.review.CoverSearch.Candidate;
import ironsieve.review.CoverSearch.Question;
import ironsieve.review.Finding.Evidence;
import ironsieve.review.Finding.Kind;
import ironsieve.review.Finding.Severity;
import ironsieve.review.MinimalCover.Cover;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.IntFunction;
import java.util.function.IntPredicate;

/**
 * The findings about one rule, once the {@link RuleMeasure} of every rule is known. Made once, by
 * one thread.
 */
final class RuleReview {

  /** The broadest rules have thousands of exceptions; the largest few are evidence enough. */
  private static final int MOST_EVIDENCE = 24;

  private final RuleMeasure measure;
  private final Claims claims;
  private final Words words;
  private final Budget budget;
  private final int rule;
  private final List<Box> claim;
  private final List<Finding> findings = new ArrayList<>();

  /** Rules above of which it is not known whether this one holds them whole. */
  private final Set<Integer> perhapsInside = new TreeSet<>();

  RuleReview(RuleMeasure measure, Claims claims, Words words, Budget budget) {
    this.measure = measure;
    this.claims = claims;
    this.words = words;
    this.budget = budget;
    this.rule = measure.rule();
    this.claim = measure.claim();
  }

  /** What was worked out of the rule before. */
  RuleMeasure measure() {
    return measure;
  }

  /**
   * Finds what there is to say of it.
   *
   * @param reached for every rule, what its first step found
   */
  void judge(IntFunction<Reached> reached) {
    if (claim.isEmpty()) {
      // A rule that would claim something if it could see it is blind, not empty.
      if (claims.unseen(rule).isEmpty()) {
        sayEmpty();
      }
    } else if (!measure.isSure()) {
      say(Kind.UNDETERMINED, Severity.NOTE, Sentences.undetermined("whether it ever matches"));
    } else if (measure.leftPoint().isEmpty()) {
      sayCovered();
    } else {
      sayPartlyTaken(reached);
      if (!perhapsInside.isEmpty()) {
        say(
            Kind.UNDETERMINED,
            Severity.NOTE,
            Sentences.undetermined(
                "whether ",
                ids(perhapsInside),
                perhapsInside.size() == 1 ? " lies wholly inside it" : " lie wholly inside it"));
      }
      sayRedundantBelow();
    }
  }

  List<Finding> findings() {
    findings.sort(Comparator.comparing(Finding::severity));
    return findings;
  }

  /** Whether each part of the claim is covered by what decides it the same way. */
  private List<Question> coveredAlike(IntPredicate among) {
    Map<Outcome, List<Box>> own = new LinkedHashMap<>();
    for (Candidate part : claims.parts(rule)) {
      own.computeIfAbsent(part.outcome(), o -> new ArrayList<>()).add(part.box());
    }
    return own.entrySet().stream()
        .map(
            entry ->
                new Question(
                    entry.getValue(),
                    measure.above().stream()
                        .filter(c -> among.test(c.owner()) && c.outcome().equals(entry.getKey()))
                        .toList()))
        .toList();
  }

  private void sayEmpty() {
    List<FieldName> clash = Emptiness.clash(claims.rules().get(rule).rule(), claims.compiled());
    findings.add(
        new Finding(
            Kind.EMPTY,
            Severity.ERROR,
            claims.id(rule),
            Sentences.empty(words.clash(claims.rules().get(rule).rule(), clash)),
            List.of(),
            clash));
  }

  /**
   * Nothing reaches the rule: redundant if rules that decide the same suffice, shadowed otherwise,
   * and neither is said where that is not known. Named are only rules that catch some of it first.
   */
  private void sayCovered() {
    List<Question> alike = coveredAlike(other -> true);
    // A point that no rule deciding the same holds settles it without a search.
    if (!measure.takesOutside(alike)) {
      Answer byAlike = measure.search(alike);
      if (byAlike instanceof Answer.Covered covered) {
        sayRedundantAbove(covered.by());
        return;
      }
      if (byAlike instanceof Answer.OutOfBudget) {
        say(
            Kind.UNDETERMINED,
            Severity.WARNING,
            Sentences.shadowedOrRedundant(),
            List.copyOf(measure.takers().keySet()));
        return;
      }
    }
    if (measure.findTakers()) {
      List<Question> byTakers = List.of(measure.coveredBy(measure.takers()::containsKey));
      Cover cover = smallest(byTakers, measure.takers().keySet());
      say(
          Kind.SHADOWED,
          Severity.ERROR,
          Sentences.shadowedBy(ids(cover.rules()), cover.isSmallest()),
          cover.rules());
    } else {
      // The exact descent proved it covered with less work than the search needs to name a small
      // cover.
      say(
          Kind.SHADOWED,
          Severity.ERROR,
          Sentences.shadowed(),
          List.copyOf(measure.takers().keySet()));
    }
  }

  private void sayRedundantAbove(Set<Integer> known) {
    boolean all = measure.findTakers();
    List<Question> byTakers = coveredAlike(measure.takers()::containsKey);
    if (all && measure.search(byTakers) instanceof Answer.Covered covered) {
      Cover cover = smallest(byTakers, covered.by());
      say(
          Kind.REDUNDANT,
          Severity.WARNING,
          Sentences.redundantAbove(ids(cover.rules()), cover.isSmallest()),
          cover.rules());
      return;
    }
    // Those that would suffice stand below others that catch some of it first.
    Cover cover = smallest(coveredAlike(other -> true), known);
    say(
        Kind.REDUNDANT,
        Severity.WARNING,
        Sentences.redundantBehind(ids(cover.rules()), ids(measure.takers().keySet())),
        List.copyOf(measure.takers().keySet()));
  }

  private Cover smallest(List<Question> questions, Set<Integer> known) {
    return new MinimalCover(claims, questions, budget.searchSteps() / 10).smallest(known);
  }

  private void sayPartlyTaken(IntFunction<Reached> reached) {
    if (measure.leftParts().isEmpty()) {
      addUnsampledExceptions(reached);
    }
    Set<Integer> otherwise = new TreeSet<>();
    measure
        .takers()
        .forEach(
            (taker, taken) -> {
              if (taken.differs()) {
                otherwise.add(taker);
              }
            });
    if (measure.leftParts().isEmpty() && otherwise.isEmpty()) {
      searchTakerOtherwise().ifPresent(otherwise::add);
    }
    if (otherwise.isEmpty()) {
      return;
    }
    List<Integer> exceptions = lyingInside(otherwise);
    double sum =
        otherwise.stream().mapToDouble(t -> measure.takers().get(t).otherwise().value()).sum();
    Share share = new Share(sum, measure.left().certainty());
    boolean normal = exceptions.size() == otherwise.size();
    List<Integer> named = new ArrayList<>(otherwise);
    named.sort(Comparator.comparing(t -> measure.takers().get(t).otherwise(), Share.LARGEST_FIRST));
    say(
        Kind.PARTLY_SHADOWED,
        normal ? Severity.QUIET : Severity.WARNING,
        Sentences.partlyShadowed(share, ids(otherwise)),
        named);
    if (!exceptions.isEmpty()) {
      say(Kind.EXCEPTION, Severity.QUIET, Sentences.exceptions(ids(exceptions)), exceptions);
    }
  }

  /**
   * Samples can miss a small exception; but what lies wholly inside this rule takes whatever
   * reaches it.
   */
  private void addUnsampledExceptions(IntFunction<Reached> reached) {
    List<Integer> others =
        measure.above().stream()
            .map(Candidate::owner)
            .distinct()
            .filter(
                other ->
                    !measure.takers().containsKey(other) || !measure.takers().get(other).differs())
            .filter(other -> claims.isDisputed(rule, other))
            .toList();
    for (int other : lyingInside(others)) {
      if (reached.apply(other) == Reached.YES) {
        disputedPoint(other).ifPresent(point -> measure.missed(other, point));
      } else if (reached.apply(other) == Reached.UNKNOWN) {
        say(
            Kind.UNDETERMINED,
            Severity.NOTE,
            Sentences.undetermined(
                "whether ", List.of(claims.id(other)), " is an exception from it"));
      }
    }
  }

  /** A point that a rule above takes and decides otherwise. */
  private Optional<int[]> disputedPoint(int other) {
    for (Box box : claims.disputed(rule, other)) {
      if (measure.search(List.of(box), claims.above(box, other))
          instanceof Answer.Uncovered found) {
        return Optional.of(claims.space().example(found.piece()));
      }
    }
    return Optional.empty();
  }

  /** Samples can miss a small taker; this finds one for certain if there is one. */
  private Optional<Integer> searchTakerOtherwise() {
    List<Integer> others = measure.above().stream().map(Candidate::owner).distinct().toList();
    boolean unsure = false;
    for (int other : others) {
      for (Box disputed : claims.disputed(rule, other)) {
        Answer answer = measure.search(List.of(disputed), claims.above(disputed, other));
        if (answer instanceof Answer.Uncovered found) {
          measure.missed(other, claims.space().example(found.piece()));
          return Optional.of(other);
        }
        unsure |= answer instanceof Answer.OutOfBudget;
      }
    }
    if (unsure) {
      say(
          Kind.UNDETERMINED,
          Severity.NOTE,
          Sentences.undetermined("whether rules above give part of it another verdict"));
    }
    return Optional.empty();
  }

  /** Those of some rules whose claims lie wholly inside this one. */
  private List<Integer> lyingInside(Collection<Integer> others) {
    List<Integer> inside = new ArrayList<>();
    Parallel.stream(others)
        .map(other -> Map.entry(other, claims.holds(rule, other, budget.searchSteps())))
        .toList()
        .forEach(
            answer -> {
              if (answer.getValue().isEmpty()) {
                perhapsInside.add(answer.getKey());
              } else if (answer.getValue().get()) {
                inside.add(answer.getKey());
              }
            });
    return inside;
  }

  /** Whether what lies below would decide all that reaches the rule the same way. */
  private void sayRedundantBelow() {
    Set<Integer> deciders = new TreeSet<>();
    for (int[] point : measure.reachedPoints()) {
      int box = claims.boxBelow(point, rule);
      if (!claims.compiled().outcomeOfBox(box).equals(claims.own(point, rule))) {
        return;
      }
      deciders.add(box < 0 ? -1 : claims.compiled().ruleOfBox(box));
    }
    Optional<Set<Integer>> below = decidersBelow(deciders);
    if (below.isEmpty()) {
      return;
    }
    List<Integer> named = below.get().stream().filter(r -> r >= 0).toList();
    say(
        Kind.REDUNDANT,
        Severity.NOTE,
        Sentences.redundantBelow(ids(named), below.get().contains(-1)),
        named);
  }

  /**
   * The rules below (−1 for the default verdict) that would catch the residue, if all of them
   * decide the same. Asked of each of them on its own, for the residue of a broad rule has more
   * parts than there are rules.
   *
   * @param deciders those that are known
   */
  private Optional<Set<Integer>> decidersBelow(Set<Integer> deciders) {
    List<Candidate> allBelow = claims.below(claim, rule);
    Outcome defaultVerdict = Outcome.of(claims.verdict(-1));
    boolean unsure = false;
    for (Candidate part : measure.leftParts().orElseGet(() -> claims.parts(rule))) {
      List<Candidate> met = meeting(part, allBelow);
      if (measure.leftParts().isPresent() && met.isEmpty()) {
        // It falls through to the default verdict, and a broad rule has thousands of such parts.
        if (!defaultVerdict.equals(part.outcome())) {
          return Optional.empty();
        }
        deciders.add(-1);
        continue;
      }
      // Nothing above takes from what is measure.left().
      List<Candidate> before =
          new ArrayList<>(
              measure.leftParts().isPresent() ? List.of() : claims.above(part.box(), rule));
      List<Question> otherwise = new ArrayList<>();
      Map<Integer, List<Question>> alike = new TreeMap<>();
      for (Candidate next : met) {
        Question reaches = reaching(part.box().intersect(next.box()), before);
        if (!next.outcome().equals(part.outcome())) {
          otherwise.add(reaches);
        } else if (!deciders.contains(next.owner())) {
          alike.computeIfAbsent(next.owner(), owner -> new ArrayList<>()).add(reaches);
        }
        before.add(next);
      }
      Question falls = new Question(List.of(part.box()), before);
      if (!defaultVerdict.equals(part.outcome())) {
        otherwise.add(falls);
      } else if (!deciders.contains(-1)) {
        alike.put(-1, List.of(falls));
      }
      Answer differs = measure.search(otherwise);
      if (differs instanceof Answer.Uncovered) {
        return Optional.empty();
      }
      unsure |= differs instanceof Answer.OutOfBudget;
      for (int other : alike.keySet()) {
        Answer decides = unsure ? differs : measure.search(alike.get(other));
        unsure |= decides instanceof Answer.OutOfBudget;
        if (decides instanceof Answer.Uncovered) {
          deciders.add(other);
        }
      }
      if (unsure) {
        say(
            Kind.UNDETERMINED,
            Severity.NOTE,
            Sentences.undetermined("whether what lies below decides the same"));
        return Optional.empty();
      }
    }
    return Optional.of(deciders);
  }

  /** Without a stream, for it is asked thousands of times and most often finds none. */
  private static List<Candidate> meeting(Candidate part, List<Candidate> others) {
    List<Candidate> met = new ArrayList<>();
    for (Candidate other : others) {
      if (other.box().intersects(part.box())) {
        met.add(other);
      }
    }
    return met;
  }

  /** What of a box gets past some rules. */
  private static Question reaching(Box box, List<Candidate> past) {
    return new Question(
        List.of(box), past.stream().filter(candidate -> candidate.box().intersects(box)).toList());
  }

  private List<String> ids(Collection<Integer> rules) {
    return rules.stream().map(claims::id).toList();
  }

  private void say(Kind kind, Severity severity, Message said) {
    say(kind, severity, said, List.of());
  }

  private void say(Kind kind, Severity severity, Message said, List<Integer> rules) {
    List<Evidence> evidence = new ArrayList<>();
    for (int other : rules.subList(0, Math.min(rules.size(), MOST_EVIDENCE))) {
      evidence.add(new Evidence(claims.id(other), words.part(rule, other), witness(other)));
    }
    if (rules.isEmpty() && kind == Kind.REDUNDANT) {
      evidence.add(new Evidence("", "", claims.witness(measure.leftPoint().orElseThrow())));
    }
    findings.add(new Finding(kind, severity, claims.id(rule), said, evidence, List.of()));
  }

  /**
   * A connection of the claim that shows what another rule has to do with it: one that the other
   * catches if there is one, otherwise one that both claim, otherwise one that reaches this rule.
   */
  private Witness witness(int other) {
    RuleMeasure.Taken taken = measure.takers().get(other);
    if (taken != null) {
      return claims.witness(taken.point(), other);
    }
    List<Box> common = claims.common(rule, other);
    for (Box box : common) {
      if (other < rule
          && measure.search(List.of(box), claims.above(box, other))
              instanceof Answer.Uncovered found) {
        return claims.witness(found.piece());
      }
    }
    return common.isEmpty() || other > rule
        ? claims.witness(measure.leftPoint().orElseThrow())
        : claims.witness(common.get(0));
  }
}
