package ironsieve.review;

import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import java.util.stream.IntStream;

/**
 * What was said of each rule that takes part, by its number from the top. Filled by one thread,
 * then only read.
 */
final class ReviewedRules {

  private final Reviewed[] all;
  private final BitSet elsewhere = new BitSet();
  // By id; made when first asked for. Two threads that both do come to the same.
  private volatile Map<String, Integer> numbers;

  ReviewedRules(int count) {
    all = new Reviewed[count];
  }

  int size() {
    return all.length;
  }

  /** What was said of a rule; null as long as it is open. */
  Reviewed get(int rule) {
    return all[rule];
  }

  void put(int rule, Reviewed reviewed) {
    all[rule] = reviewed;
    elsewhere.set(rule, reviewed.isProvedElsewhere());
  }

  /** Says of a rule what another review said of one of its rules. */
  void keep(int rule, ReviewedRules other, int otherRule) {
    all[rule] = other.all[otherRule];
    elsewhere.set(rule, other.elsewhere.get(otherRule));
  }

  /** The rules with a witness outside their claim. */
  IntStream provedElsewhere() {
    return elsewhere.stream();
  }

  String id(int rule) {
    return all[rule].residue().rule();
  }

  /** The number of the rule with an id, looked for first where it may be; or −1. */
  int number(String id, int guess) {
    if (guess < all.length && id(guess).equals(id)) {
      return guess;
    }
    Map<String, Integer> known = numbers;
    if (known == null) {
      Map<String, Integer> made = new HashMap<>(all.length * 2);
      IntStream.range(0, all.length).forEach(rule -> made.put(id(rule), rule));
      numbers = made;
      known = made;
    }
    return known.getOrDefault(id, -1);
  }
}
