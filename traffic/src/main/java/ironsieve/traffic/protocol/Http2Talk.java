package ironsieve.traffic.protocol;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.Unpooled;
import io.netty.handler.codec.http2.DefaultHttp2HeadersDecoder;
import io.netty.handler.codec.http2.Http2Exception;
import io.netty.handler.codec.http2.Http2Headers;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * HTTP/2 (RFC 9113): the headers of each request and answer; what else is in the frames is passed
 * over. Header compression (RFC 7541) is a library's, with its own bounds.
 */
final class Http2Talk implements Talk {

  private static final int PREFACE = 24;
  private static final int FRAME_HEAD = 9;
  private static final int HEADERS = 1;
  private static final int PUSH = 5;
  private static final int CONTINUATION = 9;
  private static final int END_HEADERS = 4;
  private static final int PADDED = 8;
  private static final int PRIORITY = 32;
  private static final int LONGEST_BLOCK = 1 << 16;
  private static final int MOST_STREAMS = 256;

  private final Shown shown;
  private final Exchange exchange;
  private final Side client = new Side(true);
  private final Side server = new Side(false);
  private final Map<Integer, Shown.Request> streams = new LinkedHashMap<>();

  private static final class Side {
    private final boolean isClient;
    private int prefaceLeft;
    private final ByteRow head = new ByteRow(FRAME_HEAD);
    private final ByteRow block = new ByteRow(LONGEST_BLOCK);
    private final DefaultHttp2HeadersDecoder headers =
        new DefaultHttp2HeadersDecoder(false, LONGEST_BLOCK);
    private int type;
    private int flags;
    private int stream;
    private int left;
    private boolean isPayload;
    private int blockFlags;
    private boolean isPush;
    private boolean isLost;

    private Side(boolean isClient) {
      this.isClient = isClient;
      prefaceLeft = isClient ? PREFACE : 0;
    }

    private boolean isBlock() {
      return type == HEADERS || type == CONTINUATION || type == PUSH;
    }
  }

  Http2Talk(Shown shown) {
    this.shown = shown;
    this.exchange = new Exchange(shown);
    shown.layer("HTTP");
  }

  @Override
  public void said(boolean byClient, byte[] bytes, int offset, int length) {
    Side side = byClient ? client : server;
    int at = offset;
    int end = offset + length;
    while (at < end && !side.isLost) {
      if (side.prefaceLeft > 0) {
        int passed = Math.min(side.prefaceLeft, end - at);
        side.prefaceLeft -= passed;
        at += passed;
      } else if (!side.isPayload) {
        at += side.head.add(bytes, at, Math.min(FRAME_HEAD - side.head.size(), end - at));
        if (side.head.size() == FRAME_HEAD) {
          frame(side);
        }
      } else {
        int passed = Math.min(side.left, end - at);
        if (side.isBlock() && side.block.add(bytes, at, passed) < passed) {
          lost(byClient);
          return;
        }
        side.left -= passed;
        at += passed;
        if (side.left == 0) {
          ended(side);
        }
      }
    }
  }

  private void frame(Side side) {
    side.left = side.head.u24(0);
    side.type = side.head.u8(3);
    side.flags = side.head.u8(4);
    side.stream = (side.head.u16(5) & 0x7FFF) << 16 | side.head.u16(7);
    side.head.clear();
    side.isPayload = true;
    if (side.type != CONTINUATION) {
      side.block.clear();
      side.blockFlags = side.flags;
      side.isPush = side.type == PUSH;
    }
    if (side.left == 0) {
      ended(side);
    }
  }

  private void ended(Side side) {
    side.isPayload = false;
    if (!side.isBlock() || (side.flags & END_HEADERS) == 0) {
      return;
    }
    int from = 0;
    int padding = 0;
    if ((side.blockFlags & PADDED) != 0 && side.block.size() > 0) {
      padding = side.block.u8(0);
      from = 1;
    }
    from += side.isPush ? 4 : (side.blockFlags & PRIORITY) != 0 ? 5 : 0;
    int length = side.block.size() - from - padding;
    if (length < 0) {
      lost(side.isClient);
      return;
    }
    headers(side, side.block.array(), side.block.start() + from, length);
    side.block.clear();
  }

  private void headers(Side side, byte[] bytes, int offset, int length) {
    ByteBuf block = Unpooled.wrappedBuffer(bytes, offset, length);
    try {
      Http2Headers headers = side.headers.decodeHeaders(Math.max(1, side.stream), block);
      if (side.isClient) {
        request(side.stream, headers);
      } else if (!side.isPush) {
        answer(side.stream, headers);
      }
    } catch (Http2Exception | RuntimeException e) {
      // After a block that cannot be read the table of the compression is unknown.
      lost(side.isClient);
    } finally {
      block.release();
    }
  }

  private void request(int stream, Http2Headers headers) {
    if (headers.method() == null) {
      return; // A trailer.
    }
    Optional<Shown.Request> request = exchange.request();
    if (request.isEmpty()) {
      return;
    }
    Shown.Request one = request.get();
    if (headers.authority() != null) {
      Exchange.host(one, headers.authority().toString());
    }
    Exchange.asks(
        one,
        headers.method().toString(),
        headers.path() == null
            ? headers.authority() == null ? "" : headers.authority().toString()
            : headers.path().toString());
    for (Map.Entry<CharSequence, CharSequence> header : headers) {
      if (header.getKey().length() > 0 && header.getKey().charAt(0) != ':') {
        Exchange.header(one, header.getKey().toString(), header.getValue().toString());
      }
    }
    if (streams.size() >= MOST_STREAMS) {
      streams.remove(streams.keySet().iterator().next());
    }
    streams.put(stream, one);
  }

  private void answer(int stream, Http2Headers headers) {
    Shown.Request asked = streams.get(stream);
    if (asked == null || headers.status() == null) {
      return;
    }
    if (headers.status().length() == 3 && headers.status().charAt(0) == '1') {
      return;
    }
    Exchange.status(asked, headers.status().toString());
    CharSequence type = headers.get("content-type");
    if (type != null) {
      Exchange.answerHeader(asked, "content-type", type.toString());
    }
    streams.remove(stream);
  }

  @Override
  public void lost(boolean byClient) {
    Side side = byClient ? client : server;
    side.isLost = true;
    side.block.clear();
    shown.broken();
  }

  @Override
  public boolean isDone() {
    return client.isLost;
  }

  @Override
  public int held() {
    return client.block.held() + server.block.held();
  }
}
