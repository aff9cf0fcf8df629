package ironsieve.decide;

import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Dimension;
import ironsieve.compile.Knowledge;
import ironsieve.compile.Space;
import ironsieve.decide.Fall.Stage.Status;
import ironsieve.model.Connection;
import ironsieve.model.FieldName;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Verdict;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import ironsieve.region.Region;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Lets one connection unfold at the gateway. What is known at a stage is the set of points that
 * agree with the connection in what shows by then; a rule says yes if it claims all of them, no if
 * none, and otherwise not yet.
 */
final class Unfolding {

  private final CompiledRulebase compiled;
  private final Space space;
  private final Connection connection;
  private final int[] point;
  private final Knowledge last;

  Unfolding(CompiledRulebase compiled, Connection connection) {
    this.compiled = compiled;
    this.space = compiled.space();
    this.connection = connection;
    this.point = space.point(connection);
    this.last = readable(compiled, connection, point) ? Knowledge.READ : Knowledge.IDENTIFIED;
  }

  /** Whether the gateway ever sees what is done inside the connection. */
  static boolean readable(CompiledRulebase compiled, Connection connection, int[] point) {
    return !compiled.space().isEncrypted(connection) || compiled.matchCompiler().decrypts(point);
  }

  /** The stages from the first packet to the decision. */
  List<Fall.Stage> stages() {
    List<Fall.Stage> stages = new ArrayList<>();
    for (Knowledge knowledge : Knowledge.values()) {
      Fall.Stage stage = stage(knowledge);
      stages.add(stage);
      if (stage.status() != Status.PROVISIONAL) {
        break;
      }
    }
    return stages;
  }

  Fall.Stage stage(Knowledge knowledge) {
    Box known = space.known(connection, point, knowledge);
    List<Fall.Wait> waiting = new ArrayList<>();
    Set<Verdict> possible = new LinkedHashSet<>();
    IndexSet meeting = compiled.index().meeting(known);
    int box = meeting.next(0);
    while (box >= 0) {
      CompiledRule rule = compiled.rules().get(compiled.ruleOfBox(box));
      Set<Outcome> outcomes = new LinkedHashSet<>();
      Region left = Region.of(List.of(known));
      int next = box;
      while (next >= 0 && compiled.ruleOfBox(next) == rule.index()) {
        left = left.minus(Region.of(List.of(compiled.box(next))));
        outcomes.add(compiled.outcomeOfBox(next));
        next = meeting.next(next + 1);
      }
      outcomes.forEach(outcome -> possible.add(outcome.verdict()));
      if (left.isEmpty()) {
        return stage(knowledge, waiting, possible, Optional.of(rule.rule().id()), outcomes);
      }
      waiting.add(new Fall.Wait(rule.rule().id(), unsure(rule.rule(), known)));
      box = next;
    }
    Outcome defaultVerdict = compiled.outcomeOfBox(-1);
    possible.add(defaultVerdict.verdict());
    return stage(knowledge, waiting, possible, Optional.empty(), Set.of(defaultVerdict));
  }

  private Fall.Stage stage(
      Knowledge knowledge,
      List<Fall.Wait> waiting,
      Set<Verdict> possible,
      Optional<String> rule,
      Set<Outcome> outcomes) {
    boolean sure = waiting.isEmpty() && outcomes.size() == 1;
    boolean stopped = possible.size() == 1 && !possible.iterator().next().passes();
    Status status =
        sure || knowledge == last
            ? Status.DECIDED
            : stopped ? Status.STOPPED_EARLY : Status.PROVISIONAL;
    return new Fall.Stage(knowledge, waiting, rule, List.copyOf(outcomes), status);
  }

  /** The fields of a rule that hold only some of what the connection may turn out to be. */
  private List<FieldName> unsure(Rule rule, Box known) {
    List<FieldName> fields = new ArrayList<>();
    rule.match()
        .fields()
        .forEach(
            (name, field) -> {
              int dimension = Dimension.of(name).ordinal();
              IndexSet side = space.side(name, field, compiled.names());
              if (!side.containsAll(known.side(dimension))) {
                fields.add(name);
              }
            });
    return fields;
  }
}
