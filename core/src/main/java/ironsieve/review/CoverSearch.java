package ironsieve.review;

import ironsieve.model.Outcome;
import ironsieve.progress.Progress;
import ironsieve.region.Box;
import ironsieve.region.Weights;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * Asks whether some boxes together cover a box. Depth-first: a candidate that holds the box settles
 * it; otherwise the box is split by the candidate that needs the fewest pieces, and each piece
 * outside it is asked again with one candidate fewer, the largest first. A piece no candidate meets
 * is a witness and ends the search. Exponential in the number of dimensions at worst (the question
 * is NP-hard), hence the budget.
 */
final class CoverSearch {

  /** What a search came to. */
  sealed interface Answer {

    /** The box is covered, by these candidates. */
    record Covered(Set<Integer> by) implements Answer {}

    /** The box is not covered: nothing covers this non-empty piece of it. */
    record Uncovered(Box piece) implements Answer {}

    /** The budget ran out. */
    record OutOfBudget() implements Answer {}
  }

  /**
   * A box that may cover.
   *
   * @param owner the number reported for it
   * @param outcome what happens inside it
   */
  record Candidate(int owner, Box box, Outcome outcome) {}

  /** Some boxes, and what may cover them. */
  record Question(List<Box> boxes, List<Candidate> candidates) {}

  private final Weights[] weights;
  private final int budget;
  private final Progress progress;
  private int steps;
  private boolean spent;
  private final Set<Integer> used = new TreeSet<>();

  private CoverSearch(Weights[] weights, int budget, Progress progress) {
    this.weights = weights;
    this.budget = budget;
    this.progress = progress;
  }

  /**
   * Whether the candidates of each question cover all its boxes.
   *
   * @throws java.util.concurrent.CancellationException soon after {@code progress} is stopped
   */
  static Answer run(List<Question> questions, Weights[] weights, int budget, Progress progress) {
    CoverSearch search = new CoverSearch(weights, budget, progress);
    for (Question question : questions) {
      for (Box box : question.boxes()) {
        Optional<Box> piece = search.uncovered(box, question.candidates());
        if (piece.isPresent()) {
          return new Answer.Uncovered(piece.get());
        }
        if (search.spent) {
          return new Answer.OutOfBudget();
        }
      }
    }
    return new Answer.Covered(search.used);
  }

  private Optional<Box> uncovered(Box box, List<Candidate> candidates) {
    progress.check();
    List<Candidate> meeting = new ArrayList<>();
    Candidate best = null;
    int fewest = Integer.MAX_VALUE;
    for (Candidate candidate : candidates) {
      if (++steps > budget) {
        spent = true;
        return Optional.empty();
      }
      if (candidate.box().intersects(box)) {
        int pieces = piecesOutside(box, candidate.box());
        if (pieces == 0) {
          used.add(candidate.owner());
          return Optional.empty();
        }
        meeting.add(candidate);
        if (pieces < fewest) {
          fewest = pieces;
          best = candidate;
        }
      }
    }
    if (best == null) {
      return Optional.of(box);
    }
    return split(box, best, meeting);
  }

  private Optional<Box> split(Box box, Candidate by, List<Candidate> candidates) {
    List<Candidate> others = new ArrayList<>(candidates);
    others.remove(by);
    List<Box> pieces = new ArrayList<>(box.minus(by.box()));
    pieces.sort(Comparator.comparingDouble((Box piece) -> piece.weight(weights)).reversed());
    for (Box piece : pieces) {
      Optional<Box> found = uncovered(piece, others);
      if (found.isPresent() || spent) {
        return found;
      }
    }
    used.add(by.owner());
    return Optional.empty();
  }

  private static int piecesOutside(Box box, Box by) {
    int pieces = 0;
    for (int d = 0; d < box.dimensions(); d++) {
      if (!by.side(d).containsAll(box.side(d))) {
        pieces++;
      }
    }
    return pieces;
  }
}
