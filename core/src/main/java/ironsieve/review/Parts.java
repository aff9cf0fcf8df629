package ironsieve.review;

import ironsieve.region.Box;
import ironsieve.region.IndexSet;
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

  /** Disjoint parts of some boxes with the rule (−1 for the last line) and outcome of each. */
  static List<Candidate> of(Claims claims, List<Box> boxes) {
    List<Candidate> parts = new ArrayList<>();
    for (Box box : boxes) {
      if (!box.isEmpty()) {
        drop(claims, box, 0, parts);
      }
    }
    return parts;
  }

  /** Whether a list of parts is all there are. */
  static boolean complete(List<Candidate> parts) {
    return parts.size() < MOST_PIECES;
  }

  private static void drop(Claims claims, Box start, int from, List<Candidate> parts) {
    IndexSet meeting = claims.compiled().index().meeting(start);
    Box rest = start;
    for (int n = meeting.next(from); n >= 0; n = meeting.next(n + 1)) {
      Box claim = claims.compiled().boxes().get(n);
      if (!claim.intersects(rest)) {
        continue;
      }
      if (parts.size() >= MOST_PIECES) {
        return;
      }
      parts.add(
          new Candidate(
              claims.compiled().ruleOfBox(n),
              rest.intersect(claim),
              claims.compiled().outcomeOfBox(n)));
      List<Box> outside = rest.minus(claim);
      if (outside.isEmpty()) {
        return;
      }
      for (Box piece : outside.subList(1, outside.size())) {
        drop(claims, piece, n + 1, parts);
      }
      rest = outside.get(0);
    }
    parts.add(new Candidate(-1, rest, claims.compiled().outcomeOfBox(-1)));
  }
}
