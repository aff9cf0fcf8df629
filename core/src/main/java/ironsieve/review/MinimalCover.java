package ironsieve.review;

import ironsieve.region.Box;
import ironsieve.review.CoverSearch.Answer;
import ironsieve.review.CoverSearch.Candidate;
import ironsieve.review.CoverSearch.Question;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * Finds the smallest set of rules that together cover a claim, by implicit hitting sets: every
 * point that some set of rules missed is remembered with the rules that hold it; the smallest set
 * of rules that hits all those points is the next one to try, and the first that covers is a
 * smallest cover, for no smaller one hits even these points (Moreno-Centeno and Karp, 2013). The
 * number of rounds and of steps in each is bounded; where that does not do, a cover is thinned rule
 * by rule and not proven smallest.
 */
final class MinimalCover {

  private static final int MOST_ROUNDS = 400;
  private static final int MOST_STEPS = 200_000;

  /**
   * A cover.
   *
   * @param rules from the top
   * @param isSmallest whether it is proven that fewer would not do
   */
  record Cover(List<Integer> rules, boolean isSmallest) {}

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

    private Set<Integer> holding(int[] point) {
      Set<Integer> rules = new TreeSet<>();
      byRule.forEach(
          (rule, candidates) -> {
            if (candidates.stream().anyMatch(candidate -> candidate.box().contains(point))) {
              rules.add(rule);
            }
          });
      return rules;
    }
  }

  private final Claims claims;
  private final List<Sorted> questions;
  private final int budget;

  /** For each point that some rules missed, the rules that hold it. */
  private final List<Set<Integer>> missed = new ArrayList<>();

  private boolean isUndecided;

  /** Answers to these questions; all candidates together do cover. */
  MinimalCover(Claims claims, List<Question> questions, int budget) {
    this.claims = claims;
    this.questions = questions.stream().map(Sorted::of).toList();
    this.budget = budget;
  }

  /**
   * A smallest cover.
   *
   * @param known a cover
   */
  Cover smallest(Set<Integer> known) {
    Hitting hitting = new Hitting();
    for (int round = 0; round < MOST_ROUNDS; round++) {
      Optional<Set<Integer>> next = hitting.smallest(missed, known.size());
      if (next.isEmpty()) {
        break;
      }
      if (covers(next.get())) {
        return new Cover(List.copyOf(next.get()), true);
      }
      if (isUndecided) {
        break;
      }
    }
    return new Cover(List.copyOf(thinned(known)), false);
  }

  /**
   * Looks for the fewest rules that hit every point, depth first, the most constrained point next.
   */
  private static final class Hitting {
    private List<Set<Integer>> points;
    private Set<Integer> best;
    private int most;
    private int steps;

    /** Nothing if that is more work than its bound. */
    private Optional<Set<Integer>> smallest(List<Set<Integer>> all, int atMost) {
      points = all;
      best = null;
      most = atMost;
      steps = MOST_STEPS;
      choose(new TreeSet<>());
      return steps < 0 ? Optional.empty() : Optional.ofNullable(best);
    }

    private void choose(TreeSet<Integer> chosen) {
      if (--steps < 0) {
        return;
      }
      Set<Integer> next = null;
      int apart = 0;
      Set<Integer> seen = new HashSet<>();
      for (Set<Integer> point : points) {
        if (Collections.disjoint(point, chosen)) {
          if (next == null || point.size() < next.size()) {
            next = point;
          }
          // Points that share no rule need one each.
          if (Collections.disjoint(point, seen)) {
            seen.addAll(point);
            apart++;
          }
        }
      }
      if (next == null) {
        best = new TreeSet<>(chosen);
        most = chosen.size() - 1;
        return;
      }
      if (chosen.size() + apart > most) {
        return;
      }
      for (int rule : next) {
        chosen.add(rule);
        choose(chosen);
        chosen.remove(rule);
        if (steps < 0 || chosen.size() + apart > most) {
          return;
        }
      }
    }
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

  private boolean covers(Set<Integer> rules) {
    if (missed.stream().anyMatch(point -> Collections.disjoint(point, rules))) {
      return false;
    }
    for (Sorted question : questions) {
      Answer answer = claims.search(List.of(question.narrowed(rules)), budget);
      if (answer instanceof Answer.Uncovered found) {
        missed.add(question.holding(found.piece().point().orElseThrow()));
      }
      isUndecided |= answer instanceof Answer.OutOfBudget;
      if (!(answer instanceof Answer.Covered)) {
        return false;
      }
    }
    return true;
  }
}
