package ironsieve.traffic.protocol;

/**
 * Reads bytes one after the other and never beyond their end: what is not there reads as 0, and
 * {@link #isBeyond()} tells afterwards.
 */
final class ByteView {

  private final byte[] bytes;
  private final int end;
  private int at;
  private boolean isBeyond;

  ByteView(byte[] bytes, int offset, int length) {
    this.bytes = bytes;
    this.at = offset;
    this.end = Math.min(bytes.length, offset + length);
  }

  boolean isBeyond() {
    return isBeyond;
  }

  int left() {
    return end - at;
  }

  int at() {
    return at;
  }

  int u8() {
    if (at >= end) {
      isBeyond = true;
      return 0;
    }
    return bytes[at++] & 0xFF;
  }

  int u16() {
    return u8() << 8 | u8();
  }

  int u24() {
    return u16() << 8 | u8();
  }

  long u32() {
    return (long) u16() << 16 | u16();
  }

  /** A number of QUIC's variable length (RFC 9000, 16). */
  long varint() {
    int first = u8();
    long value = first & 0x3F;
    for (int i = (1 << (first >> 6)) - 1; i > 0; i--) {
      value = value << 8 | u8();
    }
    return value;
  }

  /**
   * A number that begins in the last bits of a byte (RFC 7541, 5.1).
   *
   * @param first that byte, which was read
   * @param bits how many of its bits
   */
  long prefixed(int first, int bits) {
    int most = (1 << bits) - 1;
    long value = first & most;
    if (value < most) {
      return value;
    }
    for (int shift = 0; shift < 56; shift += 7) {
      int next = u8();
      value += (long) (next & 0x7F) << shift;
      if (next < 0x80) {
        return value;
      }
    }
    isBeyond = true;
    return value;
  }

  void skip(long count) {
    if (count < 0 || count > left()) {
      isBeyond = true;
      at = end;
    } else {
      at += (int) count;
    }
  }

  /** The next bytes as a view of their own. */
  ByteView view(long count) {
    int from = at;
    skip(count);
    return new ByteView(bytes, from, at - from);
  }

  byte[] bytes(long count) {
    int from = at;
    skip(count);
    return java.util.Arrays.copyOfRange(bytes, from, at);
  }

  String latin(long count) {
    int from = at;
    skip(count);
    return ConnectionFacts.latin(bytes, from, at - from);
  }
}
