package ironsieve.files;

/**
 * One thing wrong with what was sent.
 *
 * @param place what it is about, such as {@code rule r17}
 * @param field the field of it, such as {@code from.zones}; may be empty
 * @param message what is wrong, and what would be right
 * @param value the value of the field that is at fault, as it was written; empty if it is none
 */
public record Fault(String place, String field, String message, String value) {

  /** Something wrong with a whole field. */
  public Fault(String place, String field, String message) {
    this(place, field, message, "");
  }

  /** All of it in one sentence, for those who show no fields. */
  public String sentence() {
    return (field.isEmpty() ? place : place + ", " + field) + ": " + message;
  }
}
