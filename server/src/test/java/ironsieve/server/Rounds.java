package ironsieve.server;

/** How often a test goes through what it tries; the short run goes through a share of it. */
public final class Rounds {

  private static final int SHARE = Integer.getInteger("iron-sieve.tests.share", 1);

  private Rounds() {}

  /** Whether all of them are gone through. */
  public static boolean isLong() {
    return SHARE == 1;
  }

  /** The rounds to be gone through of as many as the long run goes through; at least one. */
  public static int of(int all) {
    return Math.max(1, all / SHARE);
  }
}
