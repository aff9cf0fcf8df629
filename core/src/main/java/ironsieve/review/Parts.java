package ironsieve.review;

import ironsieve.compile.BoxPropagation;
import ironsieve.region.Box;
import ironsieve.review.CoverSearch.Candidate;
import java.util.ArrayList;
import java.util.List;

/**
 * Drops boxes through a whole rulebase and says which part falls where, down to a limit of pieces;
 * what is beyond the limit is left out.
 */
final class Parts {

  private static final int MOST_PIECES = 1_000;

  private Parts() {}

  /**
   * Disjoint parts of some boxes with the rule (−1 for the default verdict) and outcome of each.
   */
  static List<Candidate> of(Claims claims, List<Box> boxes) {
    List<Candidate> parts = new ArrayList<>();
    for (Box box : boxes) {
      BoxPropagation.through(
          claims.compiled(),
          box,
          (piece, n) -> {
            int rule = n < 0 ? -1 : claims.compiled().ruleOfBox(n);
            parts.add(new Candidate(rule, piece, claims.compiled().outcomeOfBox(n)));
            return complete(parts);
          });
    }
    return parts;
  }

  /** Whether a list of parts is all there are. */
  static boolean complete(List<Candidate> parts) {
    return parts.size() < MOST_PIECES;
  }
}
