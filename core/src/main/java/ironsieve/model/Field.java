package ironsieve.model;

import java.util.List;

/**
 * One field of a rule: alternatives, read as they stand or turned round.
 *
 * @param sense whether the values are what matches or what does not
 * @param values at least one; a field that says "any" is left out of the rule
 */
public record Field(Sense sense, List<Value> values) {

  /** How the values are read. */
  public enum Sense {
    /** Any of the values matches. */
    IS,
    /** Anything but the values matches. */
    IS_NOT
  }

  public Field {
    // Saying a thing twice says no more.
    values = values.stream().distinct().toList();
    if (values.isEmpty()) {
      throw new IllegalArgumentException("a field has at least one value; leave it out for any");
    }
  }

  /** Any of these values. */
  public static Field is(Value... values) {
    return new Field(Sense.IS, List.of(values));
  }

  /** Anything but these values. */
  public static Field isNot(Value... values) {
    return new Field(Sense.IS_NOT, List.of(values));
  }
}
