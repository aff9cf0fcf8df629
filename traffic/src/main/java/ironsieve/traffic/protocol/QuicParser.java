package ironsieve.traffic.protocol;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * QUIC versions 1 and 2 (RFC 9000, 9001, 9369). The keys of the first packets come from the
 * connection id a client chose, so everybody who sees them can open them; the client's first
 * message lies in CRYPTO frames, in any order and over several packets. With the session's secrets
 * the streams are opened too, and what HTTP/3 says in them is read.
 */
final class QuicParser implements Parser {

  private static final int INITIAL = 0;
  private static final int EARLY = 1;
  private static final int RETRY = 3;
  private static final int MOST_IDS = 4;
  private static final int MOST_TRIES = 64;
  private static final int LONGEST_HELLO = 1 << 16;

  /** The suites that traffic secrets of so many bytes are for. */
  private static final Map<Integer, List<Integer>> SUITES =
      Map.of(32, List.of(0x1301, 0x1303), 48, List.of(0x1302));

  private final ConnectionFacts shown;
  private final KeyLog log;
  private final Direction client = new Direction(true);
  private final Direction server = new Direction(false);
  private final List<byte[]> firstIds = new ArrayList<>();
  private byte[] clientRandom = new byte[0];
  private boolean isHelloRead;
  private int version = QuicKeys.VERSION_1;
  private int chosenSuite = -1;
  private boolean canBeOpened;
  private List<QuicKeys> early = List.of();
  private Http3Parser inside;
  private int tries;

  /** One direction: what of its handshake was said, and the keys of what follows. */
  private final class Direction {
    private final boolean isClient;
    private final OrderedBytes crypto = new OrderedBytes(2 * LONGEST_HELLO);
    private final Hello.Messages messages = new Hello.Messages();
    private final Map<String, QuicKeys> initial = new HashMap<>();
    private List<QuicKeys> data = List.of();
    private int ownIdLength = -1;
    private long largest = -1;

    private Direction(boolean isClient) {
      this.isClient = isClient;
    }

    private Direction other() {
      return isClient ? server : client;
    }
  }

  QuicParser(ConnectionFacts shown, KeyLog log) {
    this.shown = shown;
    this.log = log;
    shown.layer("QUIC");
  }

  /** Whether a datagram is a client's first packet of a version that is known. */
  static boolean isInitial(byte[] bytes, int offset, int length) {
    if (length < 20 || (bytes[offset] & 0xC0) != 0xC0) {
      return false;
    }
    int version = version(bytes, offset);
    int destination = bytes[offset + 5] & 0xFF;
    return QuicKeys.isKnown(version)
        && type(bytes[offset], version) == INITIAL
        && destination <= 20;
  }

  private static int version(byte[] bytes, int offset) {
    return (bytes[offset + 1] & 0xFF) << 24
        | (bytes[offset + 2] & 0xFF) << 16
        | (bytes[offset + 3] & 0xFF) << 8
        | bytes[offset + 4] & 0xFF;
  }

  /** The kind of a packet with a long header, as version 1 numbers them. */
  private static int type(byte first, int version) {
    int type = (first & 0x30) >> 4;
    return version == QuicKeys.VERSION_2 ? type + 3 & 3 : type;
  }

  @Override
  public void onBytes(boolean byClient, byte[] bytes, int offset, int length) {
    if (isDone() || !byClient && firstIds.isEmpty()) {
      return;
    }
    if (!isHelloRead && byClient) {
      tries++;
    }
    Direction direction = byClient ? client : server;
    int at = offset;
    int end = offset + length;
    // Several packets may lie in one datagram; one with a short header is the last.
    while (end - at >= 20 && !isDone()) {
      if ((bytes[at] & 0x80) == 0) {
        shortHeader(direction, bytes, at, end);
        return;
      }
      int next = longHeader(direction, bytes, at, end);
      if (next <= at) {
        return;
      }
      at = next;
    }
  }

  /** Reads one packet with a long header; where the next one begins, or -1. */
  private int longHeader(Direction direction, byte[] bytes, int at, int end) {
    int said = version(bytes, at);
    if (!QuicKeys.isKnown(said)) {
      return -1;
    }
    int type = type(bytes[at], said);
    ByteView view = new ByteView(bytes, at + 5, end - at - 5);
    byte[] destination = view.bytes(view.u8());
    byte[] source = view.bytes(view.u8());
    if (type == INITIAL) {
      view.skip(view.varint());
    } else if (type == RETRY) {
      return -1; // It is the whole datagram.
    }
    long size = view.varint();
    int numberAt = view.at();
    if (view.isBeyond() || size > end - numberAt || size < 20) {
      return -1;
    }
    int packetEnd = numberAt + (int) size;
    if (direction.ownIdLength < 0) {
      direction.ownIdLength = source.length;
    }
    if (type == INITIAL && (direction.isClient ? !isHelloRead : isHelloRead && chosenSuite < 0)) {
      initial(direction, said, destination, bytes, at, numberAt, packetEnd)
          .ifPresent(
              opened -> {
                direction.ownIdLength = source.length;
                version = said;
                handshakeFrames(direction, opened.frames());
              });
    } else if (type == EARLY && direction.isClient) {
      open(direction, early, bytes, at, numberAt, packetEnd)
          .ifPresent(opened -> dataFrames(direction, opened));
    }
    return packetEnd;
  }

  private Optional<QuicKeys.Opened> initial(
      Direction direction,
      int said,
      byte[] destination,
      byte[] bytes,
      int at,
      int numberAt,
      int end) {
    if (direction.isClient
        && firstIds.size() < MOST_IDS
        && firstIds.stream().noneMatch(id -> Arrays.equals(id, destination))) {
      firstIds.add(destination);
    }
    // After the server has answered, the client names another id and keeps the keys of its first.
    for (byte[] id : firstIds) {
      QuicKeys keys =
          direction.initial.computeIfAbsent(
              said + Arrays.toString(id), key -> QuicKeys.initial(said, id, direction.isClient));
      Optional<QuicKeys.Opened> opened = keys.open(bytes, at, numberAt, end, -1);
      if (opened.isPresent()) {
        return opened;
      }
    }
    return Optional.empty();
  }

  private void shortHeader(Direction direction, byte[] bytes, int at, int end) {
    int idLength = direction.other().ownIdLength;
    if (idLength < 0 || clientRandom.length == 0) {
      return;
    }
    if (direction.data.isEmpty()) {
      direction.data =
          keys(direction.isClient ? KeyLog.CLIENT_DATA : KeyLog.SERVER_DATA, chosenSuite);
    }
    open(direction, direction.data, bytes, at, at + 1 + idLength, end)
        .ifPresent(opened -> dataFrames(direction, opened));
  }

  /** The keys that come of a secret, for each suite it may be meant for. */
  private List<QuicKeys> keys(String label, int suite) {
    return log.secret(label, clientRandom)
        .map(
            secret ->
                SUITES.getOrDefault(secret.length, List.of()).stream()
                    .filter(number -> suite < 0 || number == suite)
                    .flatMap(number -> RecordCipher.Suite.of(number).stream())
                    .map(known -> QuicKeys.ofSecret(version, known, secret))
                    .toList())
        .orElse(List.of());
  }

  private Optional<QuicKeys.Opened> open(
      Direction direction, List<QuicKeys> keys, byte[] bytes, int at, int numberAt, int end) {
    for (QuicKeys one : keys) {
      Optional<QuicKeys.Opened> opened = one.open(bytes, at, numberAt, end, direction.largest);
      if (opened.isPresent()) {
        direction.largest = Math.max(direction.largest, opened.get().number());
        return opened;
      }
    }
    return Optional.empty();
  }

  private void handshakeFrames(Direction direction, byte[] plain) {
    QuicFrames.read(
        plain,
        new QuicFrames.Reader() {
          @Override
          public void crypto(long offset, byte[] data) {
            if (offset + data.length <= LONGEST_HELLO) {
              direction.crypto.add(
                  offset,
                  data,
                  (bytes, at, length) ->
                      direction.messages.add(
                          bytes, at, length, (type, body) -> message(direction, type, body)));
            }
          }

          @Override
          public void stream(long id, long offset, byte[] data) {
            // None before there are keys for them.
          }
        });
  }

  private void message(Direction direction, int type, ByteView body) {
    if (direction.isClient && type == Hello.CLIENT_HELLO && !isHelloRead) {
      isHelloRead = true;
      clientRandom = Hello.client(body, shown);
      canBeOpened =
          log.secret(KeyLog.CLIENT_DATA, clientRandom).isPresent()
              && shown.facts().stream()
                  .anyMatch(
                      fact -> fact.field() == Field.ALPN && fact.text().matches("h3(-[0-9]{2})?"));
      early = keys(KeyLog.CLIENT_EARLY, -1);
    } else if (!direction.isClient && type == Hello.SERVER_HELLO) {
      Hello.Chosen chosen = Hello.server(body, shown);
      if (!chosen.isRetry()) {
        chosenSuite = chosen.suite();
      }
    }
  }

  private void dataFrames(Direction direction, QuicKeys.Opened opened) {
    if (inside == null) {
      shown.opened();
      inside = new Http3Parser(shown);
    }
    QuicFrames.read(
        opened.frames(),
        new QuicFrames.Reader() {
          @Override
          public void crypto(long offset, byte[] data) {
            // Tickets for later sessions.
          }

          @Override
          public void stream(long id, long offset, byte[] data) {
            inside.onBytes(direction.isClient, id, offset, data);
          }
        });
  }

  @Override
  public void lost(boolean byClient) {
    // Datagrams are lost without anybody telling.
  }

  /** Without keys nothing more is to be seen once the client's first message is read. */
  @Override
  public boolean isDone() {
    if (!isHelloRead) {
      return tries >= MOST_TRIES;
    }
    return !canBeOpened || inside != null && inside.isDone();
  }

  @Override
  public int held() {
    return client.crypto.held()
        + client.messages.held()
        + server.crypto.held()
        + server.messages.held()
        + (inside == null ? 0 : inside.held());
  }
}
