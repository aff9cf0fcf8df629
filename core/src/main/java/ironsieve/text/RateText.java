package ironsieve.text;

/** Bandwidths as text: {@code 64 kbit/s}, {@code 10 Mbit/s}; the model counts in kbit/s. */
public final class RateText {

  private RateText() {}

  /** A bandwidth in the largest unit that leaves a whole number. */
  public static String print(long kbits) {
    if (kbits > 0 && kbits % 1_000_000 == 0) {
      return kbits / 1_000_000 + " Gbit/s";
    }
    return kbits > 0 && kbits % 1_000 == 0 ? kbits / 1_000 + " Mbit/s" : kbits + " kbit/s";
  }
}
