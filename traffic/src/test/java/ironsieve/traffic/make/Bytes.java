package ironsieve.traffic.make;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;

/** Bytes one after the other, big end first. */
final class Bytes {

  private final ByteArrayOutputStream out = new ByteArrayOutputStream();

  Bytes u8(int value) {
    out.write(value);
    return this;
  }

  Bytes u16(int value) {
    return u8(value >> 8).u8(value);
  }

  Bytes u24(int value) {
    return u8(value >> 16).u16(value);
  }

  Bytes u32(long value) {
    return u16((int) (value >> 16)).u16((int) value);
  }

  Bytes u64(long value) {
    return u32(value >>> 32).u32(value);
  }

  Bytes raw(byte[] bytes) {
    out.writeBytes(bytes);
    return this;
  }

  Bytes text(String text) {
    return raw(text.getBytes(StandardCharsets.UTF_8));
  }

  /** What another row holds, with its length in so many bytes before. */
  Bytes counted(int lengthBytes, Bytes inside) {
    byte[] bytes = inside.done();
    for (int i = lengthBytes - 1; i >= 0; i--) {
      u8(bytes.length >> 8 * i);
    }
    return raw(bytes);
  }

  byte[] done() {
    return out.toByteArray();
  }

  int size() {
    return out.size();
  }
}
