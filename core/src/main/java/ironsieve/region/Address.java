package ironsieve.region;

import inet.ipaddr.AddressStringException;
import inet.ipaddr.IPAddress;
import inet.ipaddr.IPAddressString;
import inet.ipaddr.IPAddressStringParameters;
import java.math.BigInteger;
import java.util.List;

/**
 * One IPv4 or IPv6 address. Both versions share one ordered line: all of IPv4 lies before all of
 * IPv6.
 *
 * @param version which half of the line
 * @param high the upper 64 bits, read as unsigned; 0 for IPv4
 * @param low the lower 64 bits, read as unsigned; 0 … 2³²−1 for IPv4
 */
public record Address(Version version, long high, long low) implements Comparable<Address> {

  /** The two versions of the internet protocol, in the order they have on the line. */
  public enum Version {
    V4("IPv4"),
    V6("IPv6");

    private final String word;

    Version(String word) {
      this.word = word;
    }

    /** The name engineers know it by. */
    public String word() {
      return word;
    }
  }

  private static final IPAddressStringParameters STRICT =
      new IPAddressStringParameters.Builder()
          .allowEmpty(false)
          .allowAll(false)
          .allowSingleSegment(false)
          .allowPrefix(false)
          .allowMask(false)
          .allowWildcardedSeparator(false)
          .setRangeOptions(inet.ipaddr.AddressStringParameters.RangeParameters.NO_RANGE)
          .getIPv4AddressParametersBuilder()
          .allow_inet_aton(false)
          .allowLeadingZeros(false)
          .getParentBuilder()
          .getIPv6AddressParametersBuilder()
          .allowZone(false)
          .allowMixed(false)
          .allowBase85(false)
          .getParentBuilder()
          .toParams();

  private static final BigInteger WORD = BigInteger.ONE.shiftLeft(64);

  /**
   * Reads a dotted IPv4 address or an IPv6 address in any form of RFC 4291 without a dotted tail.
   *
   * @throws IllegalArgumentException naming the text, if it is neither
   */
  public static Address parse(String text) {
    try {
      IPAddress parsed = new IPAddressString(text, STRICT).toAddress();
      if (parsed == null) {
        throw new IllegalArgumentException("\"" + text + "\" is not an address");
      }
      BigInteger bits = parsed.getValue();
      return new Address(
          parsed.isIPv4() ? Version.V4 : Version.V6,
          bits.shiftRight(64).longValue(),
          bits.longValue());
    } catch (AddressStringException e) {
      throw new IllegalArgumentException(
          "\"" + text + "\" is not an IPv4 or IPv6 address, such as 10.20.0.7 or 2001:db8::7", e);
    }
  }

  /** The IPv4 address with these 32 bits. */
  public static Address v4(long bits) {
    return new Address(Version.V4, 0, bits & 0xFFFF_FFFFL);
  }

  /** The first address of a version. */
  public static Address first(Version version) {
    return new Address(version, 0, 0);
  }

  /** The last address of a version. */
  public static Address last(Version version) {
    return version == Version.V4 ? v4(0xFFFF_FFFFL) : new Address(Version.V6, -1, -1);
  }

  // Kept for examples by RFC 5737 and RFC 3849.
  private static final List<Address> EXAMPLES =
      List.of(parse("203.0.113.10"), parse("2001:db8:ffff::10"));

  /**
   * An address of a run that reads well in an example: one kept for documentation if the run has
   * it, otherwise not its very first, which is often a network's own.
   */
  public static Address typical(Range<Address> run) {
    for (Address example : EXAMPLES) {
      if (run.contains(example)) {
        return example;
      }
    }
    Address tenth = new Address(run.low().version(), run.low().high(), run.low().low() + 10);
    if (run.contains(tenth)) {
      return tenth;
    }
    // A network's own address is no host's, if the run has another.
    Address next = new Address(run.low().version(), run.low().high(), run.low().low() + 1);
    return (run.low().low() & 0xFF) == 0 && run.contains(next) ? next : run.low();
  }

  /** Whether a run has an address that {@link #typical} prefers to any other. */
  public static boolean hasExample(Range<Address> run) {
    return EXAMPLES.stream().anyMatch(run::contains);
  }

  /** Whether {@link #typical} prefers this address to any other. */
  public boolean isExample() {
    return EXAMPLES.contains(this);
  }

  /** How many bits an address of this version has: 32 or 128. */
  public int bits() {
    return version == Version.V4 ? 32 : 128;
  }

  /** The lowest address that shares the first {@code prefix} bits with this one. */
  public Address lowest(int prefix) {
    int host = bits() - prefix;
    return host >= 64
        ? new Address(version, host == 128 ? 0 : high & (-1L << (host - 64)), 0)
        : new Address(version, high, host == 0 ? low : low & (-1L << host));
  }

  /** The highest address that shares the first {@code prefix} bits with this one. */
  public Address highest(int prefix) {
    int host = bits() - prefix;
    Address from = lowest(prefix);
    if (host == 0) {
      return from;
    }
    if (host <= 64) {
      return new Address(version, high, host == 64 ? -1L : from.low | ((1L << host) - 1));
    }
    long spread = host == 128 ? -1L : (1L << (host - 64)) - 1;
    return new Address(version, from.high | spread, -1L);
  }

  /** The place of this address within its version, 0 … 2³²−1 or 2¹²⁸−1. */
  public BigInteger number() {
    return unsigned(high).multiply(WORD).add(unsigned(low));
  }

  /** Spread out, for the addresses of a company differ in few bits that lie close together. */
  @Override
  public int hashCode() {
    long mixed = (low + 31 * high + version.ordinal()) * 0x9E3779B97F4A7C15L;
    return (int) (mixed >>> 32);
  }

  @Override
  public int compareTo(Address other) {
    int byVersion = version.compareTo(other.version);
    if (byVersion != 0) {
      return byVersion;
    }
    int byHigh = Long.compareUnsigned(high, other.high);
    return byHigh != 0 ? byHigh : Long.compareUnsigned(low, other.low);
  }

  /** Dotted for IPv4, the canonical form of RFC 5952 for IPv6. */
  @Override
  public String toString() {
    if (version == Version.V4) {
      return (low >>> 24) + "." + (low >>> 16 & 255) + "." + (low >>> 8 & 255) + "." + (low & 255);
    }
    byte[] bytes = new byte[16];
    for (int i = 0; i < 8; i++) {
      bytes[i] = (byte) (high >>> (56 - 8 * i));
      bytes[8 + i] = (byte) (low >>> (56 - 8 * i));
    }
    return new inet.ipaddr.ipv6.IPv6Address(bytes).toCanonicalString();
  }

  private static BigInteger unsigned(long word) {
    BigInteger value = BigInteger.valueOf(word);
    return value.signum() < 0 ? value.add(WORD) : value;
  }
}
