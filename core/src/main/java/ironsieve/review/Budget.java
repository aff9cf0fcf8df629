package ironsieve.review;

/**
 * How much work the review may spend on one rule. What does not fit is estimated (shares) or said
 * to be undetermined (findings); nothing is dropped. Counted in steps rather than time, so that a
 * review gives the same answer on every machine.
 *
 * @param descentSteps meetings of a box and a rule while the exact shares are worked out
 * @param searchSteps boxes looked at in one search for a witness
 * @param samples points drawn where shares must be estimated
 * @param sharedFrom a rule that meets so many above it is worked on by all processors; no answer
 *     depends on it
 * @param rememberedFrom of one that meets so many what becomes of its parts is remembered for the
 *     next review, which is not worth its memory where there are few; no answer depends on it
 */
public record Budget(
    int descentSteps, int searchSteps, int samples, int sharedFrom, int rememberedFrom) {

  /** Enough for exact answers on rulebases as people write them. */
  public static final Budget USUAL = new Budget(12_000, 200_000, 400, 128, 512);

  /** The same with so many steps for each search. */
  public Budget searching(int steps) {
    return new Budget(descentSteps, steps, samples, sharedFrom, rememberedFrom);
  }

  /** The same, shared out and remembered from so many rules. */
  public Budget rememberingFrom(int rules) {
    return new Budget(descentSteps, searchSteps, samples, rules, rules);
  }
}
