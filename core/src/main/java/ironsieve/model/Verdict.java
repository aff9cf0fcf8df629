package ironsieve.model;

/** What happens to a connection. The last three show the person a page. */
public enum Verdict {
  /** Let through. */
  ALLOW,
  /** Discarded silently. */
  DENY,
  /** Discarded, and the sender is told. */
  REJECT,
  /** Held until the person has read a page and chosen to go on. */
  ASK,
  /** Discarded; the person is shown why. */
  STOP,
  /** Discarded; the person is shown how to put the device in order. */
  ENROL;

  /** The word on screen and in text. */
  public String word() {
    return name().toLowerCase(java.util.Locale.ROOT);
  }

  /** Whether the connection can go on, be it after asking. */
  public boolean passes() {
    return this == ALLOW || this == ASK;
  }

  /** Whether it goes with a page, a {@link Notice}. */
  public boolean shows() {
    return this == ASK || this == STOP || this == ENROL;
  }
}
