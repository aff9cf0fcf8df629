package ironsieve.traffic.protocol;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.model.Service;
import ironsieve.region.Address;
import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.eclipse.jetty.http.HttpFields;
import org.eclipse.jetty.http.HttpURI;
import org.eclipse.jetty.http.HttpVersion;
import org.eclipse.jetty.http.MetaData;
import org.eclipse.jetty.http3.qpack.Instruction;
import org.eclipse.jetty.http3.qpack.QpackEncoder;
import org.eclipse.jetty.http3.qpack.QpackException;
import org.eclipse.jetty.io.ByteBufferPool;
import org.eclipse.jetty.io.RetainableByteBuffer;

/**
 * Requests and answers of HTTP/3, written by a library, cut into packets that come in any order and
 * twice: what is read is what was written.
 */
class Http3AgreesTest {

  private static final int TABLE = 4_096;

  /** What one side writes: its streams, each a row of bytes. */
  private static final class Writer {
    private final Map<Long, ByteArrayOutputStream> streams = new TreeMap<>();
    private final List<Instruction> instructions = new ArrayList<>();
    private final QpackEncoder encoder = new QpackEncoder(instructions::addAll);
    private final long encoderStream;

    private Writer(boolean isClient, Random random) {
      long way = isClient ? 2 : 3;
      encoderStream = way + 4;
      encoder.setMaxTableCapacity(TABLE);
      encoder.setTableCapacity(random.nextBoolean() ? TABLE : 0);
      encoder.setMaxBlockedStreams(40);
      stream(way).write(0);
      frame(way, 4, new byte[] {1, 0x50, 0x00, 7, 40}); // A table of 4,096 bytes.
      stream(encoderStream).write(2);
      // A stream of a kind that nobody knows.
      stream(way + 8).writeBytes(new byte[] {0x21, 1, 2, 3});
    }

    private ByteArrayOutputStream stream(long id) {
      return streams.computeIfAbsent(id, key -> new ByteArrayOutputStream());
    }

    private void frame(long id, int type, byte[] payload) {
      stream(id).write(type);
      stream(id).write(0x40 | payload.length >> 8);
      stream(id).write(payload.length);
      stream(id).writeBytes(payload);
    }

    private void headers(long id, MetaData fields) throws QpackException {
      ByteBuffer block = ByteBuffer.allocate(8_192);
      encoder.encode(block, id, fields);
      block.flip();
      byte[] payload = new byte[block.remaining()];
      block.get(payload);
      frame(id, 1, payload);
      RetainableByteBuffer.Mutable said =
          new RetainableByteBuffer.DynamicCapacity(ByteBufferPool.NON_POOLING);
      instructions.forEach(one -> one.encode(ByteBufferPool.NON_POOLING, said));
      instructions.clear();
      ByteBuffer bytes = said.getByteBuffer();
      byte[] all = new byte[bytes.remaining()];
      bytes.get(all);
      stream(encoderStream).writeBytes(all);
    }
  }

  private record Piece(boolean byClient, long id, long offset, byte[] bytes) {}

  private static List<Piece> pieces(boolean byClient, Writer writer, Random random) {
    List<Piece> pieces = new ArrayList<>();
    writer.streams.forEach(
        (id, out) -> {
          byte[] all = out.toByteArray();
          for (int at = 0; at < all.length; ) {
            int length = Math.min(all.length - at, 1 + random.nextInt(60));
            int more = Math.min(all.length - at, length + random.nextInt(10));
            pieces.add(new Piece(byClient, id, at, Arrays.copyOfRange(all, at, at + more)));
            if (random.nextInt(8) == 0) {
              pieces.add(pieces.get(pieces.size() - 1));
            }
            at += length;
          }
        });
    return pieces;
  }

  @Property(tries = 400)
  void whatWasWrittenIsReadInWhateverOrderItComes(@ForAll long seed) throws QpackException {
    Random random = new Random(seed);
    Writer client = new Writer(true, random);
    Writer server = new Writer(false, random);
    List<String> written = new ArrayList<>();
    int requests = 1 + random.nextInt(30);
    for (int i = 0; i < requests; i++) {
      String host = "h" + random.nextInt(3) + ".example";
      String path = "/p" + i + "?q=" + random.nextInt(4);
      String agent = "agent " + random.nextInt(3) + "x".repeat(random.nextInt(200));
      int status = 200 + random.nextInt(3);
      long id = 4L * i;
      client.headers(
          id,
          new MetaData.Request(
              random.nextBoolean() ? "GET" : "POST",
              HttpURI.from("https://" + host + path),
              HttpVersion.HTTP_3,
              HttpFields.build().add("user-agent", agent)));
      client.frame(id, 0, new byte[random.nextInt(300)]);
      if (random.nextInt(4) == 0) {
        server.headers(
            id, new MetaData.Response(103, null, HttpVersion.HTTP_3, HttpFields.build()));
      }
      server.headers(
          id,
          new MetaData.Response(
              status,
              null,
              HttpVersion.HTTP_3,
              HttpFields.build().add("content-type", "text/x" + random.nextInt(2))));
      written.add(host + " " + path + " " + agent + " " + status);
    }
    ConnectionFacts shown =
        new ConnectionFacts(new Service(Service.UDP, 443), Address.parse("203.0.113.10"));
    Http3Parser talk = new Http3Parser(shown);
    List<Piece> pieces = pieces(true, client, random);
    pieces.addAll(pieces(false, server, random));
    Collections.shuffle(pieces, random);
    // Nobody compresses with a table before it is known how large one the other keeps.
    pieces.sort((a, b) -> Boolean.compare(isSettings(b), isSettings(a)));
    // And an answer comes after what it is one to.
    pieces.sort((a, b) -> Boolean.compare(isAnswer(a), isAnswer(b)));
    for (Piece piece : pieces) {
      talk.onBytes(piece.byClient(), piece.id(), piece.offset(), piece.bytes());
    }
    assertThat(shown.isBroken()).isFalse();
    List<String> read = new ArrayList<>();
    for (ConnectionFacts.Request request : shown.requests()) {
      read.add(
          request.first(Field.HOST).orElse("")
              + " "
              + request.first(Field.PATH).orElse("")
              + " "
              + request.first(Field.HEADER).orElse("")
              + " "
              + request.first(Field.STATUS).orElse(""));
    }
    assertThat(read).containsExactlyInAnyOrderElementsOf(written);
    assertThat(talk.held()).isLessThan(1 << 18);
  }

  private static boolean isSettings(Piece piece) {
    return piece.id() < 4 && piece.id() > 0;
  }

  private static boolean isAnswer(Piece piece) {
    return !piece.byClient() && !isSettings(piece);
  }
}
