package ironsieve.text;

import java.util.regex.Pattern;

/** Numbers within other text. */
final class NumberText {

  private static final Pattern NUMBER = Pattern.compile("\\d{1,5}");

  private NumberText() {}

  /**
   * Reads a number.
   *
   * @param text all of what it stands in, for a refusal
   * @throws TextException if it is none from {@code low} to {@code high}
   */
  static int within(String digits, int low, int high, String text) {
    if (NUMBER.matcher(digits).matches()) {
      int number = Integer.parseInt(digits);
      if (low <= number && number <= high) {
        return number;
      }
    }
    throw new TextException(
        0, "\"" + text + "\": \"" + digits + "\" is not a number from " + low + " to " + high);
  }
}
