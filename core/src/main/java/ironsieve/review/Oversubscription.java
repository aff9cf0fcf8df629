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
    List<String> told = ofLanes(rulebase);
    told.addAll(ofRules(rulebase, new Overpromised(rulebase)));
    return told;
  }

  /**
   * What an edit adds: nothing of a lane of which the same was true, nor of the rules if they
   * guaranteed too much before and now no more than that, whichever rule it is told of.
   */
  public static List<String> added(Rulebase before, Rulebase after) {
    List<String> told = ofLanes(after);
    told.removeAll(ofLanes(before));
    Overpromised was = new Overpromised(before);
    Overpromised becomes = new Overpromised(after);
    boolean isKnown =
        !was.sentences().isEmpty()
            && before.parts().capacity().equals(after.parts().capacity())
            && becomes.total().up() <= was.total().up()
            && becomes.total().down() <= was.total().down();
    if (!isKnown) {
      told.addAll(ofRules(after, becomes));
    }
    return told;
  }

  private static List<String> ofLanes(Rulebase rulebase) {
    Lane.Rates capacity = rulebase.parts().capacity();
    List<String> told = new ArrayList<>();
    for (Lane lane : rulebase.parts().lanes()) {
      Lane.Rates sum = lane.guaranteeToAll();
      if (sum.exceeds(capacity)) {
        told.add(Sentences.laneOverpromised(lane, sum, capacity));
      }
    }
    return told;
  }

  private static List<String> ofRules(Rulebase rulebase, Overpromised overpromised) {
    List<String> told = new ArrayList<>();
    Map<String, Integer> numbers = new HashMap<>();
    for (Rule rule : rulebase.rules()) {
      numbers.put(rule.id(), numbers.size() + 1);
    }
    overpromised
        .sentences()
        .forEach(
            (rule, said) -> told.add("Rule " + numbers.get(rule) + ": " + said.with(numbers::get)));
    return told;
  }
}
