package ironsieve.traffic.protocol;

/** The frames of a packet of QUIC that was opened (RFC 9000, 19; RFC 9221). */
final class QuicFrames {

  private static final int STREAM_OFFSET = 4;
  private static final int STREAM_LENGTH = 2;

  private QuicFrames() {}

  /** Who is given what frames carry. */
  interface Reader {

    /** Bytes of the handshake, from this place in it. */
    void crypto(long offset, byte[] data);

    /** Bytes of a stream, from this place in it. */
    void stream(long id, long offset, byte[] data);
  }

  /** Reads frames as far as they are known and whole. */
  static void read(byte[] plain, Reader reader) {
    ByteView view = new ByteView(plain, 0, plain.length);
    while (view.left() > 0 && !view.isBeyond()) {
      int type = (int) Math.min(view.varint(), Integer.MAX_VALUE);
      if (type >= 0x08 && type <= 0x0F) {
        stream(type, view, reader);
      } else if (!other(type, view, reader)) {
        return;
      }
    }
  }

  private static void stream(int type, ByteView view, Reader reader) {
    long id = view.varint();
    long offset = (type & STREAM_OFFSET) != 0 ? view.varint() : 0;
    long length = (type & STREAM_LENGTH) != 0 ? view.varint() : view.left();
    byte[] data = view.bytes(length);
    if (!view.isBeyond()) {
      reader.stream(id, offset, data);
    }
  }

  /** Whether a frame could be read or passed over. */
  private static boolean other(int type, ByteView view, Reader reader) {
    switch (type) {
      case 0x00, 0x01, 0x1E -> {
        // Padding, ping, handshake done: a type alone.
      }
      case 0x02, 0x03 -> acknowledgement(view, type == 0x03);
      case 0x04 -> numbers(view, 3);
      case 0x05, 0x11, 0x15 -> numbers(view, 2);
      case 0x06 -> {
        long offset = view.varint();
        byte[] data = view.bytes(view.varint());
        if (!view.isBeyond()) {
          reader.crypto(offset, data);
        }
      }
      case 0x07 -> view.skip(view.varint());
      case 0x10, 0x12, 0x13, 0x14, 0x16, 0x17, 0x19 -> numbers(view, 1);
      case 0x18 -> {
        numbers(view, 2);
        view.skip(view.u8());
        view.skip(16);
      }
      case 0x1A, 0x1B -> view.skip(8);
      case 0x30 -> view.skip(view.left());
      case 0x31 -> view.skip(view.varint());
      default -> {
        return false; // Closed, or of an extension that nobody has said the form of.
      }
    }
    return true;
  }

  private static void numbers(ByteView view, int count) {
    for (int i = 0; i < count; i++) {
      view.varint();
    }
  }

  private static void acknowledgement(ByteView view, boolean hasMarks) {
    numbers(view, 2);
    long ranges = view.varint();
    view.varint();
    for (long i = 0; i < ranges && !view.isBeyond(); i++) {
      numbers(view, 2);
    }
    if (hasMarks) {
      numbers(view, 3);
    }
  }
}
