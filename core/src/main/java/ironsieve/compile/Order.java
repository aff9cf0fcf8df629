package ironsieve.compile;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.IntStream;

/**
 * Which rules a change touched: those that were added, removed or changed, and those that were
 * moved past rules that stayed. Rules that stayed keep their order, so no connection outside the
 * claims of the touched ones can change its catch.
 */
final class Order {

  private Order() {}

  /** The ids of the touched rules of two rulebases that may have nothing to do with each other. */
  static Set<String> touched(CompiledRulebase before, CompiledRulebase after) {
    Map<String, CompiledRule> kept = new HashMap<>();
    for (CompiledRule rule : after.rules()) {
      before
          .rule(rule.rule().id())
          .filter(old -> alike(rule, old))
          .ifPresent(old -> kept.put(rule.rule().id(), old));
    }
    return touched(before, after, kept);
  }

  /**
   * The ids of the touched rules.
   *
   * @param kept the rules that claim what they claimed, as they were; they may have moved
   */
  static Set<String> touched(
      CompiledRulebase before, CompiledRulebase after, Map<String, CompiledRule> kept) {
    Set<String> touched = new HashSet<>();
    List<String> same = new ArrayList<>();
    List<Integer> places = new ArrayList<>();
    for (CompiledRule rule : after.rules()) {
      CompiledRule old = kept.get(rule.rule().id());
      if (old == null) {
        touched.add(rule.rule().id());
      } else {
        same.add(rule.rule().id());
        places.add(old.index());
      }
    }
    if (same.size() < before.rules().size()) {
      before.rules().stream()
          .map(rule -> rule.rule().id())
          .filter(id -> !kept.containsKey(id))
          .forEach(touched::add);
    }
    int[] order = places.stream().mapToInt(Integer::intValue).toArray();
    if (IntStream.range(1, order.length).anyMatch(i -> order[i] < order[i - 1])) {
      int swapped = swapped(order);
      if (swapped > 0) {
        touched.add(narrower(after, same.get(swapped - 1), same.get(swapped)));
        return touched;
      }
      Set<Integer> stayed = new HashSet<>(rising(order));
      IntStream.range(0, order.length)
          .filter(i -> !stayed.contains(i))
          .forEach(i -> touched.add(same.get(i)));
    }
    return touched;
  }

  /** Where a place and the one before it have been swapped, if nothing else has happened; or 0. */
  private static int swapped(int[] order) {
    int at = 1;
    while (order[at] > order[at - 1]) {
      at++;
    }
    int low = order[at];
    boolean fits =
        (at < 2 || order[at - 2] < low)
            && (at + 1 == order.length || order[at + 1] > order[at - 1])
            && IntStream.range(at + 2, order.length).allMatch(i -> order[i] > order[i - 1]);
    return fits ? at : 0;
  }

  /** Either of two swapped rules can be said to have moved; the one that concerns fewer others. */
  private static String narrower(CompiledRulebase rulebase, String one, String other) {
    return met(rulebase, one) <= met(rulebase, other) ? one : other;
  }

  private static int met(CompiledRulebase rulebase, String rule) {
    return rulebase.rule(rule).stream()
        .flatMap(compiled -> compiled.boxes().stream())
        .mapToInt(box -> rulebase.index().meeting(box).count())
        .sum();
  }

  /** By claims and not by what is written, for a rule also changes when a set it names does. */
  private static boolean alike(CompiledRule one, CompiledRule other) {
    return (one.boxes() == other.boxes() || one.boxes().equals(other.boxes()))
        && (one.outcomes() == other.outcomes() || one.outcomes().equals(other.outcomes()));
  }

  /** The indices of a longest rising subsequence, by patience sorting: O(n log n). */
  private static List<Integer> rising(int[] places) {
    int[] pileTops = new int[places.length];
    int[] below = new int[places.length];
    int piles = 0;
    for (int i = 0; i < places.length; i++) {
      int low = 0;
      int high = piles;
      while (low < high) {
        int mid = (low + high) >>> 1;
        if (places[pileTops[mid]] < places[i]) {
          low = mid + 1;
        } else {
          high = mid;
        }
      }
      below[i] = low == 0 ? -1 : pileTops[low - 1];
      pileTops[low] = i;
      piles = Math.max(piles, low + 1);
    }
    java.util.LinkedList<Integer> longest = new java.util.LinkedList<>();
    for (int i = piles == 0 ? -1 : pileTops[piles - 1]; i >= 0; i = below[i]) {
      longest.addFirst(i);
    }
    return longest;
  }
}
