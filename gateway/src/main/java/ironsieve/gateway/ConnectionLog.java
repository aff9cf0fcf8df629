package ironsieve.gateway;

import ironsieve.gateway.Policy.Decision;
import ironsieve.model.Connection;
import ironsieve.model.Rule.Logging;
import ironsieve.text.ProbeText;
import ironsieve.text.ValueText;
import java.io.IOException;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;

/**
 * Sends a line of syslog (RFC 5424) for each connection that has ended or was stopped. While nobody
 * takes them, lines wait, of a bounded number; the oldest are dropped then, and counted.
 */
final class ConnectionLog implements AutoCloseable {

  private static final int MOST_WAITING = 100_000;

  /** So many go at once. */
  private static final int MOST_AT_ONCE = 1_000;

  /** What comes within this time goes together. */
  private static final int GATHERED_MILLIS = 1_000;

  private static final int LONGEST_WAIT = 5_000;

  private final Taker taker;
  private final String gateway;
  private final Deque<String> waiting = new ArrayDeque<>();
  private final Thread sender;

  /** How many lines have left the queue, sent or dropped. */
  private long gone;

  private long dropped;
  private boolean isClosed;

  /** Who takes lines. */
  interface Taker {
    /**
     * Takes lines for good.
     *
     * @param dropped how many were dropped until now
     */
    void take(List<String> lines, long dropped) throws IOException, InterruptedException;
  }

  /** Begins to send. */
  ConnectionLog(String gateway, Taker taker) {
    this.gateway = gateway;
    this.taker = taker;
    sender = new Thread(this::send, "log");
    sender.setDaemon(true);
    sender.start();
  }

  /** How many lines were dropped. */
  synchronized long dropped() {
    return dropped;
  }

  /**
   * Notes a connection that has ended, with its bytes. Of what a rule does not log only the rule is
   * noted.
   *
   * @param client the port that the client spoke from
   */
  void add(Decision decision, int client, long up, long down) {
    Connection c = decision.connection();
    StringBuilder line = new StringBuilder("<134>1 ");
    line.append(time(LocalDateTime.now()));
    line.append(' ').append(gateway).append(" sieve - - ");
    boolean isLogged =
        decision.rule().filter(rule -> rule.then().logging() == Logging.NOT_LOGGED).isEmpty();
    if (isLogged) {
      connection(line, c, up, down);
    }
    line.append("[decision@32473");
    field(line, "release", String.valueOf(decision.release()));
    decision.outcome().ifPresent(outcome -> field(line, "verdict", outcome.verdict().word()));
    decision.rule().ifPresent(rule -> field(line, "rule", rule.id()));
    field(line, "client", String.valueOf(client));
    if (isLogged) {
      field(line, "probe", ProbeText.print(c));
    }
    add(line.append(']').toString());
  }

  private static String time(LocalDateTime at) {
    return at.atZone(ZoneId.systemDefault()).format(DateTimeFormatter.ISO_OFFSET_DATE_TIME);
  }

  private static void connection(StringBuilder line, Connection c, long up, long down) {
    line.append("[connection@32473");
    field(line, "time", time(c.at()));
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
    line.append(']');
  }

  private static void field(StringBuilder line, String name, String value) {
    // A line is one message, whatever a client has put into a name.
    String safe =
        value
            .replaceAll("\\p{Cntrl}", " ")
            .replace("\\", "\\\\")
            .replace("\"", "\\\"")
            .replace("]", "\\]");
    line.append(' ').append(name).append("=\"").append(safe).append('"');
  }

  private synchronized void add(String line) {
    if (waiting.size() >= MOST_WAITING) {
      waiting.removeFirst();
      gone++;
      dropped++;
    }
    waiting.addLast(line);
    notifyAll();
  }

  /**
   * Lines that are sent together.
   *
   * @param end how many lines will have left the queue once they are taken
   */
  private record Batch(List<String> lines, long end) {}

  /** The next that wait; none once it is closed and nothing waits any more. */
  private synchronized Batch next() throws InterruptedException {
    while (waiting.isEmpty() && !isClosed) {
      wait();
    }
    List<String> lines = waiting.stream().limit(MOST_AT_ONCE).toList();
    return new Batch(lines, gone + lines.size());
  }

  /** Some of them may have been dropped meanwhile. */
  private synchronized void sent(Batch batch) {
    while (gone < batch.end()) {
      waiting.removeFirst();
      gone++;
    }
  }

  private void send() {
    try {
      for (Batch batch = next(); !batch.lines().isEmpty(); batch = next()) {
        try {
          taker.take(batch.lines(), dropped());
          sent(batch);
          pause(GATHERED_MILLIS);
        } catch (IOException e) {
          // It is sent again once somebody takes it.
          if (pause(LONGEST_WAIT)) {
            return;
          }
        }
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  /** Waits, but not once it is closed; whether it is. */
  private synchronized boolean pause(long millis) throws InterruptedException {
    long end = System.nanoTime() + millis * 1_000_000;
    for (long left = millis; left > 0 && !isClosed; left = (end - System.nanoTime()) / 1_000_000) {
      wait(left);
    }
    return isClosed;
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
