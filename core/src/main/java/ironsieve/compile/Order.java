package ironsieve.compile;

import ironsieve.region.IndexSet;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.IntStream;

/**
 * Which rules a change touched: those that were added, removed or changed, and those that were
 * moved past rules that stayed. Rules that stayed keep their order, so no connection outside the
 * claims of the touched ones can change its catch. All by number, for ten thousand ids take a while
 * to look up.
 */
final class Order {

  private final CompiledRulebase before;
  private final CompiledRulebase after;
  private final int[] origins;
  private final BitSet gone = new BitSet();
  private final BitSet come = new BitSet();

  /**
   * The order of a rulebase beside that of another.
   *
   * @param origins for each rule after, the number before of the rule that claims the same, or −1
   */
  Order(CompiledRulebase before, CompiledRulebase after, int[] origins) {
    this.before = before;
    this.after = after;
    this.origins = origins;
    gone.set(0, before.rules().size());
    int[] same = new int[origins.length];
    int count = 0;
    for (int rule = 0; rule < origins.length; rule++) {
      if (origins[rule] < 0) {
        come.set(rule);
      } else {
        gone.clear(origins[rule]);
        same[count++] = rule;
      }
    }
    int[] stayedOrMoved = Arrays.copyOf(same, count);
    moved(stayedOrMoved, Arrays.stream(stayedOrMoved).map(rule -> origins[rule]).toArray());
  }

  /** The order of two rulebases that may have nothing to do with each other. */
  static Order between(CompiledRulebase before, CompiledRulebase after) {
    int[] origins = before.numbersOf(after.rules().stream().map(CompiledRule::rule).toList());
    for (CompiledRule rule : after.rules()) {
      int was = origins[rule.index()];
      origins[rule.index()] = was >= 0 && alike(rule, before.rules().get(was)) ? was : -1;
    }
    return new Order(before, after, origins);
  }

  /** By claims and not by what is written, for a rule also changes when a set it names does. */
  private static boolean alike(CompiledRule one, CompiledRule other) {
    return (one.boxes() == other.boxes() || one.boxes().equals(other.boxes()))
        && (one.outcomes() == other.outcomes() || one.outcomes().equals(other.outcomes()));
  }

  /** For a rule after, the number before of the rule that claims the same; −1 if there is none. */
  int origin(int rule) {
    return origins[rule];
  }

  /** The numbers of the touched rules before. */
  IndexSet touchedBefore() {
    return Signatures.set(gone);
  }

  /** The numbers of the touched rules after. */
  IndexSet touchedAfter() {
    return Signatures.set(come);
  }

  /** The ids of the touched rules of both. */
  Set<String> touched() {
    Set<String> ids = new TreeSet<>();
    gone.stream().forEach(rule -> ids.add(before.rules().get(rule).rule().id()));
    come.stream().forEach(rule -> ids.add(after.rules().get(rule).rule().id()));
    return ids;
  }

  /** Finds those that were moved among rules that were somewhere before. */
  private void moved(int[] rules, int[] order) {
    if (isRising(order)) {
      return;
    }
    int swapped = swapped(order);
    if (swapped > 0) {
      touch(narrower(rules[swapped - 1], rules[swapped]));
      return;
    }
    BitSet stayed = rising(order);
    for (int i = stayed.nextClearBit(0); i < order.length; i = stayed.nextClearBit(i + 1)) {
      touch(rules[i]);
    }
  }

  private static boolean isRising(int[] order) {
    return IntStream.range(1, order.length).allMatch(i -> order[i] > order[i - 1]);
  }

  private void touch(int rule) {
    come.set(rule);
    gone.set(origins[rule]);
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
  private int narrower(int one, int other) {
    return met(one) <= met(other) ? one : other;
  }

  private int met(int rule) {
    return after.rules().get(rule).boxes().stream()
        .mapToInt(box -> after.index().meeting(box).count())
        .sum();
  }

  /** The indices of a longest rising subsequence, by patience sorting: O(n log n). */
  static BitSet rising(int[] places) {
    if (isRising(places)) {
      BitSet all = new BitSet();
      all.set(0, places.length);
      return all;
    }
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
    BitSet longest = new BitSet();
    for (int i = piles == 0 ? -1 : pileTops[piles - 1]; i >= 0; i = below[i]) {
      longest.set(i);
    }
    return longest;
  }
}
