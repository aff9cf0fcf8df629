package ironsieve.traffic.signature;

/**
 * How many steps a regular expression becomes once its bounded repetitions are written out, which
 * is what compiling it does: nested ones multiply, and a few letters could take all memory there
 * is. An upper bound, found without compiling, in time linear in the text.
 */
final class ExpressionSize {

  /** More than this is refused. */
  static final int MOST = 5_000;

  /** All expressions of a catalogue together; what comes after is left out, and told. */
  static final long MOST_IN_SUM = 1_000_000;

  /** Brackets within brackets beyond this are refused. */
  static final int MOST_DEPTH = 50;

  private static final long TOO_MUCH = MOST + 1L;

  private final String text;
  private int at;
  private int depth;

  /** How long the expressions of many signatures are together. */
  static final class Sum {
    private long steps;

    /** Adds one; false, and nothing is added, if that would be more than there may be. */
    boolean add(long more) {
      if (steps + more > MOST_IN_SUM) {
        return false;
      }
      steps += more;
      return true;
    }
  }

  private ExpressionSize(String text) {
    this.text = text;
  }

  /** The number of steps; {@link #MOST} plus one for any larger one, and for too deep brackets. */
  static long of(String expression) {
    ExpressionSize reader = new ExpressionSize(expression);
    long size = 0;
    while (reader.at < expression.length() && size <= MOST) {
      // What follows a bracket too many is still counted; the compiler says what is wrong with it.
      size += reader.row() + 1;
      reader.at++;
    }
    return Math.min(size, TOO_MUCH);
  }

  /** What stands side by side, up to a closing bracket or the end. */
  private long row() {
    if (++depth > MOST_DEPTH) {
      at = text.length();
      return TOO_MUCH;
    }
    long size = 0;
    while (at < text.length() && text.charAt(at) != ')') {
      long one = one();
      size = Math.min(TOO_MUCH, size + repeated(one));
    }
    depth--;
    return size;
  }

  private long one() {
    char c = text.charAt(at++);
    if (c == '(') {
      long inside = row();
      at++;
      return inside + 2;
    }
    if (c == '[') {
      skipClass();
    } else if (c == '\\') {
      skipEscape();
    }
    return 1;
  }

  private void skipClass() {
    at += at < text.length() && text.charAt(at) == '^' ? 1 : 0;
    // A closing bracket that comes first is one of the class.
    at += at < text.length() && text.charAt(at) == ']' ? 1 : 0;
    while (at < text.length() && text.charAt(at) != ']') {
      at += text.charAt(at) == '\\' ? 2 : 1;
    }
    at++;
  }

  private void skipEscape() {
    if (at < text.length() && "pPx".indexOf(text.charAt(at)) >= 0 && text.startsWith("{", at + 1)) {
      int end = text.indexOf('}', at);
      at = end < 0 ? text.length() : end + 1;
    } else {
      at++;
    }
  }

  /** The size of something with all that says how often behind it. */
  private long repeated(long one) {
    long size = one;
    while (at < text.length() && "?*+{".indexOf(text.charAt(at)) >= 0) {
      if (text.charAt(at) != '{') {
        at++;
        size++;
        continue;
      }
      int end = text.indexOf('}', at);
      String inside = end < 0 ? "" : text.substring(at + 1, end);
      if (!inside.matches("\\d{1,9}(,\\d{0,9})?")) {
        // A brace that stands for itself.
        at++;
        size++;
        continue;
      }
      String[] bounds = inside.split(",", -1);
      long times =
          Long.parseLong(
              bounds[bounds.length - 1].isEmpty() ? bounds[0] : bounds[bounds.length - 1]);
      size = Math.min(TOO_MUCH, (size + 1) * Math.max(1, times + (inside.endsWith(",") ? 1 : 0)));
      at = end + 1;
    }
    return size;
  }
}
