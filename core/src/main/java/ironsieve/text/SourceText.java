package ironsieve.text;

import java.nio.ByteBuffer;
import java.nio.CharBuffer;
import java.nio.charset.CoderResult;
import java.nio.charset.StandardCharsets;
import java.util.Optional;

/** The text of a file from outside: UTF-8 with or without a byte order mark. */
public final class SourceText {

  private static final char BYTE_ORDER_MARK = 0xFEFF;

  private SourceText() {}

  /**
   * Reads bytes.
   *
   * @throws FileTextException at the first byte that is not UTF-8, or the first character that text
   *     may not hold
   */
  public static String read(byte[] bytes) {
    CharBuffer out = CharBuffer.allocate(bytes.length + 1);
    ByteBuffer in = ByteBuffer.wrap(bytes);
    CoderResult result = StandardCharsets.UTF_8.newDecoder().decode(in, out, true);
    out.flip();
    if (result.isError()) {
      String before = out.toString();
      throw at(
          before,
          before.length(),
          String.format(
              "this is not UTF-8 (the byte 0x%02X here is part of no character); save the file as"
                  + " UTF-8",
              bytes[in.position()] & 0xFF));
    }
    return checked(out.toString());
  }

  /**
   * A text without its byte order mark.
   *
   * @throws FileTextException at the first character that text may not hold
   */
  public static String checked(String raw) {
    String text = !raw.isEmpty() && raw.charAt(0) == BYTE_ORDER_MARK ? raw.substring(1) : raw;
    Optional<PlainText.Forbidden> forbidden = PlainText.forbidden(text);
    if (forbidden.isPresent()) {
      throw at(text, forbidden.get().position(), forbidden.get().words());
    }
    return text;
  }

  /** A fault at a place in a text, by its line and column. */
  public static FileTextException at(String text, int position, String message) {
    int line = 1;
    int start = 0;
    for (int i = 0; i < position; i++) {
      if (text.charAt(i) == '\n') {
        line++;
        start = i + 1;
      }
    }
    return new FileTextException(line, position - start + 1, message);
  }
}
