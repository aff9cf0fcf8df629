package ironsieve;

/**
 * How many cases a test tries. A test names as many as the long run tries; the short one tries a
 * share of them. The system property {@code iron-sieve.tests.share} is what they are divided by; 1
 * where it is not set. Properties are given their share by {@link CasesOfProperties}; loops ask.
 */
public final class Cases {

  private static final int SHARE = Integer.getInteger("iron-sieve.tests.share", 1);

  /** Where fewer are tried, hardly anything of a kind with several parts is seen. */
  private static final int FEWEST = 20;

  private Cases() {}

  /** The cases to be tried of as many as the long run tries; at least 20, or all of fewer. */
  public static int of(int all) {
    return Math.min(all, Math.max(FEWEST, all / SHARE));
  }

  /** The rounds of something large of as many as the long run goes through; at least one. */
  public static int rounds(int all) {
    return Math.max(1, all / SHARE);
  }

  /** Whether all is tried. */
  public static boolean isLong() {
    return SHARE == 1;
  }
}
