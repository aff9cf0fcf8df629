package ironsieve.review;

import ironsieve.region.Box;
import ironsieve.review.CoverSearch.Answer;
import ironsieve.review.CoverSearch.Candidate;
import ironsieve.review.CoverSearch.Question;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * Finds the smallest set of rules that together cover a claim. A single rule is found at once;
 * otherwise a cover is thinned by dropping rules one by one, and all smaller sets are tried while
 * they are few.
 */
final class Covers {

  private static final int MOST_SETS_TRIED = 3_000;

  /** A question, with what may cover sorted by rule. */
  private record Sorted(List<Box> boxes, Map<Integer, List<Candidate>> byRule) {

    private static Sorted of(Question question) {
      return new Sorted(
          question.boxes(),
          question.candidates().stream()
              .collect(Collectors.groupingBy(Candidate::owner, TreeMap::new, Collectors.toList())));
    }

    private Question narrowed(Set<Integer> rules) {
      List<Candidate> some = new ArrayList<>();
      rules.forEach(rule -> some.addAll(byRule.getOrDefault(rule, List.of())));
      return new Question(boxes, some);
    }
  }

  private final Claims claims;
  private final List<Sorted> questions;
  private final int budget;
  private final Map<Integer, BitSet> holds = new HashMap<>();
  private int points;
  private int tries;

  /** Answers to these questions; all candidates together do cover. */
  Covers(Claims claims, List<Question> questions, int budget) {
    this.claims = claims;
    this.questions = questions.stream().map(Sorted::of).toList();
    this.budget = budget;
  }

  /** The rules of a smallest cover, from the top. */
  List<Integer> smallest(Set<Integer> known) {
    List<Integer> rules =
        questions.stream()
            .flatMap(question -> question.byRule().keySet().stream())
            .distinct()
            .sorted()
            .toList();
    for (int rule : rules) {
      if (covers(Set.of(rule))) {
        return List.of(rule);
      }
    }
    Set<Integer> thin = thinned(known);
    for (int size = 2; size < thin.size(); size++) {
      Optional<Set<Integer>> smaller = ofSize(rules, size, 0, new TreeSet<>());
      if (smaller.isPresent()) {
        return List.copyOf(smaller.get());
      }
    }
    return List.copyOf(thin);
  }

  private Set<Integer> thinned(Set<Integer> cover) {
    TreeSet<Integer> thin = new TreeSet<>(cover);
    for (int rule : new TreeSet<>(cover).descendingSet()) {
      thin.remove(rule);
      if (!covers(thin)) {
        thin.add(rule);
      }
    }
    return thin;
  }

  private Optional<Set<Integer>> ofSize(
      List<Integer> rules, int size, int from, TreeSet<Integer> chosen) {
    if (chosen.size() == size) {
      return ++tries <= MOST_SETS_TRIED && covers(chosen)
          ? Optional.of(new TreeSet<>(chosen))
          : Optional.empty();
    }
    for (int i = from; i < rules.size() && tries <= MOST_SETS_TRIED; i++) {
      chosen.add(rules.get(i));
      Optional<Set<Integer>> found = ofSize(rules, size, i + 1, chosen);
      if (found.isPresent()) {
        return found;
      }
      chosen.remove(rules.get(i));
    }
    return Optional.empty();
  }

  private boolean covers(Set<Integer> rules) {
    BitSet caught = new BitSet();
    rules.forEach(rule -> caught.or(holds.computeIfAbsent(rule, r -> new BitSet())));
    if (caught.cardinality() < points) {
      return false;
    }
    for (Sorted question : questions) {
      Answer answer =
          CoverSearch.run(List.of(question.narrowed(rules)), claims.space().weights(), budget);
      if (answer instanceof Answer.Uncovered found) {
        remember(question, found.piece().point().orElseThrow());
      }
      if (!(answer instanceof Answer.Covered)) {
        return false;
      }
    }
    return true;
  }

  /** What one set of rules missed tells at once that most other sets miss it too. */
  private void remember(Sorted question, int[] missed) {
    question
        .byRule()
        .forEach(
            (rule, candidates) -> {
              if (candidates.stream().anyMatch(candidate -> candidate.box().contains(missed))) {
                holds.computeIfAbsent(rule, r -> new BitSet()).set(points);
              }
            });
    points++;
  }
}
