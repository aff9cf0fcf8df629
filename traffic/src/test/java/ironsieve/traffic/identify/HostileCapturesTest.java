package ironsieve.traffic.identify;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Cases;
import ironsieve.model.Service;
import ironsieve.region.Address;
import ironsieve.traffic.DemoSignatures;
import ironsieve.traffic.capture.CaptureException;
import ironsieve.traffic.make.CaptureMaker;
import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.protocol.KeyLog;
import ironsieve.traffic.signature.SignatureMatcher;
import ironsieve.traffic.signature.Unit;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Captures made to break whoever reads them. */
class HostileCapturesTest {

  private static final SignatureMatcher MATCHER = DemoSignatures.book(42).matcher();
  private static final Address SERVER = Address.parse("203.0.113.44");

  private static CaptureConnections.Summary read(InputStream in, List<Seen> seen)
      throws IOException {
    return CaptureConnections.read(in, MATCHER, new KeyLog(), seen::add, () -> false);
  }

  private static byte[] capture() throws IOException {
    ConnectionFacts tls = new ConnectionFacts(new Service(Service.TCP, 443), SERVER);
    tls.add(Fact.of(Field.SERVER_NAME, "www.chatterbay.example"));
    Unit web =
        new Unit(
            tls,
            List.of(
                Fact.of(Field.METHOD, "POST"),
                Fact.of(Field.PATH, "/post/1"),
                Fact.of(Field.HOST, "www.chatterbay.example")));
    ConnectionFacts quic = new ConnectionFacts(new Service(Service.UDP, 443), SERVER);
    quic.add(Fact.of(Field.PROTOCOL, "QUIC"));
    quic.add(Fact.of(Field.SERVER_NAME, "films.vuelo.example"));
    ConnectionFacts dns = new ConnectionFacts(new Service(Service.UDP, 53), SERVER);
    ConnectionFacts plain = new ConnectionFacts(new Service(Service.TCP, 80), SERVER);
    List<CaptureMaker.Plan> plans = new ArrayList<>();
    List<Unit> units =
        List.of(
            web,
            new Unit(quic, List.of()),
            new Unit(dns, List.of(Fact.of(Field.DNS_NAME, "a.example"))),
            new Unit(plain, List.of(Fact.of(Field.METHOD, "GET"), Fact.of(Field.PATH, "/"))));
    for (Unit unit : units) {
      plans.add(
          new CaptureMaker.Plan(
              plans.size(),
              Address.parse("10.20.0.9"),
              40_000 + plans.size(),
              SERVER,
              unit.shown().service(),
              List.of(unit, unit),
              true,
              40));
    }
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    CaptureMaker.write(out, plans, 3);
    return out.toByteArray();
  }

  @Test
  void cutAtEveryByteItIsReadUpToThereOrRefused() throws IOException {
    byte[] whole = capture();
    // At every byte in the long run; in the short one at as many places, each time others of them.
    int step = Math.max(1, whole.length / Cases.of(whole.length));
    for (int length = new Random().nextInt(step); length < whole.length; length += step) {
      List<Seen> seen = new ArrayList<>();
      try {
        read(new ByteArrayInputStream(whole, 0, length), seen);
      } catch (CaptureException | java.io.EOFException e) {
        assertThat(e.getMessage()).as("cut at " + length).startsWith("byte ");
      }
      assertThat(seen).hasSizeLessThanOrEqualTo(4);
    }
    List<Seen> all = new ArrayList<>();
    CaptureConnections.Summary summary = read(new ByteArrayInputStream(whole), all);
    assertThat(all).hasSize(4);
    assertThat(summary.isCutOff()).isFalse();
    assertThat(summary.broken()).isZero();
  }

  @Test
  void withAnyBytesChangedItIsReadOrRefused() throws IOException {
    byte[] whole = capture();
    Random random = new Random(5);
    int refused = 0;
    int changes = Cases.of(4_000);
    for (int i = 0; i < changes; i++) {
      byte[] changed = whole.clone();
      int count = 1 + random.nextInt(6);
      for (int c = 0; c < count; c++) {
        changed[random.nextInt(changed.length)] = (byte) random.nextInt(256);
      }
      try {
        read(new ByteArrayInputStream(changed), new ArrayList<>());
      } catch (CaptureException | java.io.EOFException e) {
        refused++;
        assertThat(e.getMessage()).startsWith("byte ");
      }
    }
    assertThat(refused).isBetween(1, changes - 1);
  }

  /** A capture that is made while it is read: pcap with raw IP. */
  private abstract static class Endless extends InputStream {
    private ByteBuffer current;
    private long number;
    private final long packets;

    private Endless(long packets) {
      this.packets = packets;
      current =
          ByteBuffer.allocate(24)
              .putInt(0xA1B2C3D4)
              .putInt(0x00020004)
              .putLong(0)
              .putInt(65_535)
              .putInt(101)
              .flip();
    }

    abstract byte[] packet(long number);

    private boolean more() {
      if (current.hasRemaining()) {
        return true;
      }
      if (number >= packets) {
        return false;
      }
      byte[] packet = packet(number);
      current =
          ByteBuffer.allocate(16 + packet.length)
              .putInt((int) (number / 1_000_000))
              .putInt((int) (number % 1_000_000))
              .putInt(packet.length)
              .putInt(packet.length)
              .put(packet)
              .flip();
      number++;
      return true;
    }

    @Override
    public int read() {
      return more() ? current.get() & 0xFF : -1;
    }

    @Override
    public int read(byte[] to, int offset, int length) {
      if (!more()) {
        return -1;
      }
      int count = Math.min(length, current.remaining());
      current.get(to, offset, count);
      return count;
    }
  }

  private static byte[] tcp(
      int client, int port, int sequence, int flags, int fragment, byte[] data) {
    int length = 40 + data.length;
    return ByteBuffer.allocate(length)
        .putInt(0x45000000 | length)
        .putInt(port << 16 | fragment)
        .putInt(0x40060000)
        .putInt(client)
        .putInt(0xCB00712C)
        .putShort((short) port)
        .putShort((short) 443)
        .putInt(sequence)
        .putInt(0)
        .putInt(0x50000000 | flags << 16 | 0xFFFF)
        .putInt(0)
        .put(data)
        .array();
  }

  private static long used() {
    System.gc();
    Runtime runtime = Runtime.getRuntime();
    return runtime.totalMemory() - runtime.freeMemory();
  }

  @Test
  void aMillionHalfOpenConnectionsTakeBoundedMemoryAndAreTold() throws IOException {
    long[] most = {0};
    long before = used();
    long[] count = {0};
    CaptureConnections.Summary summary =
        CaptureConnections.read(
            new Endless(1_000_000) {
              @Override
              byte[] packet(long number) {
                if (number == 900_000) {
                  most[0] = used() - before;
                }
                return tcp((int) number, 40_000, 1, 2, 0, new byte[0]);
              }
            },
            MATCHER,
            new KeyLog(),
            seen -> count[0]++,
            () -> false);
    assertThat(count[0]).isEqualTo(1_000_000);
    assertThat(summary.connections()).isEqualTo(1_000_000);
    assertThat(summary.flowsGivenUp()).isEqualTo(500_000);
    assertThat(most[0]).isLessThan(512L << 20);
  }

  @Test
  void streamsThatNeverEndAndNeverSayAnythingTakeBoundedMemory() throws IOException {
    long[] most = {0};
    long before = used();
    // A hundred streams of a request whose headers go on and on, each segment with a hole before
    // it.
    CaptureConnections.Summary summary =
        CaptureConnections.read(
            new Endless(400_000) {
              @Override
              byte[] packet(long number) {
                if (number == 390_000) {
                  most[0] = used() - before;
                }
                int stream = (int) (number % 100);
                int turn = (int) (number / 100);
                byte[] data = new byte[500];
                java.util.Arrays.fill(data, (byte) 'a');
                if (turn == 0) {
                  System.arraycopy("GET / HTTP/1.1\r\nx: ".getBytes(), 0, data, 0, 19);
                }
                return tcp(stream, 40_000 + stream, turn * 501, turn == 0 ? 2 : 16, 0, data);
              }
            },
            MATCHER,
            new KeyLog(),
            seen -> {},
            () -> false);
    assertThat(summary.connections()).isEqualTo(100);
    assertThat(summary.broken()).isEqualTo(100);
    assertThat(most[0]).isLessThan(256L << 20);
  }

  @Test
  void fragmentsThatOverlapKeepWhatCameFirstAndThoseThatNeverComeAreGivenUp() throws IOException {
    byte[] hello = "GET /first HTTP/1.1\r\nHost: maskhop.example\r\n\r\n".getBytes();
    byte[] whole = tcp(7, 40_000, 1, 16, 0, hello);
    byte[] head = java.util.Arrays.copyOf(whole, 20 + 40);
    head[3] = (byte) head.length;
    head[6] = 0x20; // More fragments.
    byte[] tail = new byte[20 + whole.length - 20 - 32];
    System.arraycopy(whole, 0, tail, 0, 20);
    System.arraycopy(whole, 52, tail, 20, whole.length - 52);
    java.util.Arrays.fill(tail, 20, 28, (byte) '!'); // Eight bytes that the first has said already.
    tail[3] = (byte) tail.length;
    tail[7] = 4; // 32 bytes from the beginning.
    List<Seen> seen = new ArrayList<>();
    byte[][] packets = {head, tail};
    CaptureConnections.Summary summary =
        read(
            new Endless(3_002) {
              @Override
              byte[] packet(long number) {
                if (number < 2) {
                  return packets[(int) number];
                }
                byte[] lonely = head.clone();
                lonely[4] = (byte) (number >> 8);
                lonely[5] = (byte) number;
                lonely[15] = 9;
                return lonely;
              }
            },
            seen);
    assertThat(seen).hasSize(1);
    assertThat(seen.get(0).shown().first(Field.PATH)).contains("/first");
    assertThat(seen.get(0).host()).contains("maskhop.example");
    assertThat(summary.fragmentsGivenUp()).isEqualTo(3_000);
  }
}
