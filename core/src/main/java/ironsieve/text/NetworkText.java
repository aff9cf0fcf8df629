package ironsieve.text;

import ironsieve.model.Value;
import ironsieve.region.Address;
import ironsieve.region.Range;

/**
 * Addresses and ranges of them as text: {@code 10.20.0.7}, {@code 10.20.0.0/16}, {@code
 * 10.20.0.1-10.20.0.9}, and the same in IPv6.
 */
public final class NetworkText {

  private NetworkText() {}

  /**
   * Reads an address, a prefix or a range.
   *
   * @throws TextException naming what is wrong with it and what would be right
   */
  static Value parse(String text) {
    try {
      int slash = text.indexOf('/');
      int dash = text.indexOf('-');
      if (slash >= 0) {
        return prefix(text, Address.parse(text.substring(0, slash)), text.substring(slash + 1));
      }
      Address low = Address.parse(dash < 0 ? text : text.substring(0, dash).trim());
      Address high = dash < 0 ? low : Address.parse(text.substring(dash + 1).trim());
      if (low.version() != high.version() || low.compareTo(high) > 0) {
        throw new TextException(0, "\"" + text + "\": a range goes upwards within one IP version");
      }
      return new Value.Network(new Range<>(low, high));
    } catch (TextException e) {
      throw e;
    } catch (IllegalArgumentException e) {
      throw new TextException(
          0,
          e.getMessage() + "; a network is such as 10.20.0.7, 10.20.0.0/16 or 10.20.0.1-10.20.0.9");
    }
  }

  private static Value prefix(String text, Address address, String length) {
    int bits = NumberText.within(length, 0, address.bits(), text);
    if (!address.lowest(bits).equals(address)) {
      throw new TextException(
          0,
          "\""
              + text
              + "\" has bits set behind its prefix; "
              + address.lowest(bits)
              + "/"
              + bits
              + " is the network, "
              + address
              + " the host");
    }
    return new Value.Network(new Range<>(address, address.highest(bits)));
  }

  /** A range as a host, a prefix where it is one, otherwise both ends. */
  public static String print(Range<Address> range) {
    if (range.low().equals(range.high())) {
      return range.low().toString();
    }
    for (int bits = 0; bits <= range.low().bits(); bits++) {
      if (range.low().lowest(bits).equals(range.low())
          && range.low().highest(bits).equals(range.high())) {
        return range.low() + "/" + bits;
      }
    }
    return range.low() + "-" + range.high();
  }
}
