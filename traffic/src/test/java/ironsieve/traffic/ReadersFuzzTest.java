package ironsieve.traffic;

import static org.assertj.core.api.Assertions.assertThat;

import com.code_intelligence.jazzer.api.FuzzedDataProvider;
import com.code_intelligence.jazzer.junit.FuzzTest;
import ironsieve.model.Service;
import ironsieve.region.Address;
import ironsieve.text.TextException;
import ironsieve.traffic.capture.CaptureException;
import ironsieve.traffic.identify.CaptureConnections;
import ironsieve.traffic.log.Ipfix;
import ironsieve.traffic.log.LogRecords;
import ironsieve.traffic.log.SyslogLine;
import ironsieve.traffic.protocol.Conversation;
import ironsieve.traffic.protocol.KeyLog;
import ironsieve.traffic.protocol.SealedPackets;
import ironsieve.traffic.signature.Signature;
import ironsieve.traffic.signature.SignatureMatcher;
import ironsieve.traffic.signature.SignatureText;
import java.io.ByteArrayInputStream;
import java.io.EOFException;
import java.io.IOException;
import java.time.ZoneOffset;

/**
 * Coverage-guided fuzzing of everything that reads what a stranger sent: no bytes break a reader,
 * and what it holds stays bounded. With {@code JAZZER_FUZZ=1} inputs are searched for; without, the
 * kept ones are run again.
 */
class ReadersFuzzTest {

  private static final SignatureMatcher MATCHER = DemoSignatures.book(42).matcher();
  private static final Address SERVER = Address.parse("203.0.113.10");
  private static final int MOST_HELD = 2 << 20;

  @FuzzTest(maxDuration = "8s")
  void captures(FuzzedDataProvider data) throws IOException {
    byte[] bytes = data.consumeRemainingAsBytes();
    try {
      CaptureConnections.read(
          new ByteArrayInputStream(bytes),
          MATCHER,
          new KeyLog(),
          seen -> assertThat(seen.uses()).isNotEmpty(),
          () -> false);
    } catch (CaptureException | EOFException | java.util.zip.ZipException e) {
      assertThat(e.getMessage()).isNotBlank();
    }
  }

  /** TLS, HTTP of both versions and DNS in a stream, in pieces of any size from either side. */
  @FuzzTest(maxDuration = "8s")
  void streams(FuzzedDataProvider data) {
    Conversation conversation =
        new Conversation(
            new Service(Service.TCP, data.pickValue(new int[] {443, 53, 80})),
            SERVER,
            new KeyLog());
    converse(conversation, data);
  }

  /** QUIC, DNS and whatever else comes in datagrams. */
  @FuzzTest(maxDuration = "8s")
  void datagrams(FuzzedDataProvider data) {
    Conversation conversation =
        new Conversation(
            new Service(Service.UDP, data.pickValue(new int[] {443, 53, 123})),
            SERVER,
            new KeyLog());
    converse(conversation, data);
  }

  /** What is inside QUIC once it is opened: frames, streams, HTTP/3 and its compression. */
  @FuzzTest(maxDuration = "8s")
  void opened(FuzzedDataProvider data) {
    Conversation conversation =
        new Conversation(new Service(Service.UDP, 443), SERVER, SealedPackets.secrets());
    byte[] first = SealedPackets.first("films.vuelo.example");
    conversation.onBytes(true, first, 0, first.length);
    byte[] ofServer = SealedPackets.ofServer();
    conversation.onBytes(false, ofServer, 0, ofServer.length);
    long[] next = new long[16];
    for (int number = 0; data.remainingBytes() > 2 && number < 400; number++) {
      boolean byClient = data.consumeBoolean();
      byte[] frames = data.consumeBytes(data.consumeInt(2, 300));
      if (data.consumeInt(0, 3) > 0) {
        // A frame of a stream that goes on, so that what is inside is reached.
        int id = data.consumeInt(0, 15);
        frames = streamFrame(id, next[id], frames);
        next[id] += frames.length - 6;
      }
      byte[] packet =
          SealedPackets.data(number, java.util.Arrays.copyOf(frames, frames.length + 2));
      conversation.onBytes(byClient, packet, 0, packet.length);
      assertThat(conversation.held()).isLessThan(MOST_HELD);
    }
    MATCHER.run().identify(conversation.facts());
  }

  private static byte[] streamFrame(int id, long offset, byte[] data) {
    byte[] frame = new byte[6 + data.length];
    frame[0] = 0x0E;
    frame[1] = (byte) id;
    frame[2] = (byte) (0x40 | offset >> 8 & 0x3F);
    frame[3] = (byte) offset;
    frame[4] = (byte) (0x40 | data.length >> 8);
    frame[5] = (byte) data.length;
    System.arraycopy(data, 0, frame, 6, data.length);
    return frame;
  }

  private static void converse(Conversation conversation, FuzzedDataProvider data) {
    while (data.remainingBytes() > 1) {
      boolean byClient = data.consumeBoolean();
      if (data.consumeInt(0, 40) == 0) {
        conversation.lost(byClient);
      }
      byte[] piece = data.consumeBytes(data.consumeInt(1, 400));
      conversation.onBytes(byClient, piece, 0, piece.length);
      assertThat(conversation.held()).isLessThan(MOST_HELD);
    }
    MATCHER.run().identify(conversation.facts());
  }

  @FuzzTest(maxDuration = "8s")
  void flows(FuzzedDataProvider data) {
    Ipfix ipfix = new Ipfix(ZoneOffset.UTC);
    while (data.remainingBytes() > 0) {
      byte[] message = data.consumeBytes(data.consumeInt(0, 600));
      ipfix.message("a", message, 0, message.length, record -> assertThat(record).isNotNull());
    }
  }

  @FuzzTest(maxDuration = "8s")
  void syslog(FuzzedDataProvider data) {
    try {
      SyslogLine.parse(data.consumeRemainingAsString(), ZoneOffset.UTC);
    } catch (SyslogLine.SyslogException | LogRecords.FieldException e) {
      assertThat(e.getMessage()).isNotBlank();
    }
  }

  @FuzzTest(maxDuration = "8s")
  void signatures(FuzzedDataProvider data) {
    String text = data.consumeRemainingAsString();
    try {
      Signature signature = SignatureText.parse("a", false, text);
      String printed = SignatureText.print(signature);
      assertThat(SignatureText.print(SignatureText.parse("a", false, printed))).isEqualTo(printed);
    } catch (TextException e) {
      assertThat(e.position()).isBetween(0, Math.max(text.length(), SignatureText.MOST_LETTERS));
    }
  }

  /** All of them in one machine: the first byte says which. */
  @FuzzTest(maxDuration = "24s")
  void everyReader(FuzzedDataProvider data) throws IOException {
    switch (data.consumeInt(0, 6)) {
      case 0 -> captures(data);
      case 1 -> streams(data);
      case 2 -> datagrams(data);
      case 3 -> flows(data);
      case 4 -> syslog(data);
      case 5 -> opened(data);
      default -> signatures(data);
    }
  }
}
