/**
 * In: a compiled rulebase and a connection. Out: the fall – every rule passed, with the fields that
 * did not match – and the catch. May import {@code compile}, {@code model}, {@code region} and
 * {@code text}.
 *
 * <pre>
 * connection ─▶ Decider ─▶ point over atoms ─▶ first box in the index ─▶ catch
 *                  └─▶ Fall: stage by stage, each rule passed with the fields that miss
 * </pre>
 */
package ironsieve.decide;
