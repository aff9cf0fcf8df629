package ironsieve.review;

import java.util.Comparator;

/**
 * A share of a claim, counted over addresses × ports × application features × people × devices ×
 * minutes. Where a claim holds connections of both IP versions, each version counts for one half;
 * otherwise 2¹²⁸ addresses would drown 2³².
 *
 * @param value 0 … 1
 * @param certainty whether it was worked out or estimated from samples
 */
public record Share(double value, Certainty certainty) {

  /**
   * The largest first. Equal parts summed in another order differ in their last digits, which must
   * not decide which comes first: what differs by less than a billionth is as large.
   */
  static final Comparator<Share> LARGEST_FIRST =
      Comparator.comparingLong(share -> -Math.round(share.value() * 1e9));

  /** All of a claim. */
  public static final Share WHOLE = new Share(1, Certainty.EXACT);

  /** How a share was come by. */
  public enum Certainty {
    EXACT,
    ESTIMATED
  }

  /**
   * A share worked out exactly, up to the rounding of a double. It is less than all, however little
   * is missing; for all of a claim there is {@link #WHOLE}.
   */
  public static Share exact(double value) {
    return new Share(Math.max(0, Math.min(Math.nextDown(1.0), value)), Certainty.EXACT);
  }

  /** A share estimated from samples. */
  public static Share estimated(double value) {
    return new Share(value, Certainty.ESTIMATED);
  }
}
