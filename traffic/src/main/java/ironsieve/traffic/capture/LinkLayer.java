package ironsieve.traffic.capture;

/**
 * What lies below IP: Ethernet with VLAN tags (IEEE 802.1Q, 802.1ad) and MPLS labels (RFC 3032),
 * Linux cooked frames of both versions, loopback of the BSDs, and raw IP. Numbers are the link
 * types of the captures' registry.
 */
public final class LinkLayer {

  private static final int LOOPBACK_HOST_ORDER = 0;
  private static final int ETHERNET = 1;
  private static final int RAW_OLD = 12;
  private static final int RAW_OTHER = 14;
  private static final int RAW = 101;
  private static final int LOOPBACK = 108;
  private static final int COOKED = 113;
  private static final int IPV4_ONLY = 228;
  private static final int IPV6_ONLY = 229;
  private static final int COOKED_2 = 276;

  private static final int IPV4 = 0x0800;
  private static final int IPV6 = 0x86DD;
  private static final int VLAN = 0x8100;
  private static final int VLAN_OUTER = 0x88A8;
  private static final int VLAN_OLD = 0x9100;
  private static final int PPPOE = 0x8864;
  private static final int MPLS = 0x8847;
  private static final int MPLS_MULTICAST = 0x8848;
  private static final int MOST_TAGS = 8;

  private LinkLayer() {}

  /** Whether packets of this link type can be read. */
  public static boolean isKnown(int linkType) {
    return switch (linkType) {
      case LOOPBACK_HOST_ORDER,
          ETHERNET,
          RAW_OLD,
          RAW_OTHER,
          RAW,
          LOOPBACK,
          COOKED,
          IPV4_ONLY,
          IPV6_ONLY,
          COOKED_2 ->
          true;
      default -> false;
    };
  }

  /**
   * Moves a packet's start to its IP header.
   *
   * @return false if there is none
   */
  public static boolean toNetwork(Packet packet) {
    int start = packet.start;
    switch (packet.linkType) {
      case ETHERNET:
        return afterType(packet, start + 12);
      case COOKED:
        return afterType(packet, start + 14);
      case COOKED_2:
        return at(packet, start + 20, packet.u16(start));
      case LOOPBACK, LOOPBACK_HOST_ORDER:
        return isIp(packet, start + 4);
      case RAW, RAW_OLD, RAW_OTHER, IPV4_ONLY, IPV6_ONLY:
        return isIp(packet, start);
      default:
        return false;
    }
  }

  private static boolean afterType(Packet packet, int at) {
    int type = packet.u16(at);
    int next = at + 2;
    for (int tags = 0;
        tags < MOST_TAGS && (type == VLAN || type == VLAN_OUTER || type == VLAN_OLD);
        tags++) {
      type = packet.u16(next + 2);
      next += 4;
    }
    if (type == PPPOE) {
      int inner = packet.u16(next + 6);
      return at(packet, next + 8, inner == 0x0021 ? IPV4 : inner == 0x0057 ? IPV6 : 0);
    }
    return at(packet, next, type);
  }

  private static boolean at(Packet packet, int start, int type) {
    if (type == MPLS || type == MPLS_MULTICAST) {
      return belowLabels(packet, start);
    }
    return (type == IPV4 || type == IPV6) && isIp(packet, start);
  }

  /** What the labels carry is not said: here it is IP, or nothing that can be read. */
  private static boolean belowLabels(Packet packet, int start) {
    int at = start;
    for (int labels = 0; labels < MOST_TAGS; labels++) {
      boolean isLast = (packet.u8(at + 2) & 1) != 0;
      at += 4;
      if (isLast) {
        return isIp(packet, at);
      }
    }
    return false;
  }

  private static boolean isIp(Packet packet, int start) {
    int version = packet.u8(start) >> 4;
    if (start >= packet.end || version != 4 && version != 6) {
      return false;
    }
    packet.wireLength -= start - packet.start;
    packet.start = start;
    return true;
  }
}
