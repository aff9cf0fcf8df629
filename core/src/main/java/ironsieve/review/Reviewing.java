package ironsieve.review;

import ironsieve.compile.CompiledRulebase;
import ironsieve.decide.Traffic;
import ironsieve.progress.Progress;

/**
 * What a review is made of.
 *
 * @param compiled the rulebase
 * @param budget what may be spent on each rule
 * @param traffic what was recorded, to tell rules that nothing falls on
 * @param progress told of every rule that is done
 */
record Reviewing(CompiledRulebase compiled, Budget budget, Traffic traffic, Progress progress) {}
