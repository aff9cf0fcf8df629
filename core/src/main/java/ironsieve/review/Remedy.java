package ironsieve.review;

/**
 * A proposed edit that ends a finding. What else it would change is for the impact to say, before
 * it is applied.
 *
 * @param action what to do with the rule
 * @param rule the id of the rule the finding is about
 * @param target the id of the rule to move above; empty for other actions
 * @param words the same, in words
 */
public record Remedy(Action action, String rule, String target, String words) {

  /** What a remedy does. */
  public enum Action {
    /** Move the rule to the place just above the target. */
    MOVE_ABOVE,
    /** Keep the rule, switched off. */
    SWITCH_OFF,
    /** Take the rule out. */
    REMOVE
  }
}
