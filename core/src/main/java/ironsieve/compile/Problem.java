package ironsieve.compile;

import ironsieve.model.ValueKind;

/**
 * Something in a rulebase that cannot be read against its surroundings.
 *
 * @param place what it is in: "rule", "set", "sheet" or "decryption rule"
 * @param id the rule's id or the set's name
 * @param field the key of the rule's field, {@code then}, or {@code values}
 * @param valueKind the kind of the value at fault; null if it is none of the values
 * @param value the value at fault as it is written; empty if it is none of the values
 * @param message what is wrong and what would be right
 */
public record Problem(
    Kind kind,
    String place,
    String id,
    String field,
    ValueKind valueKind,
    String value,
    String message) {

  /** What is wrong. */
  public enum Kind {
    /** A name that stands for nothing; without it the rest can still be read. */
    UNKNOWN_NAME,
    /** Something that leaves no meaning, such as a set that holds itself. */
    BROKEN
  }
}
