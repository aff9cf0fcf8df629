package ironsieve.compile;

import ironsieve.model.Rule;
import ironsieve.region.Box;
import java.util.List;

/**
 * A rule that takes part, with its claim.
 *
 * @param index its place among the rules that take part, 0 at the top
 * @param rule the rule
 * @param boxes its claim: non-empty boxes, possibly overlapping, none if it can match nothing
 */
public record CompiledRule(int index, Rule rule, List<Box> boxes) {

  public CompiledRule {
    boxes = List.copyOf(boxes);
  }

  /** Whether the rule's claim holds the point. */
  public boolean claims(int[] point) {
    for (Box box : boxes) {
      if (box.contains(point)) {
        return true;
      }
    }
    return false;
  }
}
