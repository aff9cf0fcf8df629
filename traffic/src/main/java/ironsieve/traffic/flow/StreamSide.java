package ironsieve.traffic.flow;

import java.util.Map;
import java.util.TreeMap;

/**
 * One direction of a TCP connection put in order (RFC 9293). What came first stays where segments
 * overlap. Segments that came too early wait, a bounded number of bytes of them; if what is missing
 * does not come by then, it is given up and reading goes on behind the hole.
 */
final class StreamSide {

  /** Who is given the bytes in order. */
  interface Receiver {
    void bytes(byte[] from, int offset, int length);

    /** Bytes are missing here. */
    void lost();
  }

  private static final int MOST_WAITING = 1 << 18;
  private static final int MOST_SEGMENTS = 256;

  /** By how far they lie behind the first byte that is expected. */
  private TreeMap<Long, byte[]> waiting;

  private int waitingBytes;

  /** The sequence number that is expected next, counted on beyond 2³². */
  private long expected = -1;

  /** Where the stream begins. */
  void begin(int sequence) {
    expected = sequence & 0xFFFF_FFFFL;
  }

  boolean hasBegun() {
    return expected >= 0;
  }

  int waitingBytes() {
    return waitingBytes;
  }

  /** Takes a segment. */
  void segment(int sequence, byte[] bytes, int start, int length, boolean isCut, Receiver to) {
    if (!hasBegun()) {
      begin(sequence);
    }
    // The nearest place to what is expected that has these lowest 32 bits.
    long at = expected + (sequence - (int) expected);
    long late = expected - at;
    if (late >= length) {
      return;
    }
    if (late >= 0) {
      deliver(bytes, start + (int) late, length - (int) late, to);
      if (waiting != null) {
        drain(to);
      }
    } else {
      waits(at, bytes, start, length);
      if (waitingBytes > MOST_WAITING || waiting.size() > MOST_SEGMENTS) {
        giveUp(to);
      }
    }
    if (isCut) {
      to.lost();
    }
  }

  /** The end of the connection: what waits is handed on behind what is missing. */
  void finish(Receiver to) {
    while (waiting != null && !waiting.isEmpty()) {
      giveUp(to);
    }
  }

  private void deliver(byte[] bytes, int start, int length, Receiver to) {
    expected += length;
    to.bytes(bytes, start, length);
  }

  private void waits(long at, byte[] bytes, int start, int length) {
    if (waiting == null) {
      waiting = new TreeMap<>();
    }
    long from = at;
    long until = at + length;
    while (from < until) {
      Map.Entry<Long, byte[]> before = waiting.floorEntry(from);
      if (before != null && before.getKey() + before.getValue().length > from) {
        from = before.getKey() + before.getValue().length;
        continue;
      }
      Long next = waiting.higherKey(from);
      long end = next == null ? until : Math.min(next, until);
      int offset = start + (int) (from - at);
      byte[] kept = java.util.Arrays.copyOfRange(bytes, offset, offset + (int) (end - from));
      waiting.put(from, kept);
      waitingBytes += kept.length;
      from = end;
    }
  }

  private void giveUp(Receiver to) {
    to.lost();
    expected = waiting.firstKey();
    drain(to);
  }

  private void drain(Receiver to) {
    Map.Entry<Long, byte[]> next = waiting.firstEntry();
    while (next != null && next.getKey() <= expected) {
      waiting.pollFirstEntry();
      byte[] bytes = next.getValue();
      waitingBytes -= bytes.length;
      int late = (int) (expected - next.getKey());
      if (late < bytes.length) {
        deliver(bytes, late, bytes.length - late, to);
      }
      next = waiting.firstEntry();
    }
    if (waiting.isEmpty()) {
      waiting = null;
      waitingBytes = 0;
    }
  }
}
