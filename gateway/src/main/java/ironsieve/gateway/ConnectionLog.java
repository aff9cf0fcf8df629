package ironsieve.gateway;

import ironsieve.model.Connection;
import ironsieve.text.ValueText;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.function.IntSupplier;

/**
 * Sends a line of syslog (RFC 5424) for each connection that has ended. While nobody takes them,
 * lines wait, of a bounded number; the oldest are dropped then, and counted.
 */
final class ConnectionLog implements AutoCloseable {

  private static final int MOST_WAITING = 100_000;
  private static final int LONGEST_WAIT = 5_000;

  private final IntSupplier port;
  private final String gateway;
  private final Deque<String> waiting = new ArrayDeque<>();
  private final Thread sender;
  private long dropped;
  private boolean isClosed;

  /**
   * Begins to send.
   *
   * @param port where they are taken on loopback; below one while nobody takes them
   */
  ConnectionLog(String gateway, IntSupplier port) {
    this.gateway = gateway;
    this.port = port;
    sender = new Thread(this::send, "log");
    sender.setDaemon(true);
    sender.start();
  }

  /** How many lines were dropped. */
  synchronized long dropped() {
    return dropped;
  }

  /** Notes a connection that has ended, with its bytes. */
  synchronized void add(Connection c, long up, long down) {
    String time =
        c.at().atZone(ZoneId.systemDefault()).format(DateTimeFormatter.ISO_OFFSET_DATE_TIME);
    StringBuilder line = new StringBuilder("<134>1 ").append(time).append(' ').append(gateway);
    line.append(" sieve - - [connection@32473");
    field(line, "from", c.from().place().address().toString());
    field(line, "to", c.to().address().toString());
    c.to().host().ifPresent(host -> field(line, "host", host));
    field(line, "service", ValueText.print(c.service()));
    c.from().person().ifPresent(login -> field(line, "person", login));
    c.using()
        .application()
        .ifPresent(
            name ->
                field(
                    line,
                    "application",
                    name + c.using().feature().map(feature -> "/" + feature).orElse("")));
    field(line, "bytesUp", String.valueOf(up));
    field(line, "bytesDown", String.valueOf(down));
    if (waiting.size() >= MOST_WAITING) {
      waiting.removeFirst();
      dropped++;
    }
    waiting.addLast(line.append("]\n").toString());
    notifyAll();
  }

  private static void field(StringBuilder line, String name, String value) {
    String safe = value.replace("\\", "\\\\").replace("\"", "\\\"").replace("]", "\\]");
    line.append(' ').append(name).append("=\"").append(safe).append('"');
  }

  private synchronized String next() throws InterruptedException {
    while (waiting.isEmpty() && !isClosed) {
      wait();
    }
    return waiting.peekFirst();
  }

  private synchronized void sent(String line) {
    waiting.removeFirstOccurrence(line);
  }

  private void send() {
    try {
      String line = next();
      while (line != null) {
        line = sendFrom(line);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  /** Sends until it fails; nothing once it is closed and nothing waits any more. */
  private String sendFrom(String first) throws InterruptedException {
    String line = first;
    int to = port.getAsInt();
    if (to > 0) {
      try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), to)) {
        OutputStream out = socket.getOutputStream();
        while (line != null) {
          out.write(line.getBytes(StandardCharsets.UTF_8));
          out.flush();
          sent(line);
          line = next();
        }
        return null;
      } catch (IOException e) {
        // It is sent again once somebody takes it.
      }
    }
    synchronized (this) {
      if (isClosed) {
        return null;
      }
      wait(LONGEST_WAIT);
    }
    return line;
  }

  @Override
  public void close() {
    synchronized (this) {
      isClosed = true;
      notifyAll();
    }
    try {
      sender.join(LONGEST_WAIT);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }
}
