package ironsieve.traffic.protocol;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Optional;

/**
 * HTTP/1.0 and HTTP/1.1 (RFC 9112): each request with its headers, and the answer's status and
 * type; bodies are passed over. After CONNECT and after an upgrade another protocol goes on inside.
 */
final class Http1Parser implements Parser {

  private static final int LONGEST_HEAD = 1 << 16;
  private static final int MOST_HEADERS = 100;
  private static final int MOST_OPEN = 128;

  private final ConnectionFacts shown;
  private final KeyLog keys;
  private final int depth;
  private final Exchange exchange;
  private final Side client = new Side(true);
  private final Side server = new Side(false);
  private final Deque<Asked> open = new ArrayDeque<>();
  private Parser inside;
  private StreamParser tunnel;
  private boolean isDone;

  /** A request that waits for its answer. */
  private record Asked(
      Optional<ConnectionFacts.Request> request, String method, boolean isUpgradeToHttp2) {}

  /** Where in a message a side is. */
  private enum Part {
    HEAD,
    BODY,
    CHUNK_SIZE,
    CHUNK,
    CHUNK_END,
    TRAILER,
    UNTIL_CLOSE
  }

  private static final class Side {
    private final boolean isClient;
    private final ByteRow line = new ByteRow(LONGEST_HEAD);
    private Part part = Part.HEAD;
    private long left;
    private boolean isLost;
    // Of the head that is being read.
    private boolean isFirstLine = true;
    private int headers;
    private int headBytes;
    private Optional<ConnectionFacts.Request> request = Optional.empty();
    private String method = "";
    private String status = "";
    private long length = -1;
    private boolean isChunked;
    private String upgrade = "";

    private Side(boolean isClient) {
      this.isClient = isClient;
    }

    private void nextHead() {
      part = Part.HEAD;
      isFirstLine = true;
      headers = 0;
      headBytes = 0;
      length = -1;
      isChunked = false;
      upgrade = "";
      request = Optional.empty();
    }
  }

  Http1Parser(ConnectionFacts shown, KeyLog keys, int depth) {
    this.shown = shown;
    this.keys = keys;
    this.depth = depth;
    this.exchange = new Exchange(shown);
    shown.layer("HTTP");
  }

  @Override
  public void onBytes(boolean byClient, byte[] bytes, int offset, int length) {
    Side side = byClient ? client : server;
    int at = offset;
    int end = offset + length;
    while (at < end && !isDone) {
      if (inside != null) {
        inside.onBytes(byClient, bytes, at, end - at);
        return;
      }
      if (side.isLost) {
        return;
      }
      at = read(side, bytes, at, end);
    }
  }

  /** Reads some of it; returns up to where. */
  private int read(Side side, byte[] bytes, int at, int end) {
    switch (side.part) {
      case BODY, CHUNK -> {
        int passed = (int) Math.min(side.left, end - at);
        side.left -= passed;
        if (side.left == 0) {
          if (side.part == Part.BODY) {
            side.nextHead();
          } else {
            side.part = Part.CHUNK_END;
          }
        }
        return at + passed;
      }
      case UNTIL_CLOSE -> {
        return end;
      }
      default -> {
        int newline = at;
        while (newline < end && bytes[newline] != '\n') {
          newline++;
        }
        int until = Math.min(newline + 1, end);
        side.headBytes += until - at;
        if (side.line.add(bytes, at, until - at) < until - at || side.headBytes > LONGEST_HEAD) {
          lost(side.isClient);
          return end;
        }
        if (newline < end) {
          String line =
              ConnectionFacts.latin(side.line.array(), side.line.start(), side.line.size()).strip();
          side.line.clear();
          line(side, line);
        }
        return until;
      }
    }
  }

  private void line(Side side, String line) {
    switch (side.part) {
      case HEAD -> head(side, line);
      case CHUNK_SIZE -> {
        String size = line.split("[;\\s]", 2)[0];
        if (!size.matches("[0-9a-fA-F]{1,12}")) {
          lost(side.isClient);
          return;
        }
        side.left = Long.parseLong(size, 16);
        side.part = side.left == 0 ? Part.TRAILER : Part.CHUNK;
      }
      case CHUNK_END -> side.part = Part.CHUNK_SIZE;
      case TRAILER -> {
        if (line.isEmpty()) {
          side.nextHead();
        }
      }
      default -> throw new IllegalStateException(side.part + " has no lines");
    }
  }

  private void head(Side side, String line) {
    if (side.isFirstLine) {
      if (!line.isEmpty()) {
        first(side, line);
      }
      return;
    }
    if (line.isEmpty()) {
      ended(side);
      return;
    }
    int colon = line.indexOf(':');
    if (colon <= 0 || ++side.headers > MOST_HEADERS) {
      return;
    }
    String name = line.substring(0, colon).trim();
    String value = line.substring(colon + 1).trim();
    if (side.isClient) {
      side.request.ifPresent(request -> Exchange.header(request, name, value));
    } else {
      side.request.ifPresent(request -> Exchange.answerHeader(request, name, value));
    }
    if (name.equalsIgnoreCase("content-length") && value.matches("\\d{1,18}")) {
      side.length = Long.parseLong(value);
    } else if (name.equalsIgnoreCase("transfer-encoding")) {
      side.isChunked = value.toLowerCase(java.util.Locale.ROOT).contains("chunked");
    } else if (name.equalsIgnoreCase("upgrade")) {
      side.upgrade = value.toLowerCase(java.util.Locale.ROOT);
    }
  }

  private void first(Side side, String line) {
    String[] parts = line.split(" ", 3);
    if (side.isClient) {
      boolean isRequest =
          parts.length >= 2 && parts[0].matches("[A-Z][A-Z_-]{1,15}") && isVersion(parts);
      if (!isRequest) {
        lost(true);
        return;
      }
      side.request = exchange.request();
      side.method = parts[0];
      side.request.ifPresent(request -> Exchange.asks(request, parts[0], parts[1]));
    } else {
      if (!line.startsWith("HTTP/1.") || parts.length < 2) {
        lost(false);
        return;
      }
      side.status = parts[1];
      side.request = open.isEmpty() ? Optional.empty() : open.peekFirst().request();
      if (!side.status.startsWith("1") || side.status.equals("101")) {
        side.request.ifPresent(request -> Exchange.status(request, parts[1]));
      }
    }
    side.isFirstLine = false;
  }

  private static boolean isVersion(String[] parts) {
    return parts.length == 2 || parts[2].startsWith("HTTP/1.");
  }

  private void ended(Side side) {
    if (side.isClient) {
      side.request.ifPresent(shown::asked);
      if (open.size() < MOST_OPEN) {
        open.addLast(new Asked(side.request, side.method, side.upgrade.equals("h2c")));
      }
      body(side, false);
      return;
    }
    Asked asked = open.peekFirst();
    String method = asked == null ? "" : asked.method();
    if (side.status.equals("101")) {
      upgraded(asked, side.upgrade);
      return;
    }
    if (side.status.startsWith("1")) {
      side.nextHead();
      return;
    }
    open.pollFirst();
    side.request.ifPresent(shown::answered);
    if (method.equals("CONNECT") && side.status.startsWith("2")) {
      tunnel = new StreamParser(shown, keys, depth + 1);
      inside = tunnel;
      return;
    }
    boolean hasNone =
        method.equals("HEAD") || side.status.equals("204") || side.status.equals("304");
    if (hasNone) {
      side.nextHead();
    } else {
      body(side, true);
    }
  }

  private void upgraded(Asked asked, String protocol) {
    if (asked != null && asked.isUpgradeToHttp2()) {
      inside = new Http2Parser(shown);
    } else {
      shown.layer(protocol.contains("websocket") ? "WebSocket" : "HTTP upgrade");
      isDone = true;
    }
  }

  private static void body(Side side, boolean isAnswer) {
    if (side.isChunked) {
      side.part = Part.CHUNK_SIZE;
    } else if (side.length > 0) {
      side.part = Part.BODY;
      side.left = side.length;
    } else if (side.length < 0 && isAnswer) {
      side.part = Part.UNTIL_CLOSE;
    } else {
      side.nextHead();
    }
  }

  @Override
  public void lost(boolean byClient) {
    if (inside != null) {
      inside.lost(byClient);
      return;
    }
    Side side = byClient ? client : server;
    side.isLost = true;
    side.line.clear();
    shown.broken();
    isDone |= client.isLost;
  }

  void tell(ConnectionFacts to) {
    if (tunnel != null) {
      tunnel.tell(to);
    }
  }

  /** Whether the head of a request has begun and is not all there. */
  boolean isMidHead() {
    return tunnel != null
        ? tunnel.isMidHead()
        : inside == null && !isDone && client.part == Part.HEAD && client.headBytes > 0;
  }

  @Override
  public boolean isDone() {
    return isDone || inside != null && inside.isDone();
  }

  @Override
  public int held() {
    return client.line.held() + server.line.held() + (inside == null ? 0 : inside.held());
  }
}
