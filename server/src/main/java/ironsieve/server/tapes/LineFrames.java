package ironsieve.server.tapes;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.function.Consumer;

/**
 * Messages of syslog in a stream (RFC 6587, RFC 5425): each with its length before it, or ended by
 * a line feed. Holds one message, of a bounded length; what is longer is dropped up to its end.
 */
final class LineFrames {

  private static final int LONGEST = 65_536;

  private final Consumer<String> to;
  private final ByteArrayOutputStream message = new ByteArrayOutputStream();
  private boolean isCounted;
  private boolean isFirst = true;
  private int left;

  LineFrames(Consumer<String> to) {
    this.to = to;
  }

  void bytes(byte[] bytes) {
    for (byte one : bytes) {
      take(one);
    }
  }

  private void take(byte one) {
    if (isFirst) {
      isFirst = false;
      isCounted = one >= '1' && one <= '9';
      left = 0;
      message.reset();
    }
    if (isCounted && left == 0) {
      count(one);
    } else if (isCounted) {
      add(one);
      if (--left == 0) {
        end();
      }
    } else if (one == '\n') {
      end();
    } else {
      add(one);
    }
  }

  /** The length in digits, and a space after it. */
  private void count(byte one) {
    if (one >= '0' && one <= '9' && message.size() < 6) {
      message.write(one);
      return;
    }
    String digits = message.toString(StandardCharsets.US_ASCII);
    message.reset();
    if (one == ' ' && !digits.isEmpty()) {
      left = Integer.parseInt(digits);
    } else {
      // No length: read on as lines.
      isCounted = false;
    }
  }

  private void add(byte one) {
    if (message.size() < LONGEST) {
      message.write(one);
    }
  }

  private void end() {
    String line = message.toString(StandardCharsets.UTF_8).strip();
    message.reset();
    isFirst = true;
    if (!line.isEmpty()) {
      to.accept(line);
    }
  }

  /** The end of the stream: what stands there is a message too. */
  void finish() {
    if (!isFirst && message.size() > 0 && !isCounted) {
      end();
    }
  }
}
