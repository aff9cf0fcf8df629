package ironsieve.impact;

import ironsieve.model.Value;
import ironsieve.text.ValueText;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;

/**
 * The names that are made for what a name stands for before only, or after only. None of them is a
 * name that stands for something already. Not thread-safe.
 */
final class MomentNames {

  /** A name that stands for nothing. */
  static final String NOTHING = "";

  private final Predicate<String> taken;
  private final Map<List<Object>, String> made = new HashMap<>();
  private final Set<String> texts = new HashSet<>();

  /**
   * Makes names.
   *
   * @param taken whether a name stands for something before or after
   */
  MomentNames(Predicate<String> taken) {
    this.taken = taken;
  }

  /** The name of what {@code name} stands for at a moment; the same whenever it is asked for. */
  String of(String name, Moment moment) {
    return made.computeIfAbsent(
        List.of(name, moment),
        key -> {
          String next = name + " " + moment.words();
          while (taken.test(next) || made.containsValue(next)) {
            next += "*";
          }
          return next;
        });
  }

  /** A value that has such a name, which is remembered to be one. */
  <V extends Value> V remembered(V value) {
    texts.add(ValueText.print(value));
    return value;
  }

  /** Whether a value, as it is written, has a name that was made here. */
  boolean isMade(String text) {
    return texts.contains(text);
  }
}
