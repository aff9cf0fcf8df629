package ironsieve.review;

import ironsieve.compile.CompiledEdit;
import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Dimension;
import ironsieve.compile.Space;
import ironsieve.model.Connection;
import ironsieve.region.Box;
import java.util.Arrays;
import java.util.BitSet;
import java.util.stream.IntStream;

/**
 * Which rules an edit can concern, so that all others keep what was said about them. A touched rule
 * concerns the rules below it that its claim meets; those above only in whether they are redundant,
 * in what passes before they decide, and in what the applications they let through need.
 */
final class AffectedRules {

  private static final int SITE = Dimension.SITE.ordinal();
  private static final int USING = Dimension.USING.ordinal();

  private final Review before;
  private final CompiledEdit edit;
  private final Claims claims;
  private final Needs needs;
  private final Space space;
  private final int[] now;
  private final BitSet concerned = new BitSet();
  private final BitSet above = new BitSet();

  /**
   * The concern of an edit.
   *
   * @param claims of the rulebase after it
   * @param needs what applications need after it
   */
  AffectedRules(Review before, CompiledEdit edit, Claims claims, Needs needs) {
    this.before = before;
    this.edit = edit;
    this.claims = claims;
    this.needs = needs;
    space = claims.space();
    now = now();
    BitSet touchedBefore = new BitSet();
    BitSet touchedAfter = new BitSet();
    edit.reworded().forEach(touchedAfter::set);
    touchedAfter.stream().map(edit::origin).forEach(touchedBefore::set);
    edit.touchedBefore().forEach(touchedBefore::set);
    edit.touchedAfter().forEach(touchedAfter::set);
    concerned.or(touchedAfter);
    int[] same = IntStream.range(0, claims.rules().size()).toArray();
    touchedBefore.stream().forEach(rule -> touch(edit.before(), rule, now));
    touchedAfter.stream().forEach(rule -> touch(edit.after(), rule, same));
    above.andNot(concerned);
    above.stream().filter(this::mayHaveBecomeRedundant).forEach(concerned::set);
    before
        .reviewed()
        .provedElsewhere()
        .filter(rule -> now[rule] >= 0 && !concerned.get(now[rule]))
        .filter(rule -> isProvedElsewhere(before.reviewed().get(rule)))
        .forEach(rule -> concerned.set(now[rule]));
    if (!needs.resolvers().equals(before.resolvers())) {
      claims.rules().stream()
          .filter(rule -> Needs.asks(rule.rule()))
          .forEach(rule -> concerned.set(rule.index()));
    }
  }

  /** The numbers of the rules to look at again. */
  BitSet rules() {
    return concerned;
  }

  /** For each rule before the number it has after; −1 if none claims what it did. */
  private int[] now() {
    int[] numbers = new int[edit.before().rules().size()];
    Arrays.fill(numbers, -1);
    for (int rule = 0; rule < claims.rules().size(); rule++) {
      if (edit.origin(rule) >= 0) {
        numbers[edit.origin(rule)] = rule;
      }
    }
    return numbers;
  }

  /**
   * Notes what a touched rule of one side concerns.
   *
   * @param numbers for each rule of that side its number after, or −1
   */
  private void touch(CompiledRulebase side, int rule, int[] numbers) {
    for (Box box : side.rules().get(rule).boxes()) {
      for (int other : side.rulesMeeting(box)) {
        note(other < rule ? above : concerned, numbers[other]);
      }
      Box atFirst = box.with(SITE, space.whole(SITE)).with(USING, space.whole(USING));
      for (int other : side.rulesMeeting(atFirst)) {
        CompiledRule met = side.rules().get(other);
        if (met.outcomes().stream().anyMatch(outcome -> !outcome.verdict().passes())) {
          note(concerned, numbers[other]);
        }
      }
      for (Box asking : needs.asking(box)) {
        for (int other : side.rulesMeeting(asking)) {
          if (Needs.asks(side.rules().get(other).rule())) {
            note(concerned, numbers[other]);
          }
        }
      }
    }
  }

  /** A rule that claims something else now is touched itself. */
  private static void note(BitSet rules, int number) {
    if (number >= 0) {
      rules.set(number);
    }
  }

  /**
   * Whether another rule now catches what lies outside a rule's claim and proves something of it.
   */
  private boolean isProvedElsewhere(Reviewed old) {
    return old.elsewhere()
        .anyMatch(
            witness ->
                !claims
                    .witness(space.point(witness.connection()))
                    .caughtBy()
                    .equals(witness.caughtBy()));
  }

  /**
   * A rule above a touched one keeps what reaches it; and where a connection was known for which
   * taking it out makes a difference, and still is one, it is not redundant.
   */
  private boolean mayHaveBecomeRedundant(int rule) {
    Reviewed old = before.reviewed().get(edit.origin(rule));
    if (old.reached() != Reached.YES) {
      return false;
    }
    if (old.has(Finding.Kind.REDUNDANT) || old.has(Finding.Kind.UNDETERMINED)) {
      return true;
    }
    Connection witness = old.residue().witness().orElseThrow().connection();
    int[] point = space.point(witness);
    return claims.outcomeBelow(point, rule).equals(claims.own(point, rule));
  }
}
