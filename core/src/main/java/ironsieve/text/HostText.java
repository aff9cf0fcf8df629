package ironsieve.text;

import ironsieve.model.Value;
import java.util.Locale;
import java.util.regex.Pattern;

/** Host names as text: labels of letters, digits and hyphens, after RFC 1123, with dots between. */
public final class HostText {

  private static final String BELOW = "*.";
  private static final int LONGEST = 253;
  private static final String LABEL = "[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?";
  private static final Pattern NAME = Pattern.compile(LABEL + "(\\." + LABEL + ")*");

  private HostText() {}

  /**
   * Reads a host name, or the names below one, such as {@code *.shop.example}.
   *
   * @throws TextException saying what a host name is
   */
  static Value.HostName parse(String text) {
    return text.startsWith(BELOW)
        ? new Value.HostName(name(text.substring(BELOW.length())), Value.HostName.Reach.BELOW)
        : new Value.HostName(name(text), Value.HostName.Reach.EXACT);
  }

  /** Writes it so that {@link #parse} reads it back. */
  static String print(Value.HostName host) {
    return (host.reach() == Value.HostName.Reach.BELOW ? BELOW : "") + host.name();
  }

  /**
   * Reads a host name; capitals become small.
   *
   * @throws TextException saying what a host name is
   */
  public static String name(String text) {
    String name = text.toLowerCase(Locale.ROOT);
    if (name.length() > LONGEST || !NAME.matcher(name).matches()) {
      throw new TextException(
          0,
          "\""
              + text
              + "\" is no host name: letters, digits and hyphens with dots between, such as"
              + " shop.example, or *.shop.example for the names below it");
    }
    return name;
  }
}
