package ironsieve.model;

/**
 * A bandwidth promise, a ceiling, or both.
 *
 * @param name unique in its rulebase
 * @param scope who shares it
 * @param ceiling never more than this; {@link Rates#NONE} for no ceiling
 * @param guarantee never less than this while it is asked for; {@link Rates#NONE} for no guarantee
 * @param clients how many clients to reckon with; counts only for {@link Scope#CLIENT}
 * @param note what it is for; may be empty
 */
public record Lane(
    String name, Scope scope, Rates ceiling, Rates guarantee, int clients, String note) {

  /** Who shares a lane. */
  public enum Scope {
    /** All rules that name it together. */
    GATEWAY,
    /** Each rule that names it has one of its own. */
    RULE,
    /** Each client address has one of its own. */
    CLIENT
  }

  /**
   * Rates each way, in kbit/s; 0 says nothing.
   *
   * @param up from the client
   * @param down to the client
   */
  public record Rates(long up, long down) {

    /** Nothing said. */
    public static final Rates NONE = new Rates(0, 0);

    /** The fastest a lane can be said to be; sums of lanes may be more. */
    public static final long FASTEST = 999_999_999;

    public Rates {
      if (up < 0 || down < 0) {
        throw new IllegalArgumentException("a rate is 0 or more kbit/s");
      }
    }

    private void demandPossible(String lane) {
      if (up > FASTEST || down > FASTEST) {
        throw new IllegalArgumentException(
            "lane \"" + lane + "\": a rate is at most " + FASTEST + " kbit/s");
      }
    }

    /** These rates a number of times. */
    public Rates times(long count) {
      return new Rates(up * count, down * count);
    }

    /** Both together. */
    public Rates plus(Rates other) {
      return new Rates(up + other.up, down + other.down);
    }

    /** Whether this is more than a limit, either way; a limit of 0 is none. */
    public boolean exceeds(Rates limit) {
      return (limit.up > 0 && up > limit.up) || (limit.down > 0 && down > limit.down);
    }
  }

  /**
   * What it guarantees to all clients that are reckoned with, or as one where it is not by client.
   */
  public Rates guaranteeToAll() {
    return guarantee.times(scope == Scope.CLIENT ? clients : 1);
  }

  public Lane {
    ceiling.demandPossible(name);
    guarantee.demandPossible(name);
    if (clients < 0 || clients > 1_000_000) {
      throw new IllegalArgumentException(
          "lane \"" + name + "\" reckons with 0 to 1000000 clients, not " + clients);
    }
    if (scope == Scope.CLIENT && clients < 1) {
      throw new IllegalArgumentException(
          "lane \"" + name + "\" is for each client and needs a number of clients to reckon with");
    }
    if (guarantee.exceeds(ceiling)) {
      throw new IllegalArgumentException(
          "lane \"" + name + "\" guarantees more than its own ceiling");
    }
  }
}
