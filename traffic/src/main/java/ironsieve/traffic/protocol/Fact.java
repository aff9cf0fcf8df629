package ironsieve.traffic.protocol;

import java.nio.charset.StandardCharsets;
import java.util.Locale;

/**
 * One thing a connection has shown.
 *
 * @param header which header it is the value of, in lower case; empty for every other field
 * @param value its bytes: text in UTF-8; names in lower case without dots at their end
 */
public record Fact(Field field, String header, byte[] value) {

  /** A fact that is text. */
  public static Fact of(Field field, String value) {
    String said = field.kind() == Field.Kind.NAME ? name(value) : value;
    return new Fact(field, "", said.getBytes(StandardCharsets.UTF_8));
  }

  /** The value of a header. */
  public static Fact header(String name, String value) {
    return new Fact(
        Field.HEADER, name.toLowerCase(Locale.ROOT), value.getBytes(StandardCharsets.UTF_8));
  }

  /** The first bytes of a direction. */
  public static Fact bytes(Field field, byte[] value) {
    return new Fact(field, "", value);
  }

  /** A name as it is compared: what was compared so is compared as the same again. */
  public static String name(String name) {
    int end = name.length();
    while (end > 0 && name.charAt(end - 1) == '.') {
      end--;
    }
    return name.substring(0, end).toLowerCase(Locale.ROOT);
  }

  /** Its first bytes, with a dot for what is no letter of ASCII. */
  public String readable(int most) {
    StringBuilder text = new StringBuilder();
    for (int i = 0; i < Math.min(value.length, most); i++) {
      text.append(value[i] >= 0x20 && value[i] < 0x7F ? (char) value[i] : '·');
    }
    return text.toString();
  }

  /** The value as text. */
  public String text() {
    return new String(value, StandardCharsets.UTF_8);
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof Fact fact
        && field == fact.field
        && header.equals(fact.header)
        && java.util.Arrays.equals(value, fact.value);
  }

  @Override
  public int hashCode() {
    return 31 * (31 * field.hashCode() + header.hashCode()) + java.util.Arrays.hashCode(value);
  }

  @Override
  public String toString() {
    return field.word() + (header.isEmpty() ? "" : " " + header) + " " + text();
  }
}
