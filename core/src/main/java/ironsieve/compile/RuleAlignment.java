package ironsieve.compile;

import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import java.util.function.IntFunction;

/**
 * Finds the entries of one list in another by their ids. Lists of rules before and after an edit
 * are the same but for a few; so each is looked for beside its neighbour, and only what is not
 * found there is looked up.
 */
public final class RuleAlignment {

  private static final int NEAR = 32;

  private RuleAlignment() {}

  /**
   * For each entry of one list its place in the other; −1 if it is not there.
   *
   * @param ids of the one list, each once
   * @param otherIds of the other list, each once
   */
  public static int[] of(
      int count, IntFunction<String> ids, int otherCount, IntFunction<String> otherIds) {
    int[] places = new int[count];
    Arrays.fill(places, -1);
    BitSet open = new BitSet();
    open.set(0, otherCount);
    BitSet lost = new BitSet();
    int next = 0;
    for (int i = 0; i < count; i++) {
      String id = ids.apply(i);
      int at = next;
      int end = Math.min(otherCount, next + NEAR);
      while (at < end && !otherIds.apply(at).equals(id)) {
        at++;
      }
      if (at < end) {
        places[i] = at;
        open.clear(at);
        next = at + 1;
      } else {
        lost.set(i);
      }
    }
    if (!lost.isEmpty()) {
      Map<String, Integer> left = new HashMap<>();
      open.stream().forEach(at -> left.put(otherIds.apply(at), at));
      lost.stream().forEach(i -> places[i] = left.getOrDefault(ids.apply(i), -1));
    }
    return places;
  }
}
