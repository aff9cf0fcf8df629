package ironsieve.review;

import ironsieve.compile.CompiledEdit;
import ironsieve.compile.RuleAlignment;
import java.util.Arrays;
import java.util.BitSet;
import java.util.stream.IntStream;

/**
 * What was said of each rule that takes part, by its number from the top. Filled by one thread,
 * then only read.
 */
final class ReviewedRules {

  private final Reviewed[] all;
  private final KnownBranches[] branches;
  private final BitSet elsewhere = new BitSet();

  ReviewedRules(int count) {
    all = new Reviewed[count];
    branches = new KnownBranches[count];
    Arrays.fill(branches, KnownBranches.NONE);
  }

  int size() {
    return all.length;
  }

  /** What was said of a rule; null as long as it is open. */
  Reviewed get(int rule) {
    return all[rule];
  }

  /** What became of a rule's branches, here or, as long as it is open, in the review before. */
  KnownBranches branches(int rule) {
    return branches[rule];
  }

  void put(int rule, Reviewed reviewed, KnownBranches ofIt) {
    all[rule] = reviewed;
    branches[rule] = ofIt;
    elsewhere.set(rule, reviewed.isProvedElsewhere());
  }

  /**
   * Remembers what became of the branches of a rule in another review.
   *
   * @param edit what led from there to here
   */
  void remember(int rule, ReviewedRules other, int otherRule, CompiledEdit edit) {
    branches[rule] = other.branches[otherRule].after(edit);
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

  /** For each rule the number it has in another review; −1 if it was not reviewed there. */
  int[] numbersIn(ReviewedRules other) {
    return RuleAlignment.of(all.length, this::id, other.all.length, other::id);
  }
}
