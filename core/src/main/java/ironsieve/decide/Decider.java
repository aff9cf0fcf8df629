package ironsieve.decide;

import ironsieve.compile.Check;
import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Knowledge;
import ironsieve.compile.Names;
import ironsieve.model.Chapter;
import ironsieve.model.Connection;
import ironsieve.model.Environment;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Verdict;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Drops connections into one compiled rulebase. */
public final class Decider {

  private final CompiledRulebase compiled;

  /** Decides by this rulebase. */
  public Decider(CompiledRulebase compiled) {
    this.compiled = compiled;
  }

  /**
   * Decides one connection and connections that differ from it in no more than what shows after the
   * first packet: only rules that it can concern are compiled, which for a single question is much
   * quicker.
   *
   * @throws ironsieve.compile.ProblemException if the rulebase cannot be read, whichever rule it is
   */
  public static Decider forOne(Rulebase rulebase, Environment environment, Connection connection) {
    Names names = new Names(rulebase.parts(), environment);
    Check.demand(Check.problems(rulebase, names));
    FieldReader reader = new FieldReader(names, connection, true);
    List<Chapter> chapters =
        rulebase.chapters().stream()
            .map(
                chapter ->
                    chapter.with(chapter.rules().stream().filter(reader::holdsAtFirst).toList()))
            .toList();
    return new Decider(
        CompiledRulebase.of(
            new Rulebase(rulebase.name(), chapters, rulebase.parts(), rulebase.defaultVerdict()),
            environment));
  }

  /**
   * The rule that catches a connection, or nothing for the default verdict.
   *
   * @throws ironsieve.compile.ImpossibleConnectionException if there can be no such connection
   */
  public Optional<Rule> decide(Connection connection) {
    int rule = compiled.firstMatch(compiled.space().point(connection));
    return rule < 0 ? Optional.empty() : Optional.of(compiled.rules().get(rule).rule());
  }

  /** What happens to a connection. */
  public Outcome outcome(Connection connection) {
    return compiled.outcome(compiled.space().point(connection));
  }

  /** The verdict on a connection. */
  public Verdict verdict(Connection connection) {
    return outcome(connection).verdict();
  }

  /**
   * What a gateway does at one stage, whatever it did before.
   *
   * @param connection of what shows after that stage nothing is looked at
   */
  public Fall.Stage stage(Connection connection, Knowledge knowledge) {
    return new Unfolding(compiled, connection).stage(knowledge);
  }

  /** How a connection unfolds at the gateway, without the reasons of a {@link #fall}. */
  public List<Fall.Stage> stages(Connection connection) {
    return new Unfolding(compiled, connection).stages();
  }

  /**
   * The whole fall of a connection, with a reason for every rule passed, and how it unfolds.
   *
   * @throws ironsieve.compile.ImpossibleConnectionException if there can be no such connection
   */
  public Fall fall(Connection connection) {
    Optional<Rule> caught = decide(connection);
    int[] point = compiled.space().point(connection);
    FieldReader reader =
        new FieldReader(
            compiled.names(), connection, Unfolding.readable(compiled, connection, point));
    List<Fall.Pass> passed = new ArrayList<>();
    for (CompiledRule rule : compiled.rules()) {
      if (caught.isPresent() && caught.get().id().equals(rule.rule().id())) {
        break;
      }
      passed.add(new Fall.Pass(rule.rule().id(), reader.misses(rule.rule())));
    }
    Fall.Catch fellOn =
        new Fall.Catch(
            caught.map(Rule::id),
            compiled.outcome(point),
            caught.map(reader::matches).orElse(List.of()));
    return new Fall(
        connection, passed, fellOn, below(point), new Unfolding(compiled, connection).stages());
  }

  private List<Fall.Below> below(int[] point) {
    List<Fall.Below> below = new ArrayList<>();
    int box = compiled.index().first(point);
    while (box >= 0) {
      box = compiled.index().first(point, compiled.firstBox(compiled.ruleOfBox(box) + 1));
      if (box >= 0) {
        String id = compiled.rules().get(compiled.ruleOfBox(box)).rule().id();
        below.add(new Fall.Below(id, compiled.outcomeOfBox(box)));
      }
    }
    return below;
  }
}
