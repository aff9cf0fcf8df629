package ironsieve.text;

/**
 * Thrown when a text cannot be read. The message names the text, and what would be right in its
 * place.
 */
public final class TextException extends IllegalArgumentException {

  private static final long serialVersionUID = 1L;

  private final int position;

  /** A message about the text from this position on; 0 is the first character. */
  public TextException(int position, String message) {
    super(message);
    this.position = position;
  }

  /** Where the trouble starts, in characters from the beginning. */
  public int position() {
    return position;
  }
}
