package ironsieve.review;

/**
 * How much work the review may spend on one rule. What does not fit is estimated (shares) or said
 * to be undetermined (findings); nothing is dropped. Counted in steps rather than time, so that a
 * review gives the same answer on every machine.
 *
 * @param descentSteps meetings of a box and a rule while the exact shares are worked out
 * @param searchSteps boxes looked at in one search for a witness
 * @param samples points drawn where shares must be estimated
 * @param manyRules a rule that meets so many above it is worked on by all processors, and what
 *     comes of its parts is remembered for the next review; no answer depends on it
 */
public record Budget(int descentSteps, int searchSteps, int samples, int manyRules) {

  /** Enough for exact answers on rulebases as people write them. */
  public static final Budget USUAL = new Budget(12_000, 200_000, 400, 128);

  /** The same with so many steps for each search. */
  public Budget searching(int steps) {
    return new Budget(descentSteps, steps, samples, manyRules);
  }

  /** The same where so many rules are many. */
  public Budget manyFrom(int rules) {
    return new Budget(descentSteps, searchSteps, samples, rules);
  }
}
