package ironsieve.text;

import java.util.Optional;

/**
 * Which characters text may hold, wherever it comes from: any letters of any alphabet, but nothing
 * that cannot be kept (a NUL, half a surrogate pair), seen (other control characters) or trusted (a
 * change of the writing direction makes a name read as another one).
 */
public final class PlainText {

  private PlainText() {}

  /**
   * A character that text may not hold.
   *
   * @param position in characters from the beginning of the text
   * @param words what it is, and what to do about it
   */
  public record Forbidden(int position, String words) {}

  /** The first character that text may not hold, if there is one; line ends and tabs may be. */
  public static Optional<Forbidden> forbidden(String text) {
    for (int at = 0; at < text.length(); at++) {
      char c = text.charAt(at);
      if (Character.isHighSurrogate(c)
          && at + 1 < text.length()
          && Character.isLowSurrogate(text.charAt(at + 1))) {
        at++;
      } else if (Character.isSurrogate(c)) {
        return found(at, c, "is half a character");
      } else if (c == 0 || (Character.isISOControl(c) && c != '\n' && c != '\r' && c != '\t')) {
        return found(at, c, "is a control character");
      } else if ((c >= 0x202A && c <= 0x202E) || (c >= 0x2066 && c <= 0x2069)) {
        return found(at, c, "changes the writing direction, so that text reads as another one");
      } else if (c == 0xFEFF || c >= 0xFFFE) {
        return found(at, c, "cannot be seen");
      }
    }
    return Optional.empty();
  }

  private static Optional<Forbidden> found(int at, char c, String why) {
    return Optional.of(
        new Forbidden(at, String.format("the character U+%04X %s; remove it", (int) c, why)));
  }

  /** The first space that only looks like one, such as a no-break space; −1 without any. */
  static int oddSpace(String text) {
    for (int at = 0; at < text.length(); at++) {
      char c = text.charAt(at);
      if (c > ' ' && (Character.isSpaceChar(c) || c == 0x200B || c == 0x2060)) {
        return at;
      }
    }
    return -1;
  }

  /** What to say of {@link #oddSpace}. */
  static String oddSpaceWords(char space) {
    return String.format(
        "there is a %s (U+%04X) here, which only looks like a space; use an ordinary one",
        space == 0xA0 || space == 0x202F ? "no-break space" : "special space", (int) space);
  }

  /**
   * Why a text is no name for anything; nothing if it is one.
   *
   * @param most how many characters a name may have
   */
  public static Optional<String> nameProblem(String text, int most) {
    if (text == null || text.isBlank()) {
      return Optional.of("a name is missing");
    }
    Optional<Forbidden> forbidden = forbidden(text);
    if (forbidden.isPresent()) {
      return Optional.of("in \"" + visible(text) + "\" " + forbidden.get().words());
    }
    if (!text.equals(text.strip())
        || oddSpace(text.substring(0, 1)) == 0
        || oddSpace(text.substring(text.length() - 1)) == 0) {
      return Optional.of("a name has no spaces around it, unlike \"" + visible(text) + "\"");
    }
    if (text.indexOf('\n') >= 0 || text.indexOf('\t') >= 0 || text.indexOf('\r') >= 0) {
      return Optional.of("a name stands in one line and has no tabs");
    }
    return text.length() > most
        ? Optional.of("a name has at most " + most + " characters, not " + text.length())
        : Optional.empty();
  }

  /** A text as a message may quote it: what cannot be seen is spelled out, and it is not long. */
  public static String visible(String text) {
    StringBuilder shown = new StringBuilder();
    for (int at = 0; at < text.length() && at < 80; at++) {
      char c = text.charAt(at);
      Optional<Forbidden> odd = forbidden(String.valueOf(c));
      boolean pair = Character.isSurrogate(c) && forbidden(text).isEmpty();
      shown.append(
          (odd.isPresent() && !pair) || c == '\n' || c == '\t'
              ? String.format("\\u%04X", (int) c)
              : String.valueOf(c));
    }
    return text.length() > 80 ? shown + "…" : shown.toString();
  }
}
