package ironsieve.review;

import ironsieve.compile.CompiledRulebase;
import ironsieve.progress.Progress;
import ironsieve.recorded.RecordedDecisions;

/**
 * What a review is made of.
 *
 * @param compiled the rulebase
 * @param budget what may be spent on each rule
 * @param recorded what the rulebase does with recorded traffic, to tell rules that nothing falls on
 * @param progress told of every rule that is done
 */
record ReviewContext(
    CompiledRulebase compiled, Budget budget, RecordedDecisions recorded, Progress progress) {}
