package ironsieve.compile;

/** How much a gateway knows of a connection; each stage includes those before. */
public enum Knowledge {
  /** Zones, addresses, ports, person, device, time. */
  FIRST_PACKET("first packet"),
  /** Also the host name with its site category, and the carrier it rides on. */
  NAMED("named"),
  /** Also the application. */
  IDENTIFIED("identified"),
  /** Also the feature; only where the content is plain or opened. */
  READ("read");

  private final String word;

  Knowledge(String word) {
    this.word = word;
  }

  /** The word on screen. */
  public String word() {
    return word;
  }
}
