package ironsieve.traffic.signature;

import com.google.re2j.Pattern;
import ironsieve.model.Service;
import ironsieve.model.Value.ServiceRange;
import ironsieve.region.Address;
import ironsieve.region.Range;
import ironsieve.text.NetworkText;
import ironsieve.traffic.protocol.ConnectionFacts;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;

/** What a value is compared with. A list of alternatives holds if one of them does. */
public sealed interface ValueTest {

  /** Whether a value is what is asked for; of tests for texts and bytes. */
  default boolean holds(byte[] value) {
    return false;
  }

  /** Whether a connection is what is asked for; of tests for ports, addresses and sizes. */
  default boolean holds(ConnectionFacts shown) {
    return false;
  }

  /** The alternatives of a list one by one. */
  default List<ValueTest> single() {
    return List.of(this);
  }

  /** How two texts are compared. */
  enum How {
    IS("is"),
    STARTS("starts"),
    ENDS("ends"),
    CONTAINS("contains");

    private final String word;

    How(String word) {
      this.word = word;
    }

    String word() {
      return word;
    }
  }

  /** One text or row of bytes; equal if its bytes are. */
  record Literal(byte[] bytes, boolean isHex) {

    static Literal text(String text) {
      return new Literal(text.getBytes(StandardCharsets.UTF_8), false);
    }

    boolean at(byte[] value, int offset) {
      return offset >= 0
          && offset + bytes.length <= value.length
          && Arrays.equals(value, offset, offset + bytes.length, bytes, 0, bytes.length);
    }

    @Override
    public boolean equals(Object other) {
      return other instanceof Literal literal && Arrays.equals(bytes, literal.bytes);
    }

    @Override
    public int hashCode() {
      return Arrays.hashCode(bytes);
    }

    @Override
    public String toString() {
      return isHex
          ? "hex \"" + java.util.HexFormat.ofDelimiter(" ").formatHex(bytes) + "\""
          : SignatureText.quote(new String(bytes, StandardCharsets.UTF_8));
    }
  }

  /** Texts compared byte by byte. */
  record Text(How how, List<Literal> values) implements ValueTest {
    public Text {
      values = List.copyOf(values);
    }

    @Override
    public boolean holds(byte[] value) {
      return values.stream().anyMatch(literal -> holds(literal, value));
    }

    @Override
    public List<ValueTest> single() {
      return values.stream().map(one -> (ValueTest) new Text(how, List.of(one))).toList();
    }

    private boolean holds(Literal literal, byte[] value) {
      return switch (how) {
        case IS -> Arrays.equals(literal.bytes(), value);
        case STARTS -> literal.at(value, 0);
        case ENDS -> literal.at(value, value.length - literal.bytes().length);
        case CONTAINS -> {
          for (int at = 0; at <= value.length - literal.bytes().length; at++) {
            if (literal.at(value, at)) {
              yield true;
            }
          }
          yield false;
        }
      };
    }

    @Override
    public String toString() {
      return how.word() + " " + joined(values);
    }
  }

  /** Names, each with all names below it. */
  record Under(List<String> names) implements ValueTest {
    public Under {
      names = List.copyOf(names);
    }

    @Override
    public boolean holds(byte[] value) {
      String name = new String(value, StandardCharsets.UTF_8);
      return names.stream().anyMatch(top -> name.equals(top) || name.endsWith("." + top));
    }

    @Override
    public List<ValueTest> single() {
      return names.stream().map(one -> (ValueTest) new Under(List.of(one))).toList();
    }

    @Override
    public String toString() {
      return "under " + joined(names.stream().map(SignatureText::quote).toList());
    }
  }

  /**
   * Bytes at a place, some bits of which do not matter.
   *
   * @param offset how many bytes lie before
   * @param mask has the bits that matter
   */
  record Masked(int offset, byte[] bytes, byte[] mask) implements ValueTest {
    @Override
    public boolean holds(byte[] value) {
      if (offset + bytes.length > value.length) {
        return false;
      }
      for (int i = 0; i < bytes.length; i++) {
        if (((value[offset + i] ^ bytes[i]) & mask[i]) != 0) {
          return false;
        }
      }
      return true;
    }

    @Override
    public boolean equals(Object other) {
      return other instanceof Masked masked
          && offset == masked.offset
          && Arrays.equals(bytes, masked.bytes)
          && Arrays.equals(mask, masked.mask);
    }

    @Override
    public int hashCode() {
      return 31 * (31 * offset + Arrays.hashCode(bytes)) + Arrays.hashCode(mask);
    }

    @Override
    public String toString() {
      StringBuilder hex = new StringBuilder();
      for (int i = 0; i < bytes.length; i++) {
        hex.append(i == 0 ? "" : " ");
        hex.append(nibble(bytes[i] >> 4, mask[i] >> 4)).append(nibble(bytes[i], mask[i]));
      }
      return (offset == 0 ? "starts" : "at " + offset + " is") + " hex \"" + hex + "\"";
    }

    private static char nibble(int value, int mask) {
      return (mask & 15) == 0 ? '?' : Character.forDigit(value & 15, 16);
    }
  }

  /**
   * A regular expression, found anywhere; worked out in linear time.
   *
   * @param literal bytes that every text it fits holds; it is only tried where they are
   */
  record Matches(Pattern pattern, Literal literal) implements ValueTest {
    @Override
    public boolean holds(byte[] value) {
      return pattern.matcher(ConnectionFacts.latin(value, 0, value.length)).find();
    }

    @Override
    public boolean equals(Object other) {
      return other instanceof Matches matches
          && pattern.pattern().equals(matches.pattern.pattern());
    }

    @Override
    public int hashCode() {
      return pattern.pattern().hashCode();
    }

    @Override
    public String toString() {
      return "matches /" + pattern.pattern().replace("/", "\\/") + "/";
    }
  }

  /** The service a connection goes to; a hint that is never enough alone. */
  record Ports(List<ServiceRange> ranges) implements ValueTest {
    public Ports {
      ranges = List.copyOf(ranges);
    }

    @Override
    public boolean holds(ConnectionFacts shown) {
      Service service = shown.service();
      return ranges.stream()
          .anyMatch(
              range -> range.low().compareTo(service) <= 0 && service.compareTo(range.high()) <= 0);
    }

    @Override
    public String toString() {
      return joined(ranges.stream().map(ironsieve.text.ValueText::print).toList());
    }
  }

  /** The addresses a connection goes to; a hint that is never enough alone. */
  record Networks(List<Range<Address>> ranges) implements ValueTest {
    public Networks {
      ranges = List.copyOf(ranges);
    }

    @Override
    public boolean holds(ConnectionFacts shown) {
      return ranges.stream().anyMatch(range -> range.contains(shown.server()));
    }

    @Override
    public String toString() {
      return joined(ranges.stream().map(NetworkText::print).toList());
    }
  }

  /**
   * The size of one of the first packets.
   *
   * @param number which one, counted from 1
   * @param low bytes of payload at least
   * @param high bytes of payload at most
   */
  record Size(boolean byClient, int number, int low, int high) implements ValueTest {
    @Override
    public boolean holds(ConnectionFacts shown) {
      int size = shown.size(byClient, number);
      return size >= low && size <= high;
    }

    @Override
    public String toString() {
      return number + " in " + low + ".." + high;
    }
  }

  private static String joined(List<?> values) {
    return values.stream().map(Object::toString).collect(Collectors.joining(", "));
  }
}
