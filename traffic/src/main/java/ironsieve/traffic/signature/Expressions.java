package ironsieve.traffic.signature;

import java.io.ByteArrayOutputStream;
import java.util.Optional;

/**
 * Bytes that a regular expression fits, for the simple expressions that signatures have: letters,
 * classes, groups and repetitions. What it makes up is tried by whoever asks for it.
 */
final class Expressions {

  private final String text;
  private int at;

  private Expressions(String text) {
    this.text = text;
  }

  static Optional<byte[]> example(String expression) {
    try {
      return Optional.of(new Expressions(expression).choice());
    } catch (IllegalArgumentException | StringIndexOutOfBoundsException e) {
      return Optional.empty();
    }
  }

  /** The first of several choices. */
  private byte[] choice() {
    byte[] first = row();
    while (at < text.length() && text.charAt(at) == '|') {
      at++;
      row();
    }
    return first;
  }

  private byte[] row() {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    while (at < text.length() && text.charAt(at) != '|' && text.charAt(at) != ')') {
      byte[] one = one();
      int times = times();
      for (int i = 0; i < times; i++) {
        out.writeBytes(one);
      }
    }
    return out.toByteArray();
  }

  private byte[] one() {
    char c = text.charAt(at++);
    switch (c) {
      case '^', '$':
        return new byte[0];
      case '.':
        return new byte[] {'x'};
      case '(':
        if (text.startsWith("?:", at)) {
          at += 2;
        }
        byte[] inside = choice();
        at++;
        return inside;
      case '[':
        return new byte[] {ofClass()};
      case '\\':
        return escaped();
      default:
        return new byte[] {(byte) c};
    }
  }

  private byte[] escaped() {
    char c = text.charAt(at++);
    switch (c) {
      case 'x':
        at += 2;
        return new byte[] {(byte) Integer.parseInt(text.substring(at - 2, at), 16)};
      case 'n':
        return new byte[] {'\n'};
      case 'r':
        return new byte[] {'\r'};
      case 't':
        return new byte[] {'\t'};
      case 'd':
        return new byte[] {'0'};
      case 's':
        return new byte[] {' '};
      case 'w', 'S', 'D':
        return new byte[] {'x'};
      default:
        return new byte[] {(byte) c};
    }
  }

  /** The first byte a class has. */
  private byte ofClass() {
    boolean isTurned = text.charAt(at) == '^';
    if (isTurned) {
      at++;
    }
    byte first = one()[0];
    while (text.charAt(at) != ']') {
      one();
    }
    at++;
    return isTurned ? (byte) (first == 'z' ? 'y' : 'z') : first;
  }

  /** How often what stands before is repeated: as seldom as may be. */
  private int times() {
    if (at >= text.length()) {
      return 1;
    }
    switch (text.charAt(at)) {
      case '?', '*':
        at++;
        lazy();
        return 0;
      case '+':
        at++;
        lazy();
        return 1;
      case '{':
        int end = text.indexOf('}', at);
        int times = Integer.parseInt(text.substring(at + 1, end).split(",")[0]);
        at = end + 1;
        lazy();
        return times;
      default:
        return 1;
    }
  }

  private void lazy() {
    if (at < text.length() && text.charAt(at) == '?') {
      at++;
    }
  }
}
