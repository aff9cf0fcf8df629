package ironsieve.traffic.protocol;

import java.util.Arrays;

/** Bytes that wait until there are enough of them; at most so many. */
final class ByteRow {

  private static final byte[] NONE = new byte[0];

  private final int most;
  private byte[] bytes = NONE;
  private int start;
  private int end;

  ByteRow(int most) {
    this.most = most;
  }

  /** Adds what there is room for; returns how many bytes that were. */
  int add(byte[] from, int offset, int length) {
    int taken = Math.min(length, most - size());
    if (end + taken > bytes.length) {
      int size = size();
      int wanted = Math.max(size + taken, Math.min(most, size * 2));
      byte[] wider = wanted <= bytes.length ? bytes : new byte[wanted];
      System.arraycopy(bytes, start, wider, 0, size);
      bytes = wider;
      start = 0;
      end = size;
    }
    System.arraycopy(from, offset, bytes, end, taken);
    end += taken;
    return taken;
  }

  int size() {
    return end - start;
  }

  boolean isFull() {
    return size() >= most;
  }

  byte[] array() {
    return bytes;
  }

  int start() {
    return start;
  }

  int u8(int at) {
    return bytes[start + at] & 0xFF;
  }

  int u16(int at) {
    return u8(at) << 8 | u8(at + 1);
  }

  int u24(int at) {
    return u16(at) << 8 | u8(at + 2);
  }

  void drop(int count) {
    start += count;
    if (start >= end) {
      clear();
    }
  }

  void clear() {
    bytes = NONE;
    start = 0;
    end = 0;
  }

  byte[] copy(int from, int length) {
    return Arrays.copyOfRange(bytes, start + from, start + from + length);
  }

  int held() {
    return bytes.length;
  }
}
