package ironsieve.model;

import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.BiFunction;
import java.util.stream.Collectors;

/**
 * What is answered for each kind of value. A kind that a table forgets, or names twice, is told
 * when the table is made, which is when its class is loaded. Immutable.
 *
 * @param <C> what the answers look at beside the value
 * @param <R> the answers
 */
public final class ValueCases<C, R> {

  private final Map<Class<?>, BiFunction<C, Value, R>> cases;

  private ValueCases(Map<Class<?>, BiFunction<C, Value, R>> cases) {
    this.cases = Map.copyOf(cases);
  }

  /** What is answered for a value. */
  public R of(C context, Value value) {
    return cases.get(value.getClass()).apply(context, value);
  }

  /** A table on its way. */
  public static final class Builder<C, R> {
    private final Map<Class<?>, BiFunction<C, Value, R>> cases = new HashMap<>();

    /** The answer for one kind. */
    public <V extends Value> Builder<C, R> on(Class<V> kind, BiFunction<C, V, R> answer) {
      if (cases.put(kind, (context, value) -> answer.apply(context, kind.cast(value))) != null) {
        throw new IllegalStateException(kind.getSimpleName() + " is answered twice");
      }
      return this;
    }

    /** One answer for several kinds. */
    public Builder<C, R> on(List<Class<? extends Value>> kinds, BiFunction<C, Value, R> answer) {
      kinds.forEach(kind -> on(kind, answer::apply));
      return this;
    }

    /**
     * The table.
     *
     * @throws IllegalStateException naming the kinds of value without an answer
     */
    public ValueCases<C, R> table() {
      String missing =
          Arrays.stream(Value.class.getPermittedSubclasses())
              .filter(kind -> !cases.containsKey(kind))
              .map(Class::getSimpleName)
              .collect(Collectors.joining(", "));
      if (!missing.isEmpty()) {
        throw new IllegalStateException("nothing is answered for " + missing);
      }
      return new ValueCases<>(cases);
    }
  }
}
