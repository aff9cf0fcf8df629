package ironsieve.model;

import ironsieve.region.Line;
import java.util.Map;

/**
 * One point of the service line.
 *
 * @param protocol the IP protocol number, 0 … 255
 * @param detail the destination port, 0 … 65535, for protocols that have ports; type × 256 + code
 *     for ICMP and ICMPv6; 0 for every other protocol
 */
public record Service(int protocol, int detail) implements Comparable<Service> {

  public static final int ICMP = 1;
  public static final int TCP = 6;
  public static final int UDP = 17;
  public static final int ICMPV6 = 58;
  public static final int SCTP = 132;

  /** The protocols that have a name here, by name. */
  public static final Map<String, Integer> PROTOCOLS =
      Map.of("icmp", ICMP, "tcp", TCP, "udp", UDP, "icmpv6", ICMPV6, "sctp", SCTP);

  /** The line that services lie on as numbers; see {@link #number()}. */
  public static final Line<Integer> LINE = Line.integers(0, (255 << 16) | 0xFFFF);

  public Service {
    if (protocol < 0 || protocol > 255) {
      throw new IllegalArgumentException("an IP protocol is 0 to 255, not " + protocol);
    }
    if (detail < 0 || detail > lastDetail(protocol)) {
      throw new IllegalArgumentException(
          "protocol " + protocol + " has details 0 to " + lastDetail(protocol) + ", not " + detail);
    }
  }

  /** Whether connections of a protocol go to a port. */
  public static boolean hasPorts(int protocol) {
    return protocol == TCP || protocol == UDP || protocol == SCTP;
  }

  /** The highest detail a protocol has: 65535, or 0 where it has neither ports nor types. */
  public static int lastDetail(int protocol) {
    return PROTOCOLS.containsValue(protocol) ? 0xFFFF : 0;
  }

  /** The place on the service line: protocol × 65536 + detail. */
  public int number() {
    return protocol << 16 | detail;
  }

  /** The service at a place on the line. */
  public static Service ofNumber(int number) {
    return new Service(number >>> 16, number & 0xFFFF);
  }

  @Override
  public int compareTo(Service other) {
    return Integer.compare(number(), other.number());
  }
}
