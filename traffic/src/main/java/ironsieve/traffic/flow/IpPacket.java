package ironsieve.traffic.flow;

import ironsieve.traffic.capture.Packet;

/**
 * The header of an IP packet, with where its payload lies; filled anew for each packet. IPv4 after
 * RFC 791, IPv6 with its extension headers after RFC 8200.
 */
final class IpPacket {

  static final int HOP_BY_HOP = 0;
  static final int ROUTING = 43;
  static final int FRAGMENT = 44;
  static final int AUTHENTICATION = 51;
  static final int NO_NEXT = 59;
  static final int DESTINATION = 60;
  static final int MOBILITY = 135;
  private static final int MOST_EXTENSIONS = 16;

  boolean isV6;
  long sourceHigh;
  long sourceLow;
  long targetHigh;
  long targetLow;
  int protocol;
  byte[] bytes;

  /** The payload lies in {@code bytes[start … end)}. */
  int start;

  int end;

  /** How many bytes of IP there were on the wire, headers included. */
  int octets;

  boolean isFragment;
  boolean hasMore;
  int fragmentOffset;
  int fragmentId;

  /** Reads a packet whose start is its IP header; whether it is whole enough to be one. */
  boolean read(Packet packet) {
    bytes = packet.bytes;
    isFragment = false;
    return packet.u8(packet.start) >> 4 == 6 ? readV6(packet) : readV4(packet);
  }

  private boolean readV4(Packet packet) {
    int at = packet.start;
    int header = (packet.u8(at) & 15) * 4;
    if (header < 20 || at + header > packet.end) {
      return false;
    }
    isV6 = false;
    int total = packet.u16(at + 2);
    // Offloaded segmentation leaves the length for the network card to fill in.
    octets = total < header ? packet.wireLength : total;
    fragmentId = packet.u16(at + 4);
    int fragment = packet.u16(at + 6);
    hasMore = (fragment & 0x2000) != 0;
    fragmentOffset = (fragment & 0x1FFF) * 8;
    isFragment = hasMore || fragmentOffset != 0;
    protocol = packet.u8(at + 9);
    sourceHigh = 0;
    targetHigh = 0;
    sourceLow = u32(at + 12);
    targetLow = u32(at + 16);
    start = at + header;
    end = Math.min(packet.end, at + octets);
    return end >= start;
  }

  private boolean readV6(Packet packet) {
    int at = packet.start;
    if (at + 40 > packet.end) {
      return false;
    }
    isV6 = true;
    int payload = packet.u16(at + 4);
    octets = payload == 0 ? packet.wireLength : 40 + payload;
    sourceHigh = u64(at + 8);
    sourceLow = u64(at + 16);
    targetHigh = u64(at + 24);
    targetLow = u64(at + 32);
    end = Math.min(packet.end, at + octets);
    int next = packet.u8(at + 6);
    int from = at + 40;
    for (int i = 0; i < MOST_EXTENSIONS; i++) {
      switch (next) {
        case HOP_BY_HOP, ROUTING, DESTINATION, MOBILITY -> {
          if (from + 8 > end) {
            return false;
          }
          next = bytes[from] & 0xFF;
          from += 8 + (bytes[from + 1] & 0xFF) * 8;
        }
        case AUTHENTICATION -> {
          if (from + 8 > end) {
            return false;
          }
          next = bytes[from] & 0xFF;
          from += 8 + (bytes[from + 1] & 0xFF) * 4;
        }
        case FRAGMENT -> {
          if (from + 8 > end || isFragment) {
            return false;
          }
          next = bytes[from] & 0xFF;
          int offset = (bytes[from + 2] & 0xFF) << 8 | bytes[from + 3] & 0xFF;
          hasMore = (offset & 1) != 0;
          fragmentOffset = offset & 0xFFF8;
          fragmentId = (int) u32(from + 4);
          isFragment = hasMore || fragmentOffset != 0;
          from += 8;
          if (isFragment) {
            return ready(next, from);
          }
        }
        default -> {
          return ready(next, from);
        }
      }
      // Extension headers of a first fragment are read once it is whole; of these here, now.
    }
    return false;
  }

  private boolean ready(int next, int from) {
    protocol = next;
    start = from;
    return from <= end;
  }

  /** Reads on where an IPv6 packet was put together from fragments: extensions may follow. */
  boolean afterFragments() {
    for (int i = 0; i < MOST_EXTENSIONS && isV6; i++) {
      if (protocol != DESTINATION && protocol != ROUTING && protocol != HOP_BY_HOP) {
        return start <= end;
      }
      if (start + 8 > end) {
        return false;
      }
      int length = 8 + (bytes[start + 1] & 0xFF) * 8;
      protocol = bytes[start] & 0xFF;
      start += length;
    }
    return start <= end;
  }

  private long u32(int at) {
    return (bytes[at] & 0xFFL) << 24
        | (bytes[at + 1] & 0xFFL) << 16
        | (bytes[at + 2] & 0xFFL) << 8
        | bytes[at + 3] & 0xFFL;
  }

  private long u64(int at) {
    return u32(at) << 32 | u32(at + 4);
  }

  int u8(int at) {
    return at < end ? bytes[at] & 0xFF : 0;
  }

  int u16(int at) {
    return u8(at) << 8 | u8(at + 1);
  }

  int i32(int at) {
    return u16(at) << 16 | u16(at + 2);
  }
}
