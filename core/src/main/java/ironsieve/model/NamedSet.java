package ironsieve.model;

import java.util.List;

/**
 * A reusable group of values of one kind; may hold other sets of the same kind.
 *
 * @param name unique in its rulebase among the sets of its kind
 * @param kind what it holds
 * @param values any number, none included
 * @param note what it is for; may be empty
 */
public record NamedSet(String name, ValueKind kind, List<Value> values, String note) {

  public NamedSet {
    // Saying a thing twice says no more.
    values = values.stream().distinct().toList();
  }
}
