package ironsieve.compile;

import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.region.Box;
import java.util.List;

/**
 * A rule that takes part, with its claim.
 *
 * @param index its place among the rules that take part, 0 at the top
 * @param rule the rule
 * @param boxes its claim: non-empty, disjoint boxes, none if it can match nothing; an immutable
 *     list, which is not copied, for an edit makes most rules of a rulebase anew with what they had
 * @param outcomes what happens to each of the boxes; the same
 */
public record CompiledRule(int index, Rule rule, List<Box> boxes, List<Outcome> outcomes) {

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
