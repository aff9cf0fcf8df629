package ironsieve.review;

import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import ironsieve.progress.Progress;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;

/**
 * Where a rule stands best among the others. A rule that blocks: above the topmost rule that holds
 * all of it and decides otherwise, for below that one nothing reaches it. A rule that lets through:
 * below the lowest rule that lies inside it and decides otherwise, for above that one it would
 * swallow an exception. Advice never lets through more than the rule does where it stands: whoever
 * wants that moves it themselves.
 *
 * @param side on which side of the other rule
 * @param rule the id of the other rule
 * @param why one sentence
 */
public record Placement(Side side, String rule, Message why) {

  /** Above or below. */
  public enum Side {
    ABOVE,
    BELOW
  }

  /** A better place for a rule than where it stands; nothing if it stands well. */
  public static Optional<Placement> of(CompiledRulebase compiled, String rule, Budget budget) {
    Optional<CompiledRule> found = compiled.rule(rule);
    if (found.isEmpty()) {
      return Optional.empty();
    }
    Claims claims = new Claims(compiled, new Progress());
    int place = found.get().index();
    TreeSet<Integer> meeting = new TreeSet<>();
    claims.of(place).forEach(box -> meeting.addAll(compiled.rulesMeeting(box)));
    meeting.remove(place);
    List<Integer> holding = new ArrayList<>();
    List<Integer> inside = new ArrayList<>();
    for (int other : meeting) {
      if (claims.isDisputed(place, other)) {
        if (claims.holds(other, place, budget.searchSteps()).orElse(false)) {
          holding.add(other);
        } else if (claims.holds(place, other, budget.searchSteps()).orElse(false)) {
          inside.add(other);
        }
      }
    }
    boolean passes =
        found.get().outcomes().stream().allMatch(outcome -> outcome.verdict().passes());
    boolean blocks =
        found.get().outcomes().stream().noneMatch(outcome -> outcome.verdict().passes());
    if (blocks && !holding.isEmpty()) {
      int first = holding.get(0);
      return first > place
          ? Optional.empty()
          : Optional.of(
              new Placement(Side.ABOVE, claims.id(first), Sentences.betterAbove(claims.id(first))));
    }
    Optional<Integer> last =
        inside.isEmpty() || !passes ? Optional.empty() : Optional.of(inside.get(inside.size() - 1));
    return last.filter(other -> other > place)
        .map(
            other ->
                new Placement(
                    Side.BELOW, claims.id(other), Sentences.betterBelow(claims.id(other))));
  }
}
