package ironsieve.traffic.protocol;

import java.nio.ByteBuffer;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.eclipse.jetty.http.HttpField;
import org.eclipse.jetty.http.MetaData;
import org.eclipse.jetty.http3.qpack.QpackDecoder;
import org.eclipse.jetty.http3.qpack.QpackException;

/**
 * HTTP/3 (RFC 9114) over the streams of an opened QUIC connection: the headers of each request and
 * answer. Field compression (RFC 9204) is a library's, with bounds.
 */
final class Http3Parser {

  private static final int HEADERS = 1;
  private static final int SETTINGS = 4;
  private static final int TABLE_CAPACITY = 1;
  private static final int CONTROL_STREAM = 0;
  private static final int ENCODER_STREAM = 2;
  private static final int LARGEST_TABLE = 1 << 16;
  private static final int LONGEST_BLOCK = 1 << 16;
  private static final int MOST_BLOCKED = 64;
  private static final int MOST_STREAMS = 128;
  private static final int MOST_HELD = 1 << 18;

  private final ConnectionFacts shown;
  private final Requests requests;
  private final Side client = new Side(true);
  private final Side server = new Side(false);

  /** What one side has said. */
  private final class Side {
    private final boolean isClient;
    private final QpackDecoder fields = new QpackDecoder(instructions -> {});
    private final Map<Long, Stream> streams = new LinkedHashMap<>();
    private final Map<Integer, Long> forgotten = new HashMap<>();
    private int blocked;
    private boolean isLost;

    private Side(boolean isClient) {
      this.isClient = isClient;
      fields.setBeginNanoTimeSupplier(() -> 0);
      fields.setMaxHeadersSize(LONGEST_BLOCK);
      fields.setMaxBlockedStreams(MOST_BLOCKED);
      fields.setMaxTableCapacity(0);
    }

    private Side other() {
      return isClient ? server : client;
    }

    private int held() {
      int held = blocked;
      for (Stream stream : streams.values()) {
        held += stream.held();
      }
      return held;
    }
  }

  /** What one side says on one stream. */
  private final class Stream {
    private final Side side;
    private final long id;
    private final OrderedBytes pieces = new OrderedBytes(LONGEST_BLOCK);
    private final ByteRow row = new ByteRow(LONGEST_BLOCK + 16);
    private int kind;
    private long skipped;
    private boolean isDone;

    private Stream(Side side, long id) {
      this.side = side;
      this.id = id;
      // On both there are frames one after the other.
      kind = isRequests() ? CONTROL_STREAM : -1;
    }

    /** Both sides speak on those that a client begins for a request; on others only one does. */
    private boolean isRequests() {
      return (id & 3) == 0;
    }

    private int held() {
      return pieces.held() + row.held();
    }

    private void done() {
      isDone = true;
      row.clear();
      pieces.clear();
    }
  }

  Http3Parser(ConnectionFacts shown) {
    this.shown = shown;
    requests = new Requests(shown);
    shown.layer("HTTP");
  }

  /**
   * The next bytes of a stream, in any order.
   *
   * @param data kept
   */
  void onBytes(boolean byClient, long id, long offset, byte[] data) {
    Side side = byClient ? client : server;
    Optional<Stream> found = side.isLost ? Optional.empty() : stream(side, id);
    if (found.isEmpty() || found.get().isDone) {
      return;
    }
    Stream stream = found.get();
    boolean isKept =
        stream.pieces.add(offset, data, (b, at, length) -> next(stream, b, at, length));
    if (!isKept || side.held() > MOST_HELD) {
      givenUp(stream);
    }
  }

  private Optional<Stream> stream(Side side, long id) {
    Stream known = side.streams.get(id);
    if (known != null) {
      return Optional.of(known);
    }
    // Bytes that come late for a stream that made room for others are of no use.
    int way = (int) (id & 3);
    if (id <= side.forgotten.getOrDefault(way, -1L)) {
      return Optional.empty();
    }
    if (side.streams.size() >= MOST_STREAMS) {
      Stream oldest =
          side.streams.values().stream()
              .filter(Stream::isRequests)
              .findFirst()
              .orElseGet(() -> side.streams.values().iterator().next());
      side.streams.remove(oldest.id);
      side.forgotten.merge((int) (oldest.id & 3), oldest.id, Math::max);
    }
    Stream begun = new Stream(side, id);
    side.streams.put(id, begun);
    return Optional.of(begun);
  }

  private void givenUp(Stream stream) {
    shown.broken();
    stream.done();
    if (!stream.isRequests()) {
      // Without them it is not known any more what the compression's table holds.
      stream.side.isLost = true;
    }
  }

  private void next(Stream stream, byte[] bytes, int offset, int length) {
    int at = offset;
    int end = offset + length;
    while (at < end && !stream.isDone) {
      if (stream.skipped > 0) {
        int passed = (int) Math.min(stream.skipped, end - at);
        stream.skipped -= passed;
        at += passed;
      } else {
        int taken = stream.row.add(bytes, at, end - at);
        at += taken;
        if (!read(stream) && taken == 0) {
          givenUp(stream);
        }
      }
    }
  }

  /** Reads what is whole at the beginning of a stream's row; whether there was something. */
  private boolean read(Stream stream) {
    boolean any = false;
    while (stream.row.size() > 0 && !stream.isDone) {
      ByteRow row = stream.row;
      ByteView view = new ByteView(row.array(), row.start(), row.size());
      if (stream.kind < 0) {
        long kind = view.varint();
        if (view.isBeyond()) {
          return any;
        }
        row.drop(view.at() - row.start());
        stream.kind = (int) Math.min(kind, Integer.MAX_VALUE);
        if (stream.kind != CONTROL_STREAM && stream.kind != ENCODER_STREAM) {
          stream.done();
        }
      } else if (stream.kind == ENCODER_STREAM) {
        if (!instruction(view)) {
          return any;
        }
        int length = view.at() - row.start();
        instruct(stream, row.copy(0, length));
        row.drop(length);
      } else if (!frame(stream, view)) {
        return any;
      }
      any = true;
    }
    return any;
  }

  /** Reads or passes over a frame; false if it is not whole yet. */
  private boolean frame(Stream stream, ByteView view) {
    long type = view.varint();
    long length = view.varint();
    if (view.isBeyond()) {
      return false;
    }
    ByteRow row = stream.row;
    if (type != HEADERS && type != SETTINGS) {
      int there = (int) Math.min(length, view.left());
      stream.skipped = length - there;
      row.drop(view.at() - row.start() + there);
      return true;
    }
    if (length > LONGEST_BLOCK) {
      givenUp(stream);
      return true;
    }
    if (length > view.left()) {
      return false;
    }
    byte[] payload = view.bytes(length);
    row.drop(view.at() - row.start());
    if (type == SETTINGS) {
      settings(stream.side, new ByteView(payload, 0, payload.length));
    } else if (stream.isRequests()) {
      headers(stream, payload);
    }
    return true;
  }

  /** How large a table one side keeps is how large the other's compression may reckon with. */
  private static void settings(Side side, ByteView view) {
    while (view.left() > 0) {
      long name = view.varint();
      long value = view.varint();
      if (name == TABLE_CAPACITY && !view.isBeyond()) {
        side.other().fields.setMaxTableCapacity((int) Math.min(value, LARGEST_TABLE));
      }
    }
  }

  /**
   * Passes over an instruction for the compression's table (RFC 9204, 4.3); false if it is not
   * whole yet. The library is given whole ones, for not wherever one is cut does it wait for the
   * rest.
   */
  private static boolean instruction(ByteView view) {
    int first = view.u8();
    if ((first & 0x80) != 0) {
      view.prefixed(first, 6);
      text(view, view.u8(), 7);
    } else if ((first & 0x40) != 0) {
      text(view, first, 5);
      text(view, view.u8(), 7);
    } else {
      view.prefixed(first, 5);
    }
    return !view.isBeyond();
  }

  private static void text(ByteView view, int first, int bits) {
    view.skip(view.prefixed(first, bits));
  }

  private void instruct(Stream stream, byte[] instruction) {
    try {
      stream.side.fields.parseInstructions(ByteBuffer.wrap(instruction));
    } catch (QpackException | RuntimeException e) {
      givenUp(stream);
    }
  }

  private void headers(Stream stream, byte[] block) {
    try {
      boolean isRead =
          stream.side.fields.decode(
              stream.id,
              ByteBuffer.wrap(block),
              (id, fields, wasBlocked) -> {
                stream.side.blocked -= wasBlocked ? block.length : 0;
                onFields(stream, fields);
              });
      // It waits in the library for what the table is to hold.
      stream.side.blocked += isRead ? 0 : block.length;
    } catch (QpackException.StreamException e) {
      givenUp(stream);
    } catch (QpackException | RuntimeException e) {
      givenUp(stream);
      stream.side.isLost = true;
    }
  }

  private void onFields(Stream stream, MetaData fields) {
    if (fields instanceof MetaData.Request request && stream.side.isClient) {
      requests.asked(
          stream.id,
          request.getMethod(),
          Optional.ofNullable(request.getHttpURI().getAuthority()),
          Optional.ofNullable(request.getHttpURI().getPathQuery()),
          request.getHttpFields().stream()
              .map(field -> Map.entry(field.getLowerCaseName(), value(field)))
              .toList());
      stream.done();
    } else if (fields instanceof MetaData.Response answer
        && !stream.side.isClient
        && requests.answered(
            stream.id,
            String.valueOf(answer.getStatus()),
            Optional.ofNullable(answer.getHttpFields().get("content-type")))) {
      stream.done();
    }
  }

  private static String value(HttpField field) {
    return field.getValue() == null ? "" : field.getValue();
  }

  /** Whether nothing that comes can show more. */
  boolean isDone() {
    return client.isLost;
  }

  /** How many bytes it holds, about. */
  int held() {
    return client.held() + server.held();
  }
}
