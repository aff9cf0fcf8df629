/**
 * In: a rulebase before and after a change. Out: the connections decided differently, as few,
 * disjoint, readable boxes, each with a witness. May import {@code compile}, {@code decide}, {@code
 * text}, {@code model} and {@code region}.
 */
package ironsieve.impact;
