package ironsieve.compile;

import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.List;

/**
 * Drops a whole box through a rulebase, as a probe drops a point: each rule catches its part of
 * what is left. The number of pieces can grow with every rule met, so whoever takes the pieces says
 * when it is enough.
 */
public final class BoxPropagation {

  /** Takes pieces as they are caught. */
  public interface Caught {

    /**
     * One piece, disjoint from all others.
     *
     * @param box the number of the rulebase's box that catches it, or −1 for the default verdict
     * @return false to give up
     */
    boolean take(Box piece, int box);
  }

  private BoxPropagation() {}

  /** Drops a box; false if the taker gave up. */
  public static boolean through(CompiledRulebase rulebase, Box box, Caught caught) {
    return box.isEmpty() || drop(rulebase, box, 0, caught);
  }

  private static boolean drop(CompiledRulebase rulebase, Box start, int from, Caught caught) {
    IndexSet meeting = rulebase.index().meeting(start);
    Box rest = start;
    for (int n = meeting.next(from); n >= 0; n = meeting.next(n + 1)) {
      Box claim = rulebase.box(n);
      if (!claim.intersects(rest)) {
        continue;
      }
      if (!caught.take(rest.intersect(claim), n)) {
        return false;
      }
      List<Box> outside = rest.minus(claim);
      if (outside.isEmpty()) {
        return true;
      }
      for (Box piece : outside.subList(1, outside.size())) {
        if (!drop(rulebase, piece, n + 1, caught)) {
          return false;
        }
      }
      rest = outside.get(0);
    }
    return caught.take(rest, -1);
  }
}
