package ironsieve.server.edit;

/** Thrown for an edit after which everything would be as it is already. */
public final class NothingToDoException extends RuntimeException {

  private static final long serialVersionUID = 1L;

  NothingToDoException() {
    super("Everything is already as this edit would make it; nothing was saved.");
  }
}
