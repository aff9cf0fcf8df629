package ironsieve.traffic.capture;

/**
 * One packet of a capture, filled anew for each: a capture has millions, and an object for each
 * would cost more than reading them.
 */
public final class Packet {

  /** The packet's bytes lie in {@code bytes[start … end)}; only until the next one is read. */
  public byte[] bytes = new byte[0];

  public int start;
  public int end;

  /** How many bytes it had on the wire; a capture may have kept fewer. */
  public int wireLength;

  /** When it was seen: nanoseconds since 1970 in UTC. */
  public long nanos;

  /** What the frame is, as the capture numbers it. */
  public int linkType;

  /** Whether the bytes of the capture end before the packet did. */
  public boolean isCut() {
    return end - start < wireLength;
  }

  /** The unsigned byte at a place, 0 beyond the end. */
  public int u8(int at) {
    return at < end ? bytes[at] & 0xFF : 0;
  }

  /** The big-endian 16 bits at a place. */
  public int u16(int at) {
    return u8(at) << 8 | u8(at + 1);
  }
}
