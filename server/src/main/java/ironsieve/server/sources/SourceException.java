package ironsieve.server.sources;

import java.util.regex.Pattern;

/** Thrown when a source cannot be read; says why in a sentence for whoever set it up. */
public final class SourceException extends RuntimeException {
  private static final long serialVersionUID = 1L;

  /** Names of classes, with what follows them where a library begins its sentence with one. */
  private static final Pattern CLASS_NAME =
      Pattern.compile(
          "(\\b[a-z][a-z0-9]*(\\.[a-z0-9]+)+\\.[A-Z]\\w*|\\b[A-Z]\\w+(Exception|Error)\\b)(\\$\\w+)?(: ?)?");

  SourceException(String why) {
    super(plain(why));
  }

  SourceException(String why, Throwable cause) {
    super(plain(why), cause);
  }

  /** A library's own words without the names of its classes, which tell nobody anything. */
  private static String plain(String why) {
    return CLASS_NAME.matcher(why).replaceAll("").replaceAll("\\s+", " ").strip();
  }
}
