package ironsieve.compile;

import ironsieve.model.FieldName;

/** Thrown for a connection that cannot exist here: its message says which part and why. */
public final class ImpossibleConnectionException extends RuntimeException {

  private static final long serialVersionUID = 1L;

  private final FieldName field;

  /** The part at fault, and a sentence about it. */
  public ImpossibleConnectionException(FieldName field, String message) {
    super(message);
    this.field = field;
  }

  /** The part at fault. */
  public FieldName field() {
    return field;
  }
}
