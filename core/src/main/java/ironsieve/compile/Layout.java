package ironsieve.compile;

import ironsieve.model.Outcome;
import ironsieve.region.Box;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;

/**
 * The numbers of all boxes of all rules, ascending from the top. Some numbers in between are of no
 * box, so that an edit gives new numbers to a few boxes near it and the others keep theirs: what is
 * kept by number needs no second look then.
 *
 * @param boxes at its number each box; null where there is none
 * @param outcomes at the number of each box what happens to its connections
 * @param ruleOf for each number the rule whose box it is, or that stands above it
 * @param first for each rule the number of its first box, and at the end how many numbers there are
 */
record Layout(Box[] boxes, Outcome[] outcomes, int[] ruleOf, int[] first) {

  /** At first one number in so many is left free. */
  private static final int FREE_EACH = 8;

  /** Where there is no room, so many rules on both sides are the first to move. */
  private static final int NEIGHBOURS = 8;

  /** The layout of rules with some numbers left between them. */
  static Layout of(List<CompiledRule> rules) {
    int[] starts = new int[rules.size() + 1];
    int next = 0;
    for (int rule = 0; rule < rules.size(); rule++) {
      starts[rule] = next;
      next += count(rules, rule);
      next += next / FREE_EACH > starts[rule] / FREE_EACH ? 1 : 0;
    }
    starts[rules.size()] = (next | 63) + 1;
    Layout laid = empty(starts);
    rules.forEach(laid::put);
    return laid;
  }

  private static int count(List<CompiledRule> rules, int rule) {
    return rules.get(rule).boxes().size();
  }

  /** Numbers of which none is of a box yet. */
  private static Layout empty(int[] starts) {
    int numbers = starts[starts.length - 1];
    Layout laid = new Layout(new Box[numbers], new Outcome[numbers], new int[numbers], starts);
    for (int rule = 0; rule + 1 < starts.length; rule++) {
      Arrays.fill(laid.ruleOf, starts[rule], starts[rule + 1], rule);
    }
    return laid;
  }

  private void put(CompiledRule rule) {
    for (int i = 0; i < rule.boxes().size(); i++) {
      boxes[first[rule.index()] + i] = rule.boxes().get(i);
      outcomes[first[rule.index()] + i] = rule.outcomes().get(i);
    }
  }

  /**
   * The layout of what came of the rules. Those that keep their order keep their numbers, but for
   * some where there is no room for what came between them.
   *
   * @param origins for each rule the number here of the rule with the same boxes, or −1
   */
  Layout followedBy(List<CompiledRule> next, int[] origins) {
    BitSet kept = new BitSet();
    int[] known = IntStream.range(0, origins.length).filter(rule -> origins[rule] >= 0).toArray();
    Order.rising(Arrays.stream(known).map(rule -> origins[rule]).toArray()).stream()
        .forEach(i -> kept.set(known[i]));
    int[] starts = new int[next.size() + 1];
    starts[next.size()] = boxes.length;
    for (int rule = kept.nextSetBit(0); rule >= 0; rule = kept.nextSetBit(rule + 1)) {
      starts[rule] = first[origins[rule]];
    }
    int from = kept.nextClearBit(0);
    while (from < next.size()) {
      int to = kept.nextSetBit(from);
      to = placed(next, starts, kept, from, to < 0 ? next.size() : to);
      if (to < 0) {
        return of(next);
      }
      from = kept.nextClearBit(to);
    }
    return copied(next, origins, starts);
  }

  /**
   * Rules that have the numbers they had here are copied, many at once, without looking at them.
   */
  private Layout copied(List<CompiledRule> next, int[] origins, int[] starts) {
    Layout laid = empty(starts);
    int rule = 0;
    while (rule < origins.length) {
      int begin = rule;
      while (rule < origins.length
          && origins[rule] >= 0
          && origins[rule] - origins[begin] == rule - begin
          && starts[rule] == first[origins[rule]]) {
        rule++;
      }
      if (rule == begin) {
        laid.put(next.get(rule));
        rule++;
      } else {
        int end = Math.min(starts[rule], first[origins[begin] + rule - begin]);
        int many = end - starts[begin];
        System.arraycopy(boxes, starts[begin], laid.boxes, starts[begin], many);
        System.arraycopy(outcomes, starts[begin], laid.outcomes, starts[begin], many);
      }
    }
    return laid;
  }

  /**
   * Gives some rules numbers between those of their neighbours; as many neighbours as need be get
   * new ones too.
   *
   * @param placed the rules that have their numbers; all others follow these
   * @return the first rule that was not looked at, or −1 if there is no room for all rules
   */
  private static int placed(
      List<CompiledRule> rules, int[] starts, BitSet placed, int from, int to) {
    int begin = from;
    int end = to;
    int boxes = boxes(rules, begin, end);
    int wanted = boxes;
    int moved = NEIGHBOURS;
    while (wanted > room(rules, starts, begin, end)) {
      if (begin == 0 && end == rules.size()) {
        return -1;
      }
      begin = Math.max(0, begin - moved);
      end = placed.nextSetBit(Math.min(rules.size(), end + moved));
      end = end < 0 ? rules.size() : end;
      moved *= 2;
      boxes = boxes(rules, begin, end);
      // Where many come to one place, the next ones shall not all have to move neighbours again.
      wanted = boxes + (int) Math.sqrt(boxes) / 2 + 1;
    }
    int spare = room(rules, starts, begin, end) - boxes;
    // Half of what is left where the next one will probably come, the other half anywhere.
    int here = spare / 2;
    int next = end(rules, starts, begin);
    for (int rule = begin; rule < end; rule++) {
      int before = (int) ((long) (spare - here) * (rule + 1 - begin) / (end - begin + 1));
      starts[rule] = next + before + (rule < to ? 0 : here);
      next += count(rules, rule);
    }
    placed.set(begin, end);
    return end;
  }

  private static int boxes(List<CompiledRule> rules, int begin, int end) {
    return IntStream.range(begin, end).map(rule -> count(rules, rule)).sum();
  }

  /** The number behind all rules above one. */
  private static int end(List<CompiledRule> rules, int[] starts, int rule) {
    return rule == 0 ? 0 : starts[rule - 1] + count(rules, rule - 1);
  }

  /** How many numbers there are between the rule before some and the one after them. */
  private static int room(List<CompiledRule> rules, int[] starts, int begin, int end) {
    return starts[end] - end(rules, starts, begin);
  }

  /** The same rules, of which some have other boxes for the same connections. */
  Layout with(Box[] others) {
    return new Layout(others, outcomes, ruleOf, first);
  }
}
