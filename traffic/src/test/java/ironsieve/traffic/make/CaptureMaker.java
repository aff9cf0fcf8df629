package ironsieve.traffic.make;

import ironsieve.model.Service;
import ironsieve.region.Address;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.signature.Unit;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Random;

/**
 * Writes a pcapng file of connections that show what they are told to: TCP with its handshake, TLS
 * 1.3 with the session's secrets in the file if it is to be opened, the first packet of QUIC,
 * HTTP/1.1, DNS, and bytes as they are. The same plans and the same seed give the same file.
 */
public final class CaptureMaker {

  private static final int ETHERNET = 1;
  private static final int SYN = 2;
  private static final int ACK = 16;
  private static final int PUSH = 8;
  private static final int FIN = 1;
  private static final int LONGEST_SEGMENT = 1_400;
  private static final long ROUND_TRIP = 12_000_000L;

  private final OutputStream out;
  private final Random random;

  /**
   * A connection to be written.
   *
   * @param at when it begins: nanoseconds since 1970 in UTC
   * @param clientPort 0 for protocols without ports
   * @param units what it shows; facts of the connection are those of the first, and each has its
   *     own request
   * @param isOpened whether its secrets are written beside it
   * @param answerBytes so many bytes a server answers each request with
   */
  public record Plan(
      long at,
      Address client,
      int clientPort,
      Address server,
      Service service,
      List<Unit> units,
      boolean isOpened,
      int answerBytes) {

    public Plan {
      units = List.copyOf(units);
    }
  }

  private CaptureMaker(OutputStream out, long seed) {
    this.out = out;
    this.random = new Random(seed);
  }

  /** Writes connections as one capture, packets in the order of their times. */
  public static void write(OutputStream out, List<Plan> plans, long seed) throws IOException {
    CaptureMaker maker = new CaptureMaker(out, seed);
    maker.header();
    java.util.PriorityQueue<Pending> row =
        new java.util.PriorityQueue<>(
            Comparator.comparingLong(Pending::at).thenComparingLong(Pending::number));
    long[] number = {0};
    List<Plan> sorted = plans.stream().sorted(Comparator.comparingLong(Plan::at)).toList();
    for (Plan plan : sorted) {
      while (!row.isEmpty() && row.peek().at() < plan.at()) {
        maker.packet(row.poll());
      }
      Wire wire = new Wire(plan, row, number);
      maker.connection(plan, wire);
    }
    while (!row.isEmpty()) {
      maker.packet(row.poll());
    }
  }

  private record Pending(long at, long number, byte[] ip, boolean isV6) {}

  /** Packets of one connection, put into the row of all. */
  private static final class Wire {
    private final Plan plan;
    private final java.util.PriorityQueue<Pending> row;
    private final long[] number;
    private long now;
    private long clientSequence;
    private long serverSequence;

    private Wire(Plan plan, java.util.PriorityQueue<Pending> row, long[] number) {
      this.plan = plan;
      this.row = row;
      this.number = number;
      this.now = plan.at();
    }

    private void send(boolean byClient, byte[] payload) {
      boolean isV6 = plan.client().version() == Address.Version.V6;
      Bytes ip = new Bytes();
      Address from = byClient ? plan.client() : plan.server();
      Address to = byClient ? plan.server() : plan.client();
      if (isV6) {
        ip.u32(0x6000_0000L)
            .u16(payload.length)
            .u8(plan.service().protocol())
            .u8(64)
            .u64(from.high())
            .u64(from.low())
            .u64(to.high())
            .u64(to.low());
      } else {
        byte[] header =
            new Bytes()
                .u16(0x4500)
                .u16(20 + payload.length)
                .u32(0x0000_4000L)
                .u8(64)
                .u8(plan.service().protocol())
                .u16(0)
                .u32(from.low())
                .u32(to.low())
                .done();
        int sum = checksum(header);
        header[10] = (byte) (sum >> 8);
        header[11] = (byte) sum;
        ip.raw(header);
      }
      row.add(new Pending(now, number[0]++, ip.raw(payload).done(), isV6));
    }

    private static int checksum(byte[] bytes) {
      int sum = 0;
      for (int i = 0; i < bytes.length; i += 2) {
        sum += (bytes[i] & 0xFF) << 8 | bytes[i + 1] & 0xFF;
      }
      while (sum >> 16 != 0) {
        sum = (sum & 0xFFFF) + (sum >> 16);
      }
      return ~sum & 0xFFFF;
    }

    private void tcp(boolean byClient, int flags, byte[] data) {
      long sequence = byClient ? clientSequence : serverSequence;
      long acknowledged = byClient ? serverSequence : clientSequence;
      Bytes segment =
          new Bytes()
              .u16(byClient ? plan.clientPort() : plan.service().detail())
              .u16(byClient ? plan.service().detail() : plan.clientPort())
              .u32(sequence)
              .u32((flags & ACK) != 0 ? acknowledged : 0)
              .u8(5 << 4)
              .u8(flags)
              .u16(64_240)
              .u32(0)
              .raw(data);
      send(byClient, segment.done());
      long advance = data.length + ((flags & (SYN | FIN)) != 0 ? 1 : 0);
      if (byClient) {
        clientSequence += advance;
      } else {
        serverSequence += advance;
      }
    }

    /** Bytes of a stream, in as many segments as it takes. */
    private void stream(boolean byClient, byte[] data) {
      for (int at = 0; at < data.length; at += LONGEST_SEGMENT) {
        tcp(
            byClient,
            ACK | PUSH,
            Arrays.copyOfRange(data, at, Math.min(data.length, at + LONGEST_SEGMENT)));
        now += 100_000;
      }
      now += ROUND_TRIP / 2;
    }

    private void datagram(boolean byClient, byte[] data) {
      Bytes udp =
          new Bytes()
              .u16(byClient ? plan.clientPort() : plan.service().detail())
              .u16(byClient ? plan.service().detail() : plan.clientPort())
              .u16(8 + data.length)
              .u16(0)
              .raw(data);
      send(byClient, udp.done());
      now += ROUND_TRIP / 2;
    }
  }

  private void connection(Plan plan, Wire wire) throws IOException {
    switch (plan.service().protocol()) {
      case Service.TCP -> tcp(plan, wire);
      case Service.UDP -> udp(plan, wire);
      case Service.ICMP, Service.ICMPV6 -> echo(plan, wire);
      default -> {
        wire.send(true, new byte[32]);
        wire.now += ROUND_TRIP;
        wire.send(false, new byte[32]);
      }
    }
  }

  private void echo(Plan plan, Wire wire) {
    boolean isV6 = plan.service().protocol() == Service.ICMPV6;
    int type = plan.service().detail() >> 8;
    int reply = isV6 ? type + 1 : 0;
    int id = random.nextInt(1 << 16);
    wire.send(true, new Bytes().u8(type).u8(0).u16(0).u16(id).u16(1).raw(new byte[56]).done());
    wire.now += ROUND_TRIP;
    wire.send(false, new Bytes().u8(reply).u8(0).u16(0).u16(id).u16(1).raw(new byte[56]).done());
  }

  private void udp(Plan plan, Wire wire) {
    Unit unit = plan.units().get(0);
    if (Messages.isQuic(unit) || Messages.isTls(unit)) {
      wire.datagram(true, new QuicInitial(random).packet(Messages.clientHello(unit, random, true)));
      wire.datagram(false, Messages.random(random, 1_200));
      return;
    }
    for (Unit one : plan.units()) {
      Optional<String> name = Messages.dnsName(one);
      if (name.isPresent()) {
        int id = random.nextInt(1 << 16);
        wire.datagram(true, Messages.question(name.get(), id));
        wire.datagram(false, Messages.answer(name.get(), id, Address.parse("203.0.113.10")));
      } else {
        wire.datagram(true, Messages.bytes(one, Field.CLIENT_BYTES, random));
        wire.datagram(false, Messages.bytes(one, Field.SERVER_BYTES, random));
      }
    }
  }

  private void tcp(Plan plan, Wire wire) throws IOException {
    wire.clientSequence = random.nextInt() & 0xFFFF_FFFFL;
    wire.serverSequence = random.nextInt() & 0xFFFF_FFFFL;
    wire.tcp(true, SYN, new byte[0]);
    wire.now += ROUND_TRIP / 2;
    wire.tcp(false, SYN | ACK, new byte[0]);
    wire.now += ROUND_TRIP / 2;
    wire.tcp(true, ACK, new byte[0]);
    Unit first = plan.units().get(0);
    if (Messages.isTls(first)) {
      tls(plan, wire);
    } else if (Messages.isHttp(first)) {
      for (Unit unit : plan.units()) {
        wire.stream(true, Messages.request(unit));
        wire.stream(false, Messages.response(unit, plan.answerBytes(), random));
      }
    } else if (Messages.dnsName(first).isPresent()) {
      byte[] question = Messages.question(Messages.dnsName(first).get(), 1);
      wire.stream(true, new Bytes().u16(question.length).raw(question).done());
    } else {
      // Who speaks first: a server that greets, if it is asked for, and otherwise the client.
      if (Messages.first(first, Field.SERVER_BYTES).isPresent()) {
        wire.stream(false, Messages.bytes(first, Field.SERVER_BYTES, random));
      }
      wire.stream(true, Messages.bytes(first, Field.CLIENT_BYTES, random));
      wire.stream(false, Messages.random(random, Math.max(16, plan.answerBytes())));
    }
    wire.tcp(true, FIN | ACK, new byte[0]);
    wire.now += ROUND_TRIP / 2;
    wire.tcp(false, FIN | ACK, new byte[0]);
    wire.now += ROUND_TRIP / 2;
    wire.tcp(true, ACK, new byte[0]);
  }

  private void tls(Plan plan, Wire wire) throws IOException {
    TlsSession session = new TlsSession(random);
    byte[] hello = Messages.clientHello(plan.units().get(0), session.clientRandom(), false);
    wire.stream(true, TlsSession.record(22, 0x0301, hello));
    wire.stream(false, session.serverFlight());
    wire.stream(true, session.clientFlight());
    if (plan.isOpened()) {
      secrets(session.keyLog());
    }
    for (Unit unit : plan.units()) {
      boolean isHttp = Messages.isHttp(unit);
      wire.stream(true, session.data(true, isHttp ? Messages.request(unit) : new byte[64]));
      wire.stream(
          false,
          session.data(
              false,
              isHttp
                  ? Messages.response(unit, plan.answerBytes(), random)
                  : Messages.random(random, Math.max(16, plan.answerBytes()))));
    }
  }

  // --- the file
  // -----------------------------------------------------------------------------------

  private void header() throws IOException {
    block(0x0A0D0D0AL, new Bytes().u32(0x1A2B3C4DL).u16(1).u16(0).u64(-1L).done());
    // Times in nanoseconds.
    block(1, new Bytes().u16(ETHERNET).u16(0).u32(0).u16(9).u16(1).u8(9).u24(0).u32(0).done());
  }

  private void secrets(String keyLog) throws IOException {
    byte[] text = keyLog.getBytes(StandardCharsets.US_ASCII);
    block(10, padded(new Bytes().u32(0x544C534BL).u32(text.length).raw(text)));
  }

  private void packet(Pending packet) throws IOException {
    byte[] frame =
        new Bytes()
            .raw(new byte[] {2, 0, 0, 0, 0, 2, 2, 0, 0, 0, 0, 1})
            .u16(packet.isV6() ? 0x86DD : 0x0800)
            .raw(packet.ip())
            .done();
    block(
        6,
        padded(new Bytes().u32(0).u64(packet.at()).u32(frame.length).u32(frame.length).raw(frame)));
  }

  private static byte[] padded(Bytes bytes) {
    while (bytes.size() % 4 != 0) {
      bytes.u8(0);
    }
    return bytes.done();
  }

  private void block(long type, byte[] body) throws IOException {
    int length = 12 + body.length;
    out.write(new Bytes().u32(type).u32(length).raw(body).u32(length).done());
  }
}
