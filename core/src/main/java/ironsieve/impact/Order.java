package ironsieve.impact;

import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Which rules a change touched: those that were added, removed or changed, and those that were
 * moved past rules that stayed. Rules that stayed keep their order, so no connection outside the
 * claims of the touched ones can change its catch.
 */
final class Order {

  private Order() {}

  /** The ids of the touched rules. */
  static Set<String> touched(CompiledRulebase before, CompiledRulebase after) {
    Map<String, CompiledRule> old = new HashMap<>();
    Set<String> touched = new HashSet<>();
    for (CompiledRule rule : before.rules()) {
      old.put(rule.rule().id(), rule);
      touched.add(rule.rule().id());
    }
    after.rules().forEach(rule -> touched.add(rule.rule().id()));
    List<CompiledRule> same =
        after.rules().stream().filter(rule -> alike(rule, old.get(rule.rule().id()))).toList();
    rising(same.stream().mapToInt(rule -> old.get(rule.rule().id()).index()).toArray())
        .forEach(i -> touched.remove(same.get(i).rule().id()));
    return touched;
  }

  /** By claims and not by what is written, for a rule also changes when a set it names does. */
  private static boolean alike(CompiledRule one, CompiledRule other) {
    return other != null
        && one.boxes().equals(other.boxes())
        && one.outcomes().equals(other.outcomes());
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
