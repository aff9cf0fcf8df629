package ironsieve.traffic.protocol;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.Unpooled;
import io.netty.handler.codec.http2.DefaultHttp2HeadersDecoder;
import io.netty.handler.codec.http2.Http2Exception;
import io.netty.handler.codec.http2.Http2Headers;
import java.util.Optional;

/**
 * HTTP/2 (RFC 9113): the headers of each request and answer; what else is in the frames is passed
 * over. Header compression (RFC 7541) is a library's, with its own bounds.
 */
final class Http2Parser implements Parser {

  private static final int PREFACE = 24;
  private static final int FRAME_HEAD = 9;
  private static final int HEADERS = 1;
  private static final int PUSH = 5;
  private static final int CONTINUATION = 9;
  private static final int END_HEADERS = 4;
  private static final int PADDED = 8;
  private static final int PRIORITY = 32;
  private static final int LONGEST_BLOCK = 1 << 16;

  private final ConnectionFacts shown;
  private final Requests requests;
  private final Side client = new Side(true);
  private final Side server = new Side(false);

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

  Http2Parser(ConnectionFacts shown) {
    this.shown = shown;
    this.requests = new Requests(shown);
    shown.layer("HTTP");
  }

  @Override
  public void onBytes(boolean byClient, byte[] bytes, int offset, int length) {
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
    if (headers.method() != null) { // A trailer has none.
      requests.asked(
          stream,
          headers.method().toString(),
          Optional.ofNullable(headers.authority()).map(CharSequence::toString),
          Optional.ofNullable(headers.path()).map(CharSequence::toString),
          headers);
    }
  }

  private void answer(int stream, Http2Headers headers) {
    if (headers.status() != null) {
      requests.answered(
          stream,
          headers.status().toString(),
          Optional.ofNullable(headers.get("content-type")).map(CharSequence::toString));
    }
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
