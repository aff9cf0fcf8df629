package ironsieve.traffic.flow;

import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * Puts fragments of IP packets together. What came first stays where fragments overlap: whoever
 * sends the same place twice hopes that the two are read differently. Holds a bounded number of
 * unfinished packets; the oldest is given up for a new one.
 */
final class Fragments {

  private static final int MOST_UNFINISHED = 1_024;
  private static final int LONGEST = 65_535;
  private static final int MOST_PIECES = 512;
  private static final long PATIENCE = 30_000_000_000L;

  private final Map<Key, Unfinished> unfinished = new LinkedHashMap<>();
  private long givenUp;

  private record Key(
      boolean isV6,
      long sourceHigh,
      long sourceLow,
      long targetHigh,
      long targetLow,
      int id,
      int protocol) {}

  /** A packet of which some is there. */
  private static final class Unfinished {
    private final long began;
    private byte[] bytes = new byte[2_048];
    private final java.util.BitSet there = new java.util.BitSet();
    private int total = -1;
    private int octets;
    private int pieces;

    private Unfinished(long began) {
      this.began = began;
    }

    private void add(IpPacket packet) {
      int length = packet.end - packet.start;
      int last = packet.fragmentOffset + length;
      pieces++;
      octets += packet.octets;
      if (last > LONGEST) {
        return;
      }
      if (!packet.hasMore && total < 0) {
        total = last;
      }
      if (last > bytes.length) {
        bytes = java.util.Arrays.copyOf(bytes, Math.max(last, bytes.length * 2));
      }
      int at = packet.fragmentOffset;
      while (at < last) {
        int free = there.nextClearBit(at);
        if (free >= last) {
          break;
        }
        int taken = there.nextSetBit(free);
        int until = taken < 0 ? last : Math.min(taken, last);
        System.arraycopy(
            packet.bytes, packet.start + free - packet.fragmentOffset, bytes, free, until - free);
        there.set(free, until);
        at = until;
      }
    }

    private boolean isWhole() {
      return total >= 0 && there.nextClearBit(0) >= total;
    }
  }

  /** How many packets were given up because a fragment of theirs never came. */
  long givenUp() {
    return givenUp + unfinished.size();
  }

  /**
   * Takes a fragment.
   *
   * @return whether the packet it belongs to is whole now; then that is what {@code packet} is
   */
  boolean whole(IpPacket packet, long now) {
    forget(now);
    Key key =
        new Key(
            packet.isV6,
            packet.sourceHigh,
            packet.sourceLow,
            packet.targetHigh,
            packet.targetLow,
            packet.fragmentId,
            packet.isV6 ? 0 : packet.protocol);
    Unfinished one = unfinished.computeIfAbsent(key, k -> new Unfinished(now));
    one.add(packet);
    if (!one.isWhole()) {
      if (one.pieces > MOST_PIECES) {
        unfinished.remove(key);
        givenUp++;
      }
      return false;
    }
    unfinished.remove(key);
    packet.bytes = one.bytes;
    packet.start = 0;
    packet.end = one.total;
    packet.octets = one.octets;
    packet.isFragment = false;
    return packet.afterFragments();
  }

  private void forget(long now) {
    Iterator<Unfinished> oldest = unfinished.values().iterator();
    while (oldest.hasNext()) {
      Unfinished one = oldest.next();
      if (now - one.began < PATIENCE && unfinished.size() < MOST_UNFINISHED) {
        return;
      }
      oldest.remove();
      givenUp++;
    }
  }
}
