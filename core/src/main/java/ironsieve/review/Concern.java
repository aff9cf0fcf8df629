package ironsieve.review;

import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Dimension;
import ironsieve.compile.Following;
import ironsieve.compile.Space;
import ironsieve.model.Connection;
import ironsieve.model.Rule;
import ironsieve.region.Box;
import ironsieve.review.RuleReview.Reached;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/**
 * Which rules an edit can concern, so that all others keep what was said about them. A touched rule
 * concerns the rules below it that its claim meets; those above only in whether they are redundant,
 * in what passes before they decide, and in what the applications they let through need.
 */
final class Concern {

  private static final int SITE = Dimension.SITE.ordinal();
  private static final int USING = Dimension.USING.ordinal();
  private static final int SERVICE = Dimension.SERVICE.ordinal();
  private static final int TO = Dimension.TO.ordinal();

  private final Review before;
  private final Following edit;
  private final Claims claims;
  private final Needs needs;
  private final Space space;
  private final Set<String> concerned = new HashSet<>();
  private final Set<String> above = new HashSet<>();

  /**
   * The concern of an edit.
   *
   * @param claims of the rulebase after it
   * @param needs what applications need after it
   */
  Concern(Review before, Following edit, Claims claims, Needs needs) {
    this.before = before;
    this.edit = edit;
    this.claims = claims;
    this.needs = needs;
    space = claims.space();
    Set<String> touched = reworded();
    touched.addAll(edit.touched());
    concerned.addAll(touched);
    for (CompiledRulebase side : List.of(edit.before(), edit.after())) {
      touched.forEach(id -> side.rule(id).ifPresent(rule -> touch(side, rule)));
    }
    above.removeAll(concerned);
    above.stream().filter(this::mayHaveBecomeRedundant).forEach(concerned::add);
    for (CompiledRule rule : claims.rules()) {
      String id = rule.rule().id();
      if (!concerned.contains(id) && isProvedElsewhere(before.reviewed(id))) {
        concerned.add(id);
      }
    }
    if (!needs.resolvers().equals(before.resolvers())) {
      claims.rules().stream()
          .filter(rule -> Needs.asks(rule.rule()))
          .forEach(rule -> concerned.add(rule.rule().id()));
    }
  }

  /** The ids of the rules to look at again; some may not take part any more. */
  Set<String> rules() {
    return concerned;
  }

  /** Rules that say something else, if only in their notes, and claim the same. */
  private Set<String> reworded() {
    Set<String> reworded = new HashSet<>();
    for (CompiledRule rule : claims.rules()) {
      String id = rule.rule().id();
      Rule old = edit.before().rule(id).map(CompiledRule::rule).orElse(null);
      // Most are the very same, which is seen without comparing what they say.
      if (old != rule.rule() && !rule.rule().equals(old)) {
        reworded.add(id);
      }
    }
    return reworded;
  }

  private void touch(CompiledRulebase side, CompiledRule rule) {
    for (Box box : rule.boxes()) {
      for (int other : side.rulesMeeting(box)) {
        (other < rule.index() ? above : concerned).add(side.rules().get(other).rule().id());
      }
      Box atFirst = box.with(SITE, space.whole(SITE)).with(USING, space.whole(USING));
      for (int other : side.rulesMeeting(atFirst)) {
        CompiledRule met = side.rules().get(other);
        if (met.outcomes().stream().anyMatch(outcome -> !outcome.verdict().passes())) {
          concerned.add(met.rule().id());
        }
      }
      if (box.side(USING).intersects(needs.needed())) {
        Box anywhere = atFirst.with(SERVICE, space.whole(SERVICE)).with(TO, space.whole(TO));
        for (int other : side.rulesMeeting(anywhere)) {
          if (Needs.asks(side.rules().get(other).rule())) {
            concerned.add(side.rules().get(other).rule().id());
          }
        }
      }
    }
  }

  /** Two kinds of witness lie outside their rule's claim, where another rule may catch them now. */
  private boolean isProvedElsewhere(Reviewed old) {
    for (Finding finding : old.findings()) {
      if (finding.kind() == Finding.Kind.BLIND_FEATURE
          || finding.kind() == Finding.Kind.NEEDS_UNMET) {
        for (Finding.Evidence evidence : finding.evidence()) {
          Witness witness = evidence.witness();
          int[] point = space.point(witness.connection());
          if (!claims.witness(point).caughtBy().equals(witness.caughtBy())) {
            return true;
          }
        }
      }
    }
    return false;
  }

  /**
   * A rule above a touched one keeps what reaches it; and where a connection was known for which
   * taking it out makes a difference, and still is one, it is not redundant.
   */
  private boolean mayHaveBecomeRedundant(String id) {
    Reviewed old = before.reviewed(id);
    if (old == null || claims.compiled().rule(id).isEmpty()) {
      return false;
    }
    if (old.reached() != Reached.YES) {
      return false;
    }
    if (old.has(Finding.Kind.REDUNDANT) || old.has(Finding.Kind.UNDETERMINED)) {
      return true;
    }
    Connection witness = old.residue().witness().orElseThrow().connection();
    int[] point = space.point(witness);
    int rule = claims.compiled().rule(id).orElseThrow().index();
    return claims.outcomeBelow(point, rule).equals(claims.own(point, rule));
  }
}
