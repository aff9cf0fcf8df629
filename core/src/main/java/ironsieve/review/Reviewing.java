package ironsieve.review;

import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Tape;
import java.util.List;

/**
 * What a review is made of.
 *
 * @param compiled the rulebase
 * @param budget what may be spent on each rule
 * @param tapes recorded traffic, to tell rules that nothing falls on
 * @param progress told of every rule that is done
 */
record Reviewing(CompiledRulebase compiled, Budget budget, List<Tape> tapes, Progress progress) {

  Reviewing {
    tapes = List.copyOf(tapes);
  }
}
