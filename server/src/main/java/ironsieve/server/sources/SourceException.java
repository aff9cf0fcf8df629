package ironsieve.server.sources;

/** Thrown when a source cannot be read; says why in a sentence for whoever set it up. */
public final class SourceException extends RuntimeException {
  private static final long serialVersionUID = 1L;

  SourceException(String why) {
    super(why);
  }

  SourceException(String why, Throwable cause) {
    super(why, cause);
  }
}
