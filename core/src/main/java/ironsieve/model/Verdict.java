package ironsieve.model;

/** What happens to a connection that a rule catches. */
public enum Verdict {
  /** Let through. */
  ALLOW,
  /** Discarded silently. */
  DENY,
  /** Discarded, and the sender is told. */
  REJECT;

  /** The word on screen and in text. */
  public String word() {
    return name().toLowerCase(java.util.Locale.ROOT);
  }
}
