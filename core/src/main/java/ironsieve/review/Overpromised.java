package ironsieve.review;

import ironsieve.model.Lane;
import ironsieve.model.Lane.Rates;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.UsageSheet;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.Map;
import java.util.Set;

/**
 * Holds the lanes' guarantees against the link's capacity, from the top: a lane for the gateway
 * counts once, one for each rule once for every rule that uses it, one for each client times the
 * clients reckoned with. The rule with which the sum first exceeds the capacity gets the finding.
 */
final class Overpromised {

  private final Map<String, Message> sentences = new HashMap<>();
  private Rates total = Rates.NONE;

  Overpromised(Rulebase rulebase) {
    Rates capacity = rulebase.parts().capacity();
    Map<String, Lane> lanes = new HashMap<>();
    rulebase.parts().lanes().forEach(lane -> lanes.put(lane.name(), lane));
    if (lanes.isEmpty()) {
      return;
    }
    Map<String, UsageSheet> sheets = new HashMap<>();
    rulebase.parts().sheets().forEach(sheet -> sheets.put(sheet.name(), sheet));
    Rates sum = Rates.NONE;
    Set<String> counted = new LinkedHashSet<>();
    for (Rule rule : rulebase.rules()) {
      if (!rule.isOn()) {
        continue;
      }
      Rates before = sum;
      for (String name : named(rule, sheets)) {
        Lane lane = lanes.get(name);
        boolean ownForRule = lane.scope() == Lane.Scope.RULE;
        if (counted.add(name) || ownForRule) {
          sum = sum.plus(lane.guaranteeToAll());
        }
      }
      if (sum.exceeds(capacity) && !before.exceeds(capacity)) {
        sentences.put(rule.id(), Sentences.overpromised(sum, capacity));
      }
    }
    total = sum;
  }

  /** The lanes a rule's own outcome and its sheet name, each once. */
  private static Set<String> named(Rule rule, Map<String, UsageSheet> sheets) {
    Set<String> names = new LinkedHashSet<>();
    rule.then().outcome().lane().ifPresent(names::add);
    rule.then()
        .sheet()
        .map(sheets::get)
        .ifPresent(
            sheet -> {
              sheet.lines().forEach(line -> add(names, line.outcome()));
              add(names, sheet.otherwise());
            });
    return names;
  }

  private static void add(Set<String> names, Outcome outcome) {
    outcome.lane().ifPresent(names::add);
  }

  /** By id the rules with which more is promised than there is, each with a sentence. */
  Map<String, Message> sentences() {
    return sentences;
  }

  /** What all rules that are on guarantee together. */
  Rates total() {
    return total;
  }
}
