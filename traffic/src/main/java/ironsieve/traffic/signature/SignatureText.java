package ironsieve.traffic.signature;

import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.text.TextException;
import ironsieve.text.ValueText;
import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.signature.Condition.All;
import ironsieve.traffic.signature.Condition.Any;
import ironsieve.traffic.signature.Condition.Not;
import ironsieve.traffic.signature.Condition.Term;
import ironsieve.traffic.signature.ValueTest.How;
import ironsieve.traffic.signature.ValueTest.Literal;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * Signatures as text, one on each line:
 *
 * <pre>
 * signature   = [ "feature" FEATURE ":" ] condition ;
 * condition   = conjunction { "or" conjunction } ;
 * conjunction = part { "and" part } ;
 * part        = "not" part | "(" condition ")" | term ;
 * term        = FIELD [ HEADER ] test ;
 * test        = ( "is" | "starts" | "ends" | "contains" | "under" ) VALUE { "," VALUE }
 *             | "at" NUMBER "is" HEX | "matches" "/" EXPRESSION "/"
 *             | NUMBER "in" NUMBER ".." NUMBER | VALUE { "," VALUE } ;
 * VALUE       = letters without spaces, commas or brackets | text in double quotes | HEX ;
 * HEX         = "hex" digits in double quotes, "?" for four bits that do not matter ;
 * </pre>
 */
public final class SignatureText {

  /** A longer signature says too much. */
  public static final int MOST_LETTERS = 4_000;

  private static final int MOST_DEPTH = 20;
  private static final int MOST_VALUES = 1_000;
  private static final int LONGEST_SIZE = 65_535;
  private static final List<Field> LONGEST_FIRST =
      Stream.of(Field.values())
          .sorted(Comparator.comparingInt((Field field) -> field.word().length()).reversed())
          .toList();
  private static final List<String> PROTOCOLS = List.of("TLS", "QUIC", "HTTP", "DNS", "WebSocket");
  private static final List<String> RESERVED =
      List.of(
          "and",
          "or",
          "not",
          "is",
          "in",
          "at",
          "hex",
          "starts",
          "ends",
          "contains",
          "under",
          "matches");

  private final String text;
  private int at;
  private int depth;

  private final ExpressionSize.Sum expressions;

  private SignatureText(String text, ExpressionSize.Sum expressions) {
    this.text = text;
    this.expressions = expressions;
  }

  /**
   * Reads a signature of an application.
   *
   * @throws TextException saying where it cannot be read, and what would be right
   */
  public static Signature parse(String application, boolean isOwn, String text) {
    return parse(application, isOwn, text, new ExpressionSize.Sum());
  }

  /**
   * The same for one of many that are held together.
   *
   * @param expressions what the regular expressions before it came to; those of this one are added
   */
  static Signature parse(
      String application, boolean isOwn, String text, ExpressionSize.Sum expressions) {
    if (text.length() > MOST_LETTERS) {
      throw new TextException(MOST_LETTERS, "a signature has at most " + MOST_LETTERS + " letters");
    }
    SignatureText reader = new SignatureText(text, expressions);
    Optional<String> feature = reader.feature();
    Condition condition = reader.condition();
    reader.space();
    if (reader.at < text.length()) {
      throw reader.fault("\"and\", \"or\" or the end of the signature");
    }
    Signature signature = new Signature(application, feature, isOwn, condition);
    Clause.of(signature); // Refuses what cannot be compiled.
    return signature;
  }

  /** A signature as text; reading it gives the same. */
  public static String print(Signature signature) {
    return signature.feature().map(name -> "feature " + name + ": ").orElse("")
        + signature.condition();
  }

  private Optional<String> feature() {
    space();
    if (!word("feature")) {
      return Optional.empty();
    }
    int colon = text.indexOf(':', at);
    if (colon < 0) {
      throw fault("the feature's name and a colon, such as feature upload: …");
    }
    String name = text.substring(at, colon).strip();
    if (name.isEmpty()) {
      throw fault("the feature's name");
    }
    at = colon + 1;
    return Optional.of(name);
  }

  private Condition condition() {
    if (++depth > MOST_DEPTH) {
      throw new TextException(at, "brackets lie at most " + MOST_DEPTH + " deep");
    }
    List<Condition> parts = new ArrayList<>();
    do {
      parts.add(conjunction());
    } while (word("or"));
    depth--;
    return parts.size() == 1 ? parts.get(0) : new Any(parts);
  }

  private Condition conjunction() {
    List<Condition> parts = new ArrayList<>();
    do {
      parts.add(part());
    } while (word("and"));
    return parts.size() == 1 ? parts.get(0) : new All(parts);
  }

  private Condition part() {
    space();
    if (word("not")) {
      if (++depth > MOST_DEPTH) {
        throw new TextException(at, "brackets lie at most " + MOST_DEPTH + " deep");
      }
      Not not = new Not(part());
      depth--;
      return not;
    }
    if (at < text.length() && text.charAt(at) == '(') {
      at++;
      Condition inside = condition();
      space();
      if (at >= text.length() || text.charAt(at) != ')') {
        throw fault("a closing bracket");
      }
      at++;
      return inside;
    }
    return term();
  }

  private Term term() {
    Field field = field();
    String header = "";
    if (field == Field.HEADER) {
      header =
          value("the header's name, such as header User-Agent contains …").toLowerCase(Locale.ROOT);
    }
    return new Term(field, header, test(field));
  }

  private Field field() {
    space();
    for (Field field : LONGEST_FIRST) {
      if (word(field.word())) {
        return field;
      }
    }
    throw fault(
        "a field: " + Stream.of(Field.values()).map(Field::word).collect(Collectors.joining(", ")));
  }

  private ValueTest test(Field field) {
    switch (field) {
      case PORT:
        return new ValueTest.Ports(values(this::service));
      case ADDRESS:
        return new ValueTest.Networks(values(this::network));
      case CLIENT_SIZES, SERVER_SIZES:
        return size(field == Field.CLIENT_SIZES);
      default:
        return compared(field);
    }
  }

  private ValueTest compared(Field field) {
    for (How how : How.values()) {
      if (word(how.word())) {
        return how == How.STARTS && isHex() ? masked(0) : literals(field, how);
      }
    }
    if (field.kind() == Field.Kind.NAME && word("under")) {
      return new ValueTest.Under(values(() -> Fact.name(value("a name"))));
    }
    if (field.kind() == Field.Kind.BYTES && word("at")) {
      int offset = number(0, 511, "how many bytes lie before, 0 to 511");
      if (!word("is") || !isHex()) {
        throw fault("is hex \"…\" after at " + offset);
      }
      return masked(offset);
    }
    if (word("matches")) {
      return expression();
    }
    throw fault(
        field.kind() == Field.Kind.NAME
            ? "is, under, starts, ends, contains or matches"
            : field.kind() == Field.Kind.BYTES
                ? "starts, contains, ends, is, at or matches"
                : "is, starts, ends, contains or matches");
  }

  private ValueTest literals(Field field, How how) {
    List<Literal> literals =
        values(
            () -> {
              int from = at;
              Literal literal = literal();
              if (literal.bytes().length == 0) {
                throw new TextException(from, "an empty text is in everything");
              }
              return switch (field.kind()) {
                case NAME -> Literal.text(Fact.name(literalText(literal)));
                case WORD -> Literal.text(keyword(field, literalText(literal), from));
                default -> literal;
              };
            });
    return new ValueTest.Text(how, literals);
  }

  /** A word as connections show it. */
  private static String keyword(Field field, String word, int from) {
    if (field == Field.METHOD) {
      return word.toUpperCase(Locale.ROOT);
    }
    if (field != Field.PROTOCOL) {
      return word;
    }
    return PROTOCOLS.stream()
        .filter(word::equalsIgnoreCase)
        .findFirst()
        .orElseThrow(
            () ->
                new TextException(
                    from,
                    "a protocol is one of "
                        + String.join(", ", PROTOCOLS)
                        + "; others are told by their first bytes, not \""
                        + word
                        + "\""));
  }

  private static String literalText(Literal literal) {
    return new String(literal.bytes(), StandardCharsets.UTF_8);
  }

  private boolean isHex() {
    space();
    return text.startsWith("hex", at)
        && at + 3 < text.length()
        && !Character.isLetterOrDigit(text.charAt(at + 3));
  }

  private Literal literal() {
    if (!isHex()) {
      return Literal.text(value("a text, or hex \"…\""));
    }
    int from = at;
    ValueTest.Masked masked = masked(0);
    for (byte mask : masked.mask()) {
      if (mask != -1) {
        throw new TextException(from, "\"?\" can stand only after starts and after at … is");
      }
    }
    return new Literal(masked.bytes(), true);
  }

  private ValueTest.Masked masked(int offset) {
    at += 3;
    space();
    int from = at;
    String digits = value("the digits in quotes, such as hex \"16 03 ?? 01\"").replace(" ", "");
    if (digits.isEmpty() || digits.length() % 2 != 0 || !digits.matches("[0-9a-fA-F?]+")) {
      throw new TextException(
          from, "bytes are two digits each, 0 to 9, a to f, or ?, such as hex \"16 03 ?? 01\"");
    }
    byte[] bytes = new byte[digits.length() / 2];
    byte[] mask = new byte[bytes.length];
    for (int i = 0; i < digits.length(); i++) {
      int shift = i % 2 == 0 ? 4 : 0;
      if (digits.charAt(i) != '?') {
        bytes[i / 2] |= (byte) (Character.digit(digits.charAt(i), 16) << shift);
        mask[i / 2] |= (byte) (15 << shift);
      }
    }
    if (mask[0] == 0) {
      throw new TextException(from, "the first byte matters; begin with at NUMBER is hex");
    }
    return new ValueTest.Masked(offset, bytes, mask);
  }

  private ValueTest expression() {
    space();
    if (at >= text.length() || text.charAt(at) != '/') {
      throw fault("a regular expression between slashes");
    }
    int from = at + 1;
    int end = from;
    while (end < text.length() && text.charAt(end) != '/') {
      end += text.charAt(end) == '\\' ? 2 : 1;
    }
    if (end >= text.length()) {
      throw new TextException(from, "the regular expression has no closing slash");
    }
    String expression = text.substring(from, end).replace("\\/", "/");
    at = end + 1;
    long size = ExpressionSize.of(expression);
    if (size > ExpressionSize.MOST) {
      throw new TextException(
          from,
          "a regular expression is at most "
              + ExpressionSize.MOST
              + " steps long once its repetitions are written out, and "
              + ExpressionSize.MOST_DEPTH
              + " brackets deep; repeat less");
    }
    if (!expressions.add(size)) {
      throw new TextException(
          from,
          String.format(
              "the regular expressions of all signatures together are at most %,d steps long, and"
                  + " this one is too much; ask for plain texts instead",
              ExpressionSize.MOST_IN_SUM));
    }
    Pattern pattern;
    try {
      pattern = Pattern.compile(expression);
    } catch (PatternSyntaxException e) {
      throw new TextException(from, "no regular expression: " + e.getDescription());
    }
    Literal literal =
        Literals.in(expression)
            .orElseThrow(
                () ->
                    new TextException(
                        from,
                        "a regular expression has three letters in a row that are in every text it"
                            + " fits, outside of brackets and choices; only where they are it is"
                            + " tried"));
    return new ValueTest.Matches(pattern, literal);
  }

  private ValueTest size(boolean byClient) {
    int number = number(1, 8, "which packet, 1 to 8");
    if (!word("in")) {
      throw fault("in LOW..HIGH, such as in 40..60");
    }
    int from = at;
    String range = value("bytes from … to …, such as 40..60");
    String[] ends = range.split("\\.\\.", -1);
    if (ends.length != 2 || !ends[0].matches("\\d{1,5}") || !ends[1].matches("\\d{1,5}")) {
      throw new TextException(from, "bytes from … to …, such as 40..60, not \"" + range + "\"");
    }
    int low = Integer.parseInt(ends[0]);
    int high = Integer.parseInt(ends[1]);
    if (low > high || high > LONGEST_SIZE) {
      throw new TextException(from, "a size is 0 to " + LONGEST_SIZE + ", the smaller first");
    }
    return new ValueTest.Size(byClient, number, low, high);
  }

  private int number(int low, int high, String what) {
    int from = at;
    String digits = value(what);
    if (!digits.matches("\\d{1,5}")
        || Integer.parseInt(digits) < low
        || Integer.parseInt(digits) > high) {
      throw new TextException(from, what + ", not \"" + digits + "\"");
    }
    return Integer.parseInt(digits);
  }

  private Value.ServiceRange service() {
    int from = at;
    if (parsed(ValueKind.SERVICE, "a service, such as tcp/443")
        instanceof Value.ServiceRange range) {
      return range;
    }
    throw new TextException(from, "a service, such as tcp/443");
  }

  private ironsieve.region.Range<ironsieve.region.Address> network() {
    int from = at;
    Value value = parsed(ValueKind.NETWORK, "a network, such as 203.0.113.0/24");
    if (value instanceof Value.Network network) {
      return network.range();
    }
    throw new TextException(from, "a network, such as 203.0.113.0/24");
  }

  private Value parsed(ValueKind kind, String what) {
    int from = at;
    try {
      return ValueText.parse(kind, value(what));
    } catch (TextException e) {
      throw e;
    } catch (IllegalArgumentException e) {
      throw new TextException(from, e.getMessage());
    }
  }

  private <T> List<T> values(java.util.function.Supplier<T> one) {
    List<T> values = new ArrayList<>();
    do {
      if (values.size() >= MOST_VALUES) {
        throw fault("at most " + MOST_VALUES + " values");
      }
      space();
      values.add(one.get());
      space();
    } while (at < text.length() && text.charAt(at) == ',' && at++ >= 0);
    return values;
  }

  /** A word or a text in quotes. */
  private String value(String what) {
    space();
    if (at < text.length() && text.charAt(at) == '"') {
      return quotedValue();
    }
    int from = at;
    while (at < text.length() && " \t,()\"".indexOf(text.charAt(at)) < 0) {
      at++;
    }
    String word = text.substring(from, at);
    if (word.isEmpty() || RESERVED.contains(word)) {
      at = from;
      throw fault(what);
    }
    return word;
  }

  private String quotedValue() {
    int from = at++;
    StringBuilder value = new StringBuilder();
    while (at < text.length() && text.charAt(at) != '"') {
      char c = text.charAt(at++);
      if (c == '\\' && at < text.length()) {
        char escaped = text.charAt(at++);
        c =
            switch (escaped) {
              case 'n' -> '\n';
              case 'r' -> '\r';
              case 't' -> '\t';
              default -> escaped;
            };
      }
      value.append(c);
    }
    if (at >= text.length()) {
      throw new TextException(from, "the text in quotes has no end");
    }
    at++;
    return value.toString();
  }

  /** Whether the next word is this one, in capitals or not; then it is passed. */
  private boolean word(String word) {
    space();
    int end = at + word.length();
    boolean isThere =
        text.regionMatches(true, at, word, 0, word.length())
            && (end == text.length() || " \t(),\":/".indexOf(text.charAt(end)) >= 0);
    if (isThere) {
      at = end;
    }
    return isThere;
  }

  private void space() {
    while (at < text.length() && (text.charAt(at) == ' ' || text.charAt(at) == '\t')) {
      at++;
    }
  }

  private TextException fault(String expected) {
    String here = text.substring(Math.min(at, text.length())).strip();
    String found =
        here.isEmpty()
            ? "the signature ends here"
            : "\"" + (here.length() > 30 ? here.substring(0, 30) + "…" : here) + "\" stands here";
    return new TextException(at, found + "; expected " + expected);
  }

  /** A value as it can stand in a signature. */
  static String quote(String value) {
    boolean isPlain =
        !value.isEmpty()
            && value.chars().noneMatch(c -> c <= ' ' || ",()\"\\".indexOf(c) >= 0 || c == 0x7F)
            && !RESERVED.contains(value);
    return isPlain ? value : quoted(value);
  }

  static String quoted(String value) {
    StringBuilder quoted = new StringBuilder("\"");
    for (char c : value.toCharArray()) {
      switch (c) {
        case '"', '\\' -> quoted.append('\\').append(c);
        case '\n' -> quoted.append("\\n");
        case '\r' -> quoted.append("\\r");
        case '\t' -> quoted.append("\\t");
        default -> quoted.append(c);
      }
    }
    return quoted.append('"').toString();
  }

  /** Finds bytes that every text a regular expression fits must hold. */
  static final class Literals {
    private static final int SHORTEST = 3;

    private Literals() {}

    /** The longest row of plain letters outside of brackets and choices; nothing below three. */
    static Optional<Literal> in(String expression) {
      List<String> rows = new ArrayList<>();
      StringBuilder row = new StringBuilder();
      int depth = 0;
      for (int i = 0; i < expression.length(); i++) {
        char c = expression.charAt(i);
        boolean isPlain = depth == 0 && "\\^$.|?*+()[]{}".indexOf(c) < 0 && c < 0x80;
        boolean isQuantified =
            i + 1 < expression.length() && "?*{".indexOf(expression.charAt(i + 1)) >= 0;
        if (isPlain && !isQuantified) {
          row.append(c);
          continue;
        }
        if (c == '\\' && depth == 0 && i + 1 < expression.length()) {
          char escaped = expression.charAt(i + 1);
          if ("pPQ".indexOf(escaped) >= 0 || expression.startsWith("x{", i + 1)) {
            return Optional.empty();
          }
          boolean isAgain =
              i + 2 < expression.length() && "?*{".indexOf(expression.charAt(i + 2)) >= 0;
          i++;
          if (!Character.isLetterOrDigit(escaped) && !isAgain) {
            row.append(escaped);
            continue;
          }
          i += escaped == 'x' ? 2 : 0; // Its two digits are no letters of the text.
        } else if (c == '|' && depth == 0) {
          return Optional.empty();
        } else if (c == '[') {
          i = endOfClass(expression, i);
        } else if (c == '(') {
          if (expression.startsWith("(?", i) && depth == 0 && !expression.startsWith("(?:", i)) {
            return Optional.empty(); // Flags, such as capitals or not.
          }
          depth++;
        } else if (c == ')') {
          depth = Math.max(0, depth - 1);
        } else if (c == '{') {
          i = Math.max(i, expression.indexOf('}', i));
        } else if (c == '\\') {
          i++;
        }
        rows.add(row.toString());
        row.setLength(0);
      }
      rows.add(row.toString());
      return rows.stream()
          .max(Comparator.comparingInt(String::length))
          .filter(longest -> longest.length() >= SHORTEST)
          .map(Literal::text);
    }

    private static int endOfClass(String expression, int from) {
      int at = from + 1;
      if (at < expression.length() && expression.charAt(at) == '^') {
        at++;
      }
      at++; // A bracket that stands first is meant itself.
      while (at < expression.length() && expression.charAt(at) != ']') {
        at += expression.charAt(at) == '\\' ? 2 : 1;
      }
      return at;
    }
  }
}
