package ironsieve.review;

import ironsieve.compile.CompiledEdit;
import ironsieve.region.Box;
import ironsieve.review.CoverSearch.Candidate;
import java.lang.ref.SoftReference;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;

/**
 * What became of the branches of a broad rule when it was dropped through those above it; see
 * {@link ShareMeasure}. A broad rule is concerned by nearly every edit, but hardly any of its
 * branches is: where the same pieces meet the same rules, the same comes out, whatever revision the
 * rules are of. So nothing has to be known of the edits in between. Held softly, for it is much
 * beside a review, and whoever does not find it works it out again. Immutable.
 */
final class KnownBranches {

  /** Nothing is known. */
  static final KnownBranches NONE = new KnownBranches(List.of());

  /** Boxes are carried over so many edits that cut atoms; then it is forgotten. */
  private static final int MOST_CUTS = 8;

  /**
   * All that what comes of a branch depends on.
   *
   * @param pieces what falls
   * @param met the rules that it can meet, from the top
   * @param dropped the part of a rule that it was cut from
   * @param scale what weights are multiplied by
   */
  record Question(List<Box> pieces, List<Candidate> met, Candidate dropped, double scale) {

    Known answered(Caught caught) {
      return new Known(this, caught);
    }
  }

  /** A branch, and what was caught of it. */
  record Known(Question question, Caught caught) {}

  private final SoftReference<List<Known>> all;
  private final Optional<UnaryOperator<Box>> carried;
  private final int cuts;

  KnownBranches(List<Known> all) {
    this(new SoftReference<>(all), Optional.empty(), 0);
  }

  private KnownBranches(
      SoftReference<List<Known>> all, Optional<UnaryOperator<Box>> carried, int cuts) {
    this.all = all;
    this.carried = carried;
    this.cuts = cuts;
  }

  /** The same after an edit, over the atoms that it needs. */
  KnownBranches after(CompiledEdit edit) {
    if (this == NONE || edit.keepsAtoms()) {
      return this;
    }
    if (!edit.keepsBoxes() || cuts == MOST_CUTS) {
      return NONE;
    }
    UnaryOperator<Box> last = edit.carrying();
    UnaryOperator<Box> whole =
        carried.<UnaryOperator<Box>>map(first -> box -> last.apply(first.apply(box))).orElse(last);
    return new KnownBranches(all, Optional.of(whole), cuts + 1);
  }

  /** What is known, to be asked now. */
  Opened opened() {
    List<Known> known = all.get();
    return new Opened(known == null ? List.of() : known, carried);
  }

  /** What is known, by the pieces that fell. Asked by several threads. */
  static final class Opened {
    private final Map<List<Box>, Known> byPieces = new HashMap<>();
    private final Optional<UnaryOperator<Box>> carried;

    private Opened(List<Known> all, Optional<UnaryOperator<Box>> carried) {
      this.carried = carried;
      all.forEach(known -> byPieces.put(now(known.question.pieces), known));
    }

    /** What is caught of a branch, by the numbers of the rules that are asked for now. */
    Optional<Caught> caught(Question question) {
      Known known = byPieces.get(question.pieces);
      if (known == null
          || known.question.scale != question.scale
          || !known.question.dropped.outcome().equals(question.dropped.outcome())) {
        return Optional.empty();
      }
      int dropped = question.dropped.owner();
      return numbers(known.question.met, question.met)
          .map(
              numbers ->
                  carried.isEmpty()
                          && numbers.isEmpty()
                          && known.question.dropped.owner() == dropped
                      ? known.caught
                      : known.caught.over(
                          owner -> numbers.getOrDefault(owner, owner), dropped, this::now));
    }

    private List<Box> now(List<Box> pieces) {
      return carried.isEmpty() ? pieces : pieces.stream().map(carried.get()).toList();
    }

    private Box now(Box box) {
      return carried.isEmpty() ? box : carried.get().apply(box);
    }

    /**
     * For the numbers that some rules had those that they have now, where they differ; nothing if
     * they are not the same rules.
     */
    private Optional<Map<Integer, Integer>> numbers(List<Candidate> then, List<Candidate> now) {
      if (then.size() != now.size()) {
        return Optional.empty();
      }
      Map<Integer, Integer> numbers = new HashMap<>();
      for (int k = 0; k < then.size(); k++) {
        Candidate before = then.get(k);
        Candidate after = now.get(k);
        // Which of them are parts of one rule counts too.
        boolean isAlike =
            k == 0
                || (before.owner() == then.get(k - 1).owner())
                    == (after.owner() == now.get(k - 1).owner());
        if (!isAlike
            || !before.outcome().equals(after.outcome())
            || !isSame(now(before.box()), after.box())) {
          return Optional.empty();
        }
        if (before.owner() != after.owner()) {
          numbers.put(before.owner(), after.owner());
        }
      }
      return Optional.of(numbers);
    }

    /** Nearly always the same object, which equality would not see without looking at the sides. */
    private static boolean isSame(Box one, Box other) {
      return one == other || one.equals(other);
    }
  }
}
