package ironsieve.server.edit;

/** Thrown when there is nothing to undo or redo, or it can no longer be. The message says which. */
public final class NothingToTakeBackException extends RuntimeException {

  private static final long serialVersionUID = 1L;

  NothingToTakeBackException(String message) {
    super(message);
  }
}
