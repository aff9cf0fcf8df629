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
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.IntFunction;
import java.util.function.Supplier;

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
   * Nothing reaches the rule: redundant if each of its connections gets its verdict from the rule
   * that catches it, shadowed if any gets another, and neither where that is not known.
   */
  private void sayCovered() {
    if (takersOtherwise().isEmpty() && !measure.isExact() && !measure.findTakerOtherwise()) {
      say(
          Kind.UNDETERMINED,
          Severity.WARNING,
          Sentences.shadowedOrRedundant(),
          List.copyOf(measure.takers().keySet()));
    } else if (takersOtherwise().isEmpty()) {
      sayRedundantAbove();
    } else {
      sayShadowed();
    }
  }

  private void sayRedundantAbove() {
    Optional<Cover> cover = smallestCover(this::coveredAlike);
    List<Integer> named = cover.map(Cover::rules).orElse(List.copyOf(measure.takers().keySet()));
    boolean isFewest = cover.map(Cover::isSmallest).orElse(false);
    say(Kind.REDUNDANT, Severity.WARNING, Sentences.redundantAbove(ids(named), isFewest), named);
  }

  private void sayShadowed() {
    Optional<Cover> cover =
        smallestCover(() -> List.of(measure.coveredBy(measure.takers()::containsKey)));
    // Where no cover could be named, the exact descent proved it covered all the same.
    Message never =
        cover
            .map(known -> Sentences.shadowedBy(ids(known.rules()), known.isSmallest()))
            .orElseGet(Sentences::shadowed);
    List<Integer> otherwise = takersOtherwise();
    Set<Integer> named = new LinkedHashSet<>(otherwise);
    named.addAll(cover.map(Cover::rules).orElse(List.copyOf(measure.takers().keySet())));
    say(
        Kind.SHADOWED,
        Severity.ERROR,
        measure.isWhollyOtherwise()
            ? never
            : Sentences.partOtherwise(
                never, measure.otherwise(otherwise), ids(new TreeSet<>(otherwise))),
        List.copyOf(named));
  }

  /** For each outcome of the rule, the takers that decide the same. */
  private List<Question> coveredAlike() {
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
                        .filter(c -> measure.takers().containsKey(c.owner()))
                        .filter(c -> c.outcome().equals(entry.getKey()))
                        .toList()))
        .toList();
  }

  /**
   * The fewest takers that cover the claim; nothing if it takes more than the budget to make sure
   * that those which are known do.
   */
  private Optional<Cover> smallestCover(Supplier<List<Question>> byTakers) {
    return measure.findTakers(byTakers)
        ? Optional.of(
            new MinimalCover(claims, byTakers.get(), budget.searchSteps() / 10)
                .smallest(measure.takers().keySet()))
        : Optional.empty();
  }

  /** The takers that give some of the claim another verdict, the largest part first. */
  private List<Integer> takersOtherwise() {
    return measure.takersOtherwise().stream()
        .sorted(
            Comparator.comparing(
                taker -> measure.takers().get(taker).otherwise(), Share.LARGEST_FIRST))
        .toList();
  }

  private void sayPartlyTaken(IntFunction<Reached> reached) {
    if (measure.leftParts().isEmpty()) {
      addUnsampledExceptions(reached);
    }
    List<Integer> otherwise = takersOtherwise();
    if (otherwise.isEmpty() && !measure.isExact()) {
      if (!measure.findTakerOtherwise()) {
        say(
            Kind.UNDETERMINED,
            Severity.NOTE,
            Sentences.undetermined("whether rules above give part of it another verdict"));
      }
      otherwise = takersOtherwise();
    }
    if (otherwise.isEmpty()) {
      return;
    }
    List<Integer> exceptions = lyingInside(new TreeSet<>(otherwise));
    boolean normal = exceptions.size() == otherwise.size();
    say(
        Kind.PARTLY_SHADOWED,
        normal ? Severity.QUIET : Severity.WARNING,
        Sentences.partlyShadowed(measure.otherwise(otherwise), ids(new TreeSet<>(otherwise))),
        otherwise);
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
    Map<Integer, int[]> deciders = new TreeMap<>();
    for (int[] point : measure.reachedPoints()) {
      int box = claims.boxBelow(point, rule);
      if (!claims.compiled().outcomeOfBox(box).equals(claims.own(point, rule))) {
        return;
      }
      deciders.putIfAbsent(box < 0 ? -1 : claims.compiled().ruleOfBox(box), point);
    }
    if (!findDecidersBelow(deciders)) {
      return;
    }
    List<Integer> named = deciders.keySet().stream().filter(r -> r >= 0).toList();
    List<Integer> shown = named.isEmpty() ? List.of(-1) : named;
    findings.add(
        new Finding(
            Kind.REDUNDANT,
            Severity.NOTE,
            claims.id(rule),
            Sentences.redundantBelow(ids(named), deciders.containsKey(-1)),
            shown.stream()
                .limit(MOST_EVIDENCE)
                .map(decider -> decidedBelow(decider, deciders.get(decider)))
                .toList(),
            List.of()));
  }

  /** What a rule below, or the default verdict, would catch without this rule. */
  private Evidence decidedBelow(int decider, int[] point) {
    return new Evidence(
        decider < 0 ? "" : claims.id(decider),
        decider < 0 ? "" : words.part(rule, decider),
        Optional.empty(),
        claims.witness(point, rule));
  }

  /**
   * Finds the rules below (−1 for the default verdict) that would catch the residue, each with a
   * point of what it would catch; false if not all of them decide the same. Asked of each of them
   * on its own, for the residue of a broad rule has more parts than there are rules.
   *
   * @param deciders those that are known; the others are added
   */
  private boolean findDecidersBelow(Map<Integer, int[]> deciders) {
    List<Candidate> allBelow = claims.below(claim, rule);
    Outcome defaultVerdict = Outcome.of(claims.verdict(-1));
    boolean unsure = false;
    for (Candidate part : measure.leftParts().orElseGet(() -> claims.parts(rule))) {
      List<Candidate> met = meeting(part, allBelow);
      if (measure.leftParts().isPresent() && met.isEmpty()) {
        // It falls through to the default verdict, and a broad rule has thousands of such parts.
        if (!defaultVerdict.equals(part.outcome())) {
          return false;
        }
        deciders.putIfAbsent(-1, claims.space().example(part.box()));
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
        } else if (!deciders.containsKey(next.owner())) {
          alike.computeIfAbsent(next.owner(), owner -> new ArrayList<>()).add(reaches);
        }
        before.add(next);
      }
      Question falls = new Question(List.of(part.box()), before);
      if (!defaultVerdict.equals(part.outcome())) {
        otherwise.add(falls);
      } else if (!deciders.containsKey(-1)) {
        alike.put(-1, List.of(falls));
      }
      Answer differs = measure.search(otherwise);
      if (differs instanceof Answer.Uncovered) {
        return false;
      }
      unsure |= differs instanceof Answer.OutOfBudget;
      for (int other : alike.keySet()) {
        Answer decides = unsure ? differs : measure.search(alike.get(other));
        unsure |= decides instanceof Answer.OutOfBudget;
        if (decides instanceof Answer.Uncovered found) {
          deciders.put(other, claims.space().example(found.piece()));
        }
      }
      if (unsure) {
        say(
            Kind.UNDETERMINED,
            Severity.NOTE,
            Sentences.undetermined("whether what lies below decides the same"));
        return false;
      }
    }
    return true;
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
    findings.add(
        new Finding(
            kind,
            severity,
            claims.id(rule),
            said,
            rules.stream().limit(MOST_EVIDENCE).map(this::takenBy).toList(),
            List.of()));
  }

  /** What a rule above has to do with this one, shown by a connection that it catches. */
  private Evidence takenBy(int taker) {
    RuleMeasure.Taken taken = measure.takers().get(taker);
    return new Evidence(
        claims.id(taker),
        words.part(rule, taker),
        taken.differs() ? Optional.of(taken.otherwise()) : Optional.empty(),
        claims.witness(taken.point(), taker));
  }
}
