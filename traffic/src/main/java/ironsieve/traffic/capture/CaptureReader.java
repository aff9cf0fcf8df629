package ironsieve.traffic.capture;

import java.io.BufferedInputStream;
import java.io.Closeable;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import java.util.zip.GZIPInputStream;

/**
 * Reads the packets of a capture one after the other: pcap in both byte orders with micro- or
 * nanoseconds, and pcapng with any number of sections and interfaces, either of them gzipped. Holds
 * one buffer, whatever the size of the file.
 *
 * <p>Formats: draft-ietf-opsawg-pcap, draft-ietf-opsawg-pcapng.
 */
public final class CaptureReader implements Closeable {

  private static final int MICRO = 0xA1B2C3D4;
  private static final int NANO = 0xA1B23C4D;
  private static final int SECTION = 0x0A0D0D0A;
  private static final int BYTE_ORDER = 0x1A2B3C4D;
  private static final int INTERFACE = 1;
  private static final int PACKET_OLD = 2;
  private static final int SIMPLE = 3;
  private static final int PACKET = 6;
  private static final int SECRETS = 10;

  /** The TLS key log kind of secrets; others are of no use here. */
  private static final int TLS_KEYS = 0x544C534B;

  /** No packet is longer: frames with offloaded segmentation stay below it. */
  private static final int LONGEST_PACKET = 262_144;

  /** A block that holds secrets may be long; what is longer lies about its length. */
  private static final int LONGEST_BLOCK = 16 << 20;

  private static final int MOST_INTERFACES = 4_096;
  private static final long SECOND = 1_000_000_000L;

  private final InputStream in;
  private final Consumer<String> keys;
  private byte[] buffer = new byte[1 << 20];
  private int next;
  private int filled;
  private long passed;
  private boolean isCutOff;

  private boolean isLittle;
  private final boolean isNextGeneration;
  private long fraction;
  private int linkType;
  private final List<Interface> interfaces = new ArrayList<>();

  /** What a section says of an interface: its frames, and how many parts of a second it counts. */
  private record Interface(int linkType, long perSecond, long offset, int snapLength) {

    long nanos(long ticks) {
      long whole = Long.divideUnsigned(ticks, perSecond);
      long rest = Long.remainderUnsigned(ticks, perSecond);
      long part =
          perSecond <= SECOND && SECOND % perSecond == 0
              ? rest * (SECOND / perSecond)
              : (long) ((double) rest / perSecond * SECOND);
      return (whole + offset) * SECOND + part;
    }
  }

  private CaptureReader(InputStream in, Consumer<String> keys) throws IOException {
    this.in = in;
    this.keys = keys;
    demand(4);
    int magic = u32(next, false);
    isNextGeneration = magic == SECTION;
    if (!isNextGeneration) {
      fileHeader(magic);
    }
  }

  /**
   * Opens a capture.
   *
   * @param keys is given the text of each block of TLS keys the capture holds
   * @throws CaptureException if it is none
   */
  public static CaptureReader open(InputStream stream, Consumer<String> keys) throws IOException {
    BufferedInputStream in = new BufferedInputStream(stream, 1 << 16);
    in.mark(2);
    boolean isGzip = in.read() == 0x1F && in.read() == 0x8B;
    in.reset();
    return new CaptureReader(isGzip ? new GZIPInputStream(in, 1 << 16) : in, keys);
  }

  private void fileHeader(int magic) throws IOException {
    isLittle = magic == Integer.reverseBytes(MICRO) || magic == Integer.reverseBytes(NANO);
    int read = isLittle ? Integer.reverseBytes(magic) : magic;
    if (read != MICRO && read != NANO) {
      throw new CaptureException(
          String.format(
              "byte 0: this is no capture: it begins with %08x, and a pcap file with a1b2c3d4 or"
                  + " a1b23c4d in either byte order, a pcapng file with 0a0d0d0a",
              magic));
    }
    demand(24);
    fraction = read == NANO ? 1 : 1_000;
    linkType = u32(next + 20, isLittle) & 0x0FFF_FFFF;
    skip(24);
  }

  /**
   * The next packet.
   *
   * @return false at the end
   * @throws CaptureException if what follows cannot be a packet
   */
  public boolean next(Packet packet) throws IOException {
    try {
      return isNextGeneration ? nextBlock(packet) : nextRecord(packet);
    } catch (EOFException e) {
      // A capture that was stopped in the middle of a packet is read up to there.
      isCutOff = true;
      return false;
    }
  }

  /** Whether the file ended in the middle of a packet. */
  public boolean isCutOff() {
    return isCutOff;
  }

  /** How many bytes were read so far, unpacked. */
  public long position() {
    return passed + next;
  }

  private boolean nextRecord(Packet packet) throws IOException {
    if (!available(16)) {
      isCutOff = filled > next;
      return false;
    }
    long seconds = u32(next, isLittle) & 0xFFFF_FFFFL;
    long part = u32(next + 4, isLittle) & 0xFFFF_FFFFL;
    int kept = u32(next + 8, isLittle);
    int wire = u32(next + 12, isLittle);
    if (kept < 0 || kept > LONGEST_PACKET) {
      throw new CaptureException(
          "byte "
              + position()
              + ": a packet of "
              + (kept & 0xFFFF_FFFFL)
              + " bytes; none is longer than "
              + LONGEST_PACKET
              + ", so the capture is damaged here");
    }
    demand(16 + kept);
    packet.nanos = seconds * SECOND + part * fraction;
    packet.linkType = linkType;
    hand(packet, next + 16, kept, wire);
    skip(16 + kept);
    return true;
  }

  private void hand(Packet packet, int at, int kept, int wire) {
    packet.bytes = buffer;
    packet.start = at;
    packet.end = at + kept;
    packet.wireLength = wire < kept ? kept : wire;
  }

  private boolean nextBlock(Packet packet) throws IOException {
    while (available(12)) {
      int type = u32(next, isLittle);
      if (type == SECTION) {
        section();
        continue;
      }
      int length = u32(next + 4, isLittle);
      if (length < 12 || length > LONGEST_BLOCK || length % 4 != 0) {
        throw new CaptureException(
            "byte "
                + position()
                + ": a block of "
                + (length & 0xFFFF_FFFFL)
                + " bytes; a block has 12 to "
                + LONGEST_BLOCK
                + " and a multiple of four, so the capture is damaged here");
      }
      demand(length);
      boolean isPacket = block(type, length, packet);
      skip(length);
      if (isPacket) {
        return true;
      }
    }
    isCutOff = filled > next;
    return false;
  }

  private void section() throws IOException {
    demand(28);
    int order = u32(next + 8, false);
    if (order != BYTE_ORDER && order != Integer.reverseBytes(BYTE_ORDER)) {
      throw new CaptureException(
          "byte " + (position() + 8) + ": a section has 1a2b3c4d here, in either byte order");
    }
    isLittle = order != BYTE_ORDER;
    int length = u32(next + 4, isLittle);
    if (length < 28 || length > LONGEST_BLOCK || length % 4 != 0) {
      throw new CaptureException(
          "byte " + position() + ": a section header of " + (length & 0xFFFF_FFFFL) + " bytes");
    }
    interfaces.clear();
    demand(length);
    skip(length);
  }

  /** Reads one block; whether it was a packet that can be read. */
  private boolean block(int type, int length, Packet packet) {
    int body = next + 8;
    int end = next + length - 4;
    switch (type) {
      case INTERFACE -> describe(body, end);
      case SECRETS -> secrets(body, end);
      case PACKET -> {
        return end - body >= 20 && packet(packet, u32(body, isLittle), body + 4, body + 20, end);
      }
      case PACKET_OLD -> {
        return end - body >= 20 && packet(packet, u16(body) & 0xFFFF, body + 4, body + 20, end);
      }
      case SIMPLE -> {
        return simple(packet, body, end);
      }
      default -> {
        // Statistics, names and blocks of somebody's own say nothing about packets.
      }
    }
    return false;
  }

  private boolean packet(Packet packet, int number, int header, int data, int end) {
    int kept = u32(header + 8, isLittle);
    if (number < 0 || number >= interfaces.size() || kept < 0 || kept > end - data) {
      return false;
    }
    Interface on = interfaces.get(number);
    long ticks = (long) u32(header, isLittle) << 32 | u32(header + 4, isLittle) & 0xFFFF_FFFFL;
    packet.nanos = on.nanos(ticks);
    packet.linkType = on.linkType();
    hand(packet, data, kept, u32(header + 12, isLittle));
    return true;
  }

  /** A block without a time, on the first interface. */
  private boolean simple(Packet packet, int body, int end) {
    if (interfaces.isEmpty() || end - body < 4) {
      return false;
    }
    int wire = u32(body, isLittle);
    int snap = interfaces.get(0).snapLength();
    int kept = Math.min(wire < 0 ? Integer.MAX_VALUE : wire, end - body - 4);
    packet.nanos = 0;
    packet.linkType = interfaces.get(0).linkType();
    hand(packet, body + 4, snap > 0 ? Math.min(kept, snap) : kept, wire);
    return true;
  }

  private void describe(int body, int end) {
    if (interfaces.size() >= MOST_INTERFACES || end - body < 8) {
      return;
    }
    long perSecond = 1_000_000;
    long offset = 0;
    for (int at = body + 8; at + 4 <= end; ) {
      int code = u16(at);
      int length = u16(at + 2);
      if (code == 0 || at + 4 + length > end) {
        break;
      }
      if (code == 9 && length >= 1) {
        int resolution = buffer[at + 4] & 0xFF;
        boolean isBinary = resolution >= 128;
        int exponent = Math.min(resolution & 0x7F, isBinary ? 62 : 18);
        perSecond = isBinary ? 1L << exponent : tenTo(exponent);
      } else if (code == 14 && length >= 8) {
        long first = u32(at + 4, isLittle) & 0xFFFF_FFFFL;
        long second = u32(at + 8, isLittle) & 0xFFFF_FFFFL;
        offset = isLittle ? second << 32 | first : first << 32 | second;
      }
      at += 4 + (length + 3 & ~3);
    }
    interfaces.add(new Interface(u16(body), perSecond, offset, u32(body + 4, isLittle)));
  }

  private static long tenTo(int exponent) {
    long power = 1;
    for (int i = 0; i < exponent; i++) {
      power *= 10;
    }
    return power;
  }

  private void secrets(int body, int end) {
    if (end - body < 8 || u32(body, isLittle) != TLS_KEYS) {
      return;
    }
    int length = u32(body + 4, isLittle);
    if (length >= 0 && length <= end - body - 8) {
      keys.accept(new String(buffer, body + 8, length, StandardCharsets.US_ASCII));
    }
  }

  // --- the buffer
  // ---------------------------------------------------------------------------------

  private int u16(int at) {
    int high = buffer[at] & 0xFF;
    int low = buffer[at + 1] & 0xFF;
    return isLittle ? low << 8 | high : high << 8 | low;
  }

  private int u32(int at, boolean little) {
    int value =
        buffer[at] << 24
            | (buffer[at + 1] & 0xFF) << 16
            | (buffer[at + 2] & 0xFF) << 8
            | buffer[at + 3] & 0xFF;
    return little ? Integer.reverseBytes(value) : value;
  }

  private void demand(int bytes) throws IOException {
    if (!available(bytes)) {
      throw new EOFException("byte " + position() + ": the capture ends here");
    }
  }

  private boolean available(int bytes) throws IOException {
    if (filled - next >= bytes) {
      return true;
    }
    System.arraycopy(buffer, next, buffer, 0, filled - next);
    passed += next;
    filled -= next;
    next = 0;
    if (bytes > buffer.length) {
      buffer = java.util.Arrays.copyOf(buffer, bytes);
    }
    while (filled < bytes) {
      int read = read();
      if (read < 0) {
        return false;
      }
      filled += read;
    }
    return true;
  }

  private int read() throws IOException {
    try {
      return in.read(buffer, filled, buffer.length - filled);
    } catch (EOFException e) {
      return -1; // A gzip file that ends too early.
    }
  }

  private void skip(int bytes) {
    next += bytes;
  }

  @Override
  public void close() throws IOException {
    in.close();
  }
}
