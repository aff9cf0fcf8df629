package ironsieve.server.change;

/** A record is no longer what it was before a change, in something that the change is about. */
public final class ConflictException extends RuntimeException {

  private static final long serialVersionUID = 1L;

  private final transient Change change;

  ConflictException(Change change) {
    super(change.kind() + " " + change.id());
    this.change = change;
  }

  /** The change that cannot be made. */
  public Change change() {
    return change;
  }
}
