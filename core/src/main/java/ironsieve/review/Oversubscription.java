package ironsieve.review;

import ironsieve.model.Lane;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Whether lanes guarantee more than the link carries, in sentences for whoever edits a lane or
 * attaches it to a rule: a lane by itself, whether any rule uses it or not, and all that rules use
 * together. The review tells the second of its rule.
 */
public final class Oversubscription {

  private Oversubscription() {}

  /** A sentence for each lane that alone is too much, then one for the rule that goes too far. */
  public static List<String> of(Rulebase rulebase) {
    Lane.Rates capacity = rulebase.parts().capacity();
    List<String> told = new ArrayList<>();
    for (Lane lane : rulebase.parts().lanes()) {
      int times = lane.scope() == Lane.Scope.CLIENT ? lane.clients() : 1;
      Lane.Rates sum = lane.guarantee().times(times);
      if (sum.exceeds(capacity)) {
        told.add(Sentences.laneOverpromised(lane, sum, capacity));
      }
    }
    Map<String, Integer> numbers = new HashMap<>();
    for (Rule rule : rulebase.rules()) {
      numbers.put(rule.id(), numbers.size() + 1);
    }
    new Overpromised(rulebase)
        .sentences()
        .forEach(
            (rule, said) -> told.add("Rule " + numbers.get(rule) + ": " + said.with(numbers::get)));
    return told;
  }
}
