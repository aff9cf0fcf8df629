/**
 * In: a rulebase before and after a change. Out: the connections decided differently, as few,
 * disjoint, readable boxes, each with a witness. May import {@code compile}, {@code decide}, {@code
 * text}, {@code model} and {@code region}.
 *
 * <pre>
 * before, after ─▶ Comparison (boxes decided otherwise) ─▶ Merging ─▶ groups ─▶ Vocabulary ─▶ Impact
 * editions ─▶ EditionReading ─▶ the same two rulebases over one catalogue
 * </pre>
 */
package ironsieve.impact;
