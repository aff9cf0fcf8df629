package ironsieve.traffic.protocol;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/**
 * A stream of which it is not known yet what it is: finds that out from its first bytes and hands
 * them on. Also what is inside something that was opened. The first bytes of both directions are
 * facts of their own, whatever they are.
 */
final class StreamParser implements Parser {

  /** So many first bytes of each direction are kept. */
  static final int FIRST_BYTES = 512;

  private static final int MOST_DEPTH = 4;
  private static final int DNS_PORT = 53;
  private static final byte[] HTTP2 =
      "PRI * HTTP/2.0\r\n\r\nSM\r\n\r\n".getBytes(StandardCharsets.US_ASCII);
  private static final byte[] HTTP_ANSWER = "HTTP/1.".getBytes(StandardCharsets.US_ASCII);
  private static final byte[] START_TLS = "STARTTLS".getBytes(StandardCharsets.US_ASCII);
  private static final byte[][] METHODS =
      java.util.stream.Stream.of(
              "GET ",
              "POST ",
              "HEAD ",
              "PUT ",
              "DELETE ",
              "OPTIONS ",
              "CONNECT ",
              "PATCH ",
              "TRACE ",
              "PROPFIND ",
              "REPORT ",
              "MKCOL ",
              "MOVE ",
              "COPY ",
              "LOCK ",
              "SEARCH ")
          .map(method -> method.getBytes(StandardCharsets.US_ASCII))
          .toArray(byte[][]::new);

  private final ConnectionFacts shown;
  private final KeyLog keys;
  private final int depth;
  private final ByteRow client = new ByteRow(FIRST_BYTES);
  private final ByteRow server = new ByteRow(FIRST_BYTES);
  private Parser inside;
  private boolean isOpaque;
  private boolean isTlsNext;

  StreamParser(ConnectionFacts shown, KeyLog keys, int depth) {
    this.shown = shown;
    this.keys = keys;
    this.depth = depth;
  }

  @Override
  public void onBytes(boolean byClient, byte[] bytes, int offset, int length) {
    if (length == 0) {
      return;
    }
    ByteRow row = byClient ? client : server;
    if (inside != null) {
      if (!row.isFull()) {
        row.add(bytes, offset, length);
      }
      inside.onBytes(byClient, bytes, offset, length);
      return;
    }
    if (isOpaque) {
      row.add(bytes, offset, length);
      startTls(byClient, bytes, offset, length);
      return;
    }
    int taken = row.add(bytes, offset, length);
    Parser found = detect(row.isFull());
    if (found != null) {
      inside = found;
      replay(byClient, taken);
      inside.onBytes(byClient, bytes, offset, length);
    } else if (isOpaque) {
      startTls(byClient, bytes, offset, length);
    }
  }

  /** What was said before it was known what it is. */
  private void replay(boolean byClient, int taken) {
    ByteRow other = byClient ? server : client;
    ByteRow own = byClient ? client : server;
    if (other.size() > 0) {
      inside.onBytes(!byClient, other.array(), other.start(), other.size());
    }
    if (own.size() > taken) {
      inside.onBytes(byClient, own.array(), own.start(), own.size() - taken);
    }
  }

  /** What it is, or nothing while that is open. */
  private Parser detect(boolean isAll) {
    if (depth > MOST_DEPTH) {
      isOpaque = true;
      return null;
    }
    if (client.size() > 0) {
      if (isTls(client)) {
        return new TlsParser(shown, keys, depth);
      }
      if (starts(client, HTTP2)) {
        return new Http2Parser(shown);
      }
      for (byte[] method : METHODS) {
        if (starts(client, method)) {
          return new Http1Parser(shown, keys, depth);
        }
      }
      if (shown.service().detail() == DNS_PORT && depth == 0 && client.size() >= 14) {
        return new DnsParser(shown, true, "DNS");
      }
      if (!isAll && mayBecome(client)) {
        return null;
      }
    } else {
      if (isTls(server)) {
        return new TlsParser(shown, keys, depth);
      }
      if (starts(server, HTTP_ANSWER)) {
        return new Http1Parser(shown, keys, depth);
      }
      if (!isAll && (server.size() < HTTP_ANSWER.length && mayBecome(server))) {
        return null;
      }
      // A server that speaks first; what the client answers may still tell.
      return null;
    }
    isOpaque = true;
    return null;
  }

  private static boolean isTls(ByteRow row) {
    return row.size() >= 3
        && (row.u8(0) == TlsParser.HANDSHAKE || row.u8(0) == TlsParser.DATA)
        && row.u8(1) == 3
        && row.u8(2) <= 4;
  }

  private boolean mayBecome(ByteRow row) {
    if (row.size() == 0) {
      return false;
    }
    if (row.size() < 3 && row.u8(0) == TlsParser.HANDSHAKE) {
      return true;
    }
    if (shown.service().detail() == DNS_PORT && row.size() < 14) {
      return true;
    }
    for (byte[] method : METHODS) {
      if (begins(row, method)) {
        return true;
      }
    }
    return begins(row, HTTP2);
  }

  private static boolean begins(ByteRow row, byte[] wanted) {
    int length = Math.min(row.size(), wanted.length);
    return Arrays.equals(row.array(), row.start(), row.start() + length, wanted, 0, length);
  }

  private static boolean starts(ByteRow row, byte[] wanted) {
    return row.size() >= wanted.length && begins(row, wanted);
  }

  /** Mail and other old protocols ask for encryption in plain words (RFC 3207 and its like). */
  private void startTls(boolean byClient, byte[] bytes, int offset, int length) {
    if (!byClient) {
      return;
    }
    if (isTlsNext
        && length >= 3
        && bytes[offset] == TlsParser.HANDSHAKE
        && bytes[offset + 1] == 3) {
      inside = new TlsParser(shown, keys, depth);
      inside.onBytes(true, bytes, offset, length);
    }
    isTlsNext |= length >= START_TLS.length && length < 64 && holds(bytes, offset, length);
  }

  private static boolean holds(byte[] bytes, int offset, int length) {
    for (int at = offset; at <= offset + length - START_TLS.length; at++) {
      int i = 0;
      while (i < START_TLS.length && (bytes[at + i] & 0xDF) == START_TLS[i]) {
        i++;
      }
      if (i == START_TLS.length) {
        return true;
      }
    }
    return false;
  }

  @Override
  public void lost(boolean byClient) {
    if (inside != null) {
      inside.lost(byClient);
    } else {
      isOpaque = true;
    }
  }

  @Override
  public boolean isDone() {
    if (inside != null) {
      return inside.isDone();
    }
    return isOpaque && !isTlsNext && client.isFull() && server.isFull();
  }

  /** Says what the first bytes of both directions were, as far as they were said. */
  void tell(ConnectionFacts to) {
    if (inside instanceof TlsParser tls) {
      tls.tell(to);
    } else if (inside instanceof Http1Parser http) {
      http.tell(to);
    }
    if (client.size() > 0) {
      to.add(Fact.bytes(Field.CLIENT_BYTES, client.copy(0, client.size())));
    }
    if (server.size() > 0) {
      to.add(Fact.bytes(Field.SERVER_BYTES, server.copy(0, server.size())));
    }
  }

  /** Whether the client is in the middle of what tells what it is or what it wants. */
  boolean isMidHead() {
    if (inside instanceof Http1Parser http) {
      return http.isMidHead();
    }
    if (inside instanceof TlsParser tls) {
      return tls.isMidHello();
    }
    return inside == null && !isOpaque && client.size() > 0;
  }

  /** How many of its first bytes are known. */
  int firstBytes() {
    return client.size() + server.size();
  }

  /** Whether it is nothing that is read further: its first bytes are all that it shows. */
  boolean isOpaque() {
    return isOpaque && inside == null;
  }

  @Override
  public int held() {
    return client.held() + server.held() + (inside == null ? 0 : inside.held());
  }
}
