package ironsieve.review;

import ironsieve.review.CoverSearch.Answer;
import ironsieve.review.CoverSearch.Candidate;
import ironsieve.review.CoverSearch.Question;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * Finds the smallest set of rules that together cover a claim. A single rule is found at once;
 * otherwise a cover is thinned by dropping rules one by one, and all smaller sets are tried while
 * they are few.
 */
final class Covers {

  private static final int MOST_SETS_TRIED = 3_000;

  private final Claims claims;
  private final List<Question> questions;
  private final int budget;
  private int tries;

  /** Answers to these questions; all candidates together do cover. */
  Covers(Claims claims, List<Question> questions, int budget) {
    this.claims = claims;
    this.questions = questions;
    this.budget = budget;
  }

  /** The rules of a smallest cover, from the top. */
  List<Integer> smallest(Set<Integer> known) {
    List<Integer> rules =
        questions.stream()
            .flatMap(question -> question.candidates().stream())
            .map(Candidate::owner)
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
    List<Question> narrowed = new ArrayList<>();
    for (Question question : questions) {
      List<Candidate> some = new ArrayList<>();
      for (Candidate candidate : question.candidates()) {
        if (rules.contains(candidate.owner())) {
          some.add(candidate);
        }
      }
      narrowed.add(new Question(question.boxes(), some));
    }
    return CoverSearch.run(narrowed, claims.space().weights(), budget) instanceof Answer.Covered;
  }
}
