package ironsieve.review;

import ironsieve.compile.CompiledEdit;
import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.progress.Progress;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;

/**
 * Where a rule stands best among the others, and why. A rule that blocks takes more effect the
 * higher it stands: it belongs above a rule that holds all of it, and above those that give most of
 * it another verdict – of a smaller part it is told, for that may well be meant –, but below those
 * that lie wholly inside it, for these are exceptions from it as long as they leave some of it. A
 * rule that lets through belongs below the lowest rule that lies inside it and decides otherwise,
 * for above that one it would swallow an exception. Advice never lets through more than the rule
 * does where it stands: whoever wants that moves it themselves, and is told above which rule.
 *
 * @param move a better place; nothing if no place is better
 * @param why the reason for moving it, or for leaving it where it stands
 */
public record Placement(Optional<Move> move, Message why) {

  /** Above or below. */
  public enum Side {
    ABOVE,
    BELOW
  }

  /**
   * A better place.
   *
   * @param side on which side of the other rule
   * @param rule the id of the other rule
   */
  public record Move(Side side, String rule) {}

  /** The best place of a rule; nothing if there is no such rule or it is off. */
  public static Optional<Placement> of(CompiledRulebase compiled, String rule, Budget budget) {
    return compiled.rule(rule).map(found -> new Search(compiled, found, budget).placement());
  }

  private static final double HALF = 0.5 - 1e-9;

  /** Looks for the place of one rule. */
  private static final class Search {
    private final CompiledRulebase compiled;
    private final CompiledRule rule;
    private final Budget budget;
    private final Claims claims;
    private final RuleMeasure measure;

    private Search(CompiledRulebase compiled, CompiledRule rule, Budget budget) {
      this.compiled = compiled;
      this.rule = rule;
      this.budget = budget;
      claims = new Claims(compiled, new Progress());
      measure = new RuleMeasure(claims, budget, rule.index()).measure(KnownBranches.NONE);
    }

    private Placement placement() {
      if (measure.claim().isEmpty()) {
        return stay(Sentences.placeOfEmpty());
      }
      if (measure.takersOtherwise().isEmpty()
          && !measure.isExact()
          && !measure.findTakerOtherwise()) {
        return stay(Sentences.placeNotWorkedOut());
      }
      List<Integer> otherwise = measure.takersOtherwise();
      boolean passes = rule.outcomes().stream().allMatch(outcome -> outcome.verdict().passes());
      boolean blocks = rule.outcomes().stream().noneMatch(outcome -> outcome.verdict().passes());
      if (blocks && !otherwise.isEmpty()) {
        return ofBlocking(otherwise);
      }
      Optional<Placement> below = passes ? belowExceptions() : Optional.empty();
      if (below.isPresent()) {
        return below.get();
      }
      if (!otherwise.isEmpty()) {
        return stay(
            Sentences.takenOtherwise(
                measure.otherwise(otherwise), ids(otherwise), claims.id(otherwise.get(0))));
      }
      if (measure.reached() == Reached.NO) {
        return stay(Sentences.sameVerdictEverywhere(namedTakers()));
      }
      if (!measure.isSure()) {
        return stay(Sentences.decidedAlikeAbove());
      }
      boolean meetsNone =
          measure.isExact() ? measure.takers().isEmpty() : measure.above().isEmpty();
      return stay(meetsNone ? Sentences.allReachesIt() : Sentences.restDecidedAlike(namedTakers()));
    }

    /** Who takes from it, by name where they are all known, and none where only some are. */
    private List<String> namedTakers() {
      return measure.isExact() ? ids(measure.takers().keySet()) : List.of();
    }

    /** As high as it can stand without taking from an exception. */
    private Placement ofBlocking(List<Integer> otherwise) {
      List<Integer> exceptions = otherwise.stream().filter(this::liesInside).toList();
      List<Integer> broader =
          otherwise.stream().filter(taker -> !exceptions.contains(taker)).toList();
      if (broader.isEmpty() && measure.reached() == Reached.NO) {
        // Exceptions that leave nothing of a rule are none: it would have no effect at all.
        String above = claims.id(otherwise.get(0));
        return new Placement(
            Optional.of(new Move(Side.ABOVE, above)),
            Sentences.betterAbove(above, measure.otherwise(otherwise), ids(otherwise)));
      }
      if (broader.isEmpty()) {
        return stay(Sentences.belowItsExceptions(ids(exceptions)));
      }
      int lowest = exceptions.isEmpty() ? -1 : exceptions.get(exceptions.size() - 1);
      List<Integer> passable = broader.stream().filter(taker -> taker > lowest).toList();
      if (passable.isEmpty()) {
        return stay(
            Sentences.exceptionsInTheWay(
                measure.otherwise(broader),
                ids(broader),
                claims.id(broader.get(0)),
                ids(exceptions)));
      }
      Optional<Integer> holding =
          passable.stream()
              .filter(
                  taker -> claims.holds(taker, rule.index(), budget.searchSteps()).orElse(false))
              .findFirst();
      if (holding.isPresent() && !isMost(passable.subList(0, passable.indexOf(holding.get())))) {
        String above = claims.id(holding.get());
        return new Placement(
            Optional.of(new Move(Side.ABOVE, above)), Sentences.betterAbove(above));
      }
      String topmost = claims.id(passable.get(0));
      Share share = measure.otherwise(passable);
      return isMost(passable)
          ? new Placement(
              Optional.of(new Move(Side.ABOVE, topmost)),
              Sentences.betterAbove(topmost, share, ids(passable)))
          : stay(Sentences.partlyTaken(share, ids(passable), topmost));
    }

    /** Whether rules give at least half of what the rule matches another verdict. */
    private boolean isMost(List<Integer> takers) {
      return measure.otherwise(takers).value() >= HALF;
    }

    /** Below the lowest exception from it at which it still takes effect. */
    private Optional<Placement> belowExceptions() {
      int place = rule.index();
      TreeSet<Integer> inside = new TreeSet<>();
      measure.claim().forEach(box -> inside.addAll(compiled.rulesMeeting(box)));
      inside.removeIf(
          other -> other <= place || !claims.isDisputed(place, other) || !liesInside(other));
      for (int other : inside.descendingSet()) {
        if (reachedBelow(other)) {
          String id = claims.id(other);
          return Optional.of(
              new Placement(Optional.of(new Move(Side.BELOW, id)), Sentences.betterBelow(id)));
        }
      }
      return Optional.empty();
    }

    private boolean liesInside(int other) {
      return claims.holds(rule.index(), other, budget.searchSteps()).orElse(false);
    }

    private boolean reachedBelow(int other) {
      Rulebase rulebase = compiled.rulebase();
      List<Rule> rules = rulebase.rules();
      int after = rules.indexOf(compiled.rules().get(other).rule()) + 1;
      String id = claims.id(rule.index());
      if (after == rules.size()) {
        return reached(Edit.apply(rulebase, new Edit.MoveToEnd(id)), id);
      }
      return reached(Edit.apply(rulebase, new Edit.MoveAbove(id, rules.get(after).id())), id);
    }

    private boolean reached(Rulebase moved, String id) {
      CompiledRulebase after = CompiledEdit.of(compiled, moved).after();
      int index = after.rule(id).orElseThrow().index();
      return new RuleMeasure(new Claims(after, new Progress()), budget, index).seek().reached()
          == Reached.YES;
    }

    private List<String> ids(Iterable<Integer> rules) {
      List<String> ids = new ArrayList<>();
      rules.forEach(other -> ids.add(claims.id(other)));
      return ids;
    }

    private static Placement stay(Message why) {
      return new Placement(Optional.empty(), why);
    }
  }
}
