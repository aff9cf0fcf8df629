package ironsieve.traffic.protocol;

import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * Takes what is nobody's business out of what a connection shows, as it is read and before anything
 * is kept of it: passwords, cookies, keys and tokens in headers, in addresses of pages and in the
 * first bytes of protocols that sign in openly. Each letter becomes a star, so that what is left
 * has its length; a scheme such as {@code Basic} stays. More names of headers and parameters can be
 * given, with commas between, in the environment as {@code IRON_SIEVE_SECRET_NAMES}.
 */
final class SecretValues {

  private static final Set<String> NAMES =
      Stream.concat(
              Stream.of("authorization", "proxy-authorization", "cookie", "set-cookie", "sid"),
              Stream.of(or(System.getenv("IRON_SIEVE_SECRET_NAMES")).split(","))
                  .map(name -> name.strip().toLowerCase(Locale.ROOT))
                  .filter(name -> !name.isEmpty()))
          .collect(Collectors.toUnmodifiableSet());

  /** Words in the names of headers and parameters that hold secrets. */
  private static final Pattern TELLING =
      Pattern.compile(
          "(api|access|auth|private|secret)[-_]?key|token|secret|passw(or)?d|pwd|session|credential"
              + "|signature|authenticat(e|ion)");

  private static final Pattern SCHEME = Pattern.compile("([A-Za-z][A-Za-z0-9-]{1,15}) +(.*)");
  private static final Pattern PARAMETER = Pattern.compile("([?&;#]|^)([^=&;#?]{1,100})=([^&;#]*)");
  private static final Pattern HEADER_LINE =
      Pattern.compile("(?m)^([A-Za-z0-9_-]{1,100}):[ \\t]*([^\\r\\n]*)");

  /**
   * Commands of protocols that send a password in the clear: what follows the first word, or two.
   */
  private static final Pattern COMMAND =
      Pattern.compile(
          "(?im)^((?:PASS|AUTH +[A-Z0-9-]+|[A-Za-z0-9]{1,10} +LOGIN +\\S+|LOGIN +\\S+"
              + "|[A-Za-z0-9]{1,10} +AUTHENTICATE +[A-Z0-9-]+) +)([^\\r\\n]+)");

  private SecretValues() {}

  private static String or(String text) {
    return text == null ? "" : text;
  }

  /** The same fact without secrets in it; the same object where there is none. */
  static Fact masked(Fact fact) {
    return switch (fact.field()) {
      case HEADER -> isSecret(fact.header()) ? with(fact, maskedValue(fact.text())) : fact;
      case PATH -> with(fact, parameters(text(fact)));
      case CLIENT_BYTES, SERVER_BYTES -> with(fact, lines(text(fact)));
      default -> fact;
    };
  }

  private static boolean isSecret(String name) {
    String lower = name.toLowerCase(Locale.ROOT);
    return NAMES.contains(lower) || TELLING.matcher(lower).find();
  }

  /** Bytes as characters, one for each, so that their number stays. */
  private static String text(Fact fact) {
    return new String(fact.value(), StandardCharsets.ISO_8859_1);
  }

  private static Fact with(Fact fact, String text) {
    byte[] masked = text.getBytes(StandardCharsets.ISO_8859_1);
    return java.util.Arrays.equals(masked, fact.value())
        ? fact
        : new Fact(fact.field(), fact.header(), masked);
  }

  private static String stars(String text) {
    return "*".repeat(text.length());
  }

  private static String maskedValue(String value) {
    Matcher scheme = SCHEME.matcher(value);
    return scheme.matches() ? scheme.group(1) + " " + stars(scheme.group(2)) : stars(value);
  }

  private static String parameters(String path) {
    int query = path.indexOf('?');
    if (query < 0) {
      return path;
    }
    return path.substring(0, query)
        + PARAMETER
            .matcher(path.substring(query))
            .replaceAll(
                found ->
                    Matcher.quoteReplacement(
                        found.group(1)
                            + found.group(2)
                            + "="
                            + (isSecret(found.group(2)) ? stars(found.group(3)) : found.group(3))));
  }

  private static String lines(String bytes) {
    String commands =
        COMMAND
            .matcher(bytes)
            .replaceAll(found -> Matcher.quoteReplacement(found.group(1) + stars(found.group(2))));
    String headers =
        HEADER_LINE
            .matcher(commands)
            .replaceAll(
                found ->
                    Matcher.quoteReplacement(
                        isSecret(found.group(1))
                            ? found.group().substring(0, found.start(2) - found.start())
                                + stars(found.group(2))
                            : found.group()));
    int lineEnd = headers.indexOf('\n');
    String first = lineEnd < 0 ? headers : headers.substring(0, lineEnd);
    return first.contains("?") ? parameters(first) + headers.substring(first.length()) : headers;
  }
}
