package ironsieve.server.edit;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Numbers that sort: a place between any two is a decimal with no more digits than it takes, and
 * where many come to one place they share it evenly. Exact, so that what is written is read back.
 */
final class Positions {

  /** Longer numbers are a sign that much came to one place; then a whole list is numbered anew. */
  static final int MOST_DIGITS = 60;

  private Positions() {}

  /**
   * Ascending numbers strictly between two.
   *
   * @param below nothing where there is nothing below
   * @param above nothing where there is nothing above; greater than {@code below}
   * @param count at least 1
   */
  static List<BigDecimal> between(
      Optional<BigDecimal> below, Optional<BigDecimal> above, int count) {
    List<BigDecimal> numbers = new ArrayList<>(count);
    if (below.isEmpty() || above.isEmpty()) {
      BigDecimal start =
          below
              .map(low -> low.setScale(0, RoundingMode.FLOOR).add(BigDecimal.ONE))
              .or(
                  () ->
                      above.map(
                          high ->
                              high.setScale(0, RoundingMode.CEILING)
                                  .subtract(BigDecimal.valueOf(count))))
              .orElse(BigDecimal.ONE);
      for (int i = 0; i < count; i++) {
        numbers.add(start.add(BigDecimal.valueOf(i)));
      }
      return numbers;
    }
    BigDecimal low = below.get();
    BigDecimal high = above.get();
    int scale = 0;
    BigInteger first;
    BigInteger room;
    do {
      // Multiples of 10^-scale strictly between the two.
      first = low.scaleByPowerOfTen(scale).setScale(0, RoundingMode.FLOOR).toBigInteger();
      BigInteger last =
          high.scaleByPowerOfTen(scale).setScale(0, RoundingMode.CEILING).toBigInteger();
      room = last.subtract(first).subtract(BigInteger.ONE);
      scale++;
    } while (room.compareTo(BigInteger.valueOf(count)) < 0);
    for (int i = 1; i <= count; i++) {
      BigInteger at =
          room.add(BigInteger.ONE)
              .multiply(BigInteger.valueOf(i))
              .divide(BigInteger.valueOf(count + 1L))
              .max(BigInteger.valueOf(i));
      numbers.add(new BigDecimal(first.add(at), scale - 1).stripTrailingZeros());
    }
    return numbers;
  }
}
