package ironsieve.model;

/** The state of a device, as far as it is known. */
public enum Posture {
  HEALTHY,
  UNHEALTHY,
  UNKNOWN;

  /** The word on screen and in text. */
  public String word() {
    return name().toLowerCase(java.util.Locale.ROOT);
  }
}
