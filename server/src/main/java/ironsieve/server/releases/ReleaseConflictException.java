package ironsieve.server.releases;

/** Thrown when somebody else changed or released a rulebase while it was to be released. */
public final class ReleaseConflictException extends RuntimeException {

  private static final long serialVersionUID = 1L;

  ReleaseConflictException(String what) {
    super(what + "; look at it again");
  }
}
