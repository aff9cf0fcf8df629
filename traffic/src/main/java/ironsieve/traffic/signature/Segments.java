package ironsieve.traffic.signature;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.IntConsumer;

/**
 * Numbers of ranges, by what lies in them: the ranges cut the line into pieces, and each piece
 * knows whose it is.
 */
final class Segments<K extends Comparable<? super K>> {

  private record Span<K>(K low, K high, int number) {}

  private final List<Span<K>> spans = new ArrayList<>();
  private final TreeMap<K, int[]> from = new TreeMap<>();
  private final java.util.function.UnaryOperator<K> after;
  private final K last;

  /**
   * No ranges yet.
   *
   * @param after what follows a value
   * @param last the last value there is
   */
  Segments(java.util.function.UnaryOperator<K> after, K last) {
    this.after = after;
    this.last = last;
  }

  void add(K low, K high, int number) {
    spans.add(new Span<>(low, high, number));
  }

  /** Makes it ready; once everything is in it. */
  void link() {
    TreeMap<K, List<Integer>> begins = new TreeMap<>();
    TreeMap<K, List<Integer>> ends = new TreeMap<>();
    for (Span<K> span : spans) {
      begins.computeIfAbsent(span.low, k -> new ArrayList<>()).add(span.number);
      if (!span.high.equals(last)) {
        ends.computeIfAbsent(after.apply(span.high), k -> new ArrayList<>()).add(span.number);
      }
    }
    java.util.TreeSet<K> cuts = new java.util.TreeSet<>(begins.keySet());
    cuts.addAll(ends.keySet());
    TreeMap<Integer, Integer> open = new TreeMap<>();
    for (K cut : cuts) {
      begins.getOrDefault(cut, List.of()).forEach(n -> open.merge(n, 1, Integer::sum));
      ends.getOrDefault(cut, List.of()).forEach(n -> open.merge(n, -1, Integer::sum));
      open.values().removeIf(count -> count == 0);
      from.put(cut, open.keySet().stream().mapToInt(Integer::intValue).toArray());
    }
  }

  void at(K value, IntConsumer found) {
    Map.Entry<K, int[]> entry = from.floorEntry(value);
    if (entry != null) {
      for (int number : entry.getValue()) {
        found.accept(number);
      }
    }
  }
}
