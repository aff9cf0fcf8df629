/**
 * In: a compiled rulebase and a connection. Out: the fall – every rule passed, with the fields that
 * did not match – and the catch. May import {@code compile}, {@code model}, {@code region} and
 * {@code text}.
 */
package ironsieve.decide;
