package ironsieve.text;

/** Says what in a file cannot be read, where, and what could stand there. */
public final class FileTextException extends RuntimeException {

  private static final long serialVersionUID = 1L;

  private final int line;
  private final int column;

  /** Something wrong at a line and column, both counted from 1. */
  public FileTextException(int line, int column, String message) {
    super("line " + line + ", column " + column + ": " + message);
    this.line = line;
    this.column = column;
  }

  public int line() {
    return line;
  }

  public int column() {
    return column;
  }
}
