/**
 * In: a compiled rulebase, people and applications. Out: who can use what, by which rule, and on
 * what it depends. May import {@code compile}, {@code model} and {@code region}.
 *
 * <pre>
 * rulebase + what is asked ─▶ ReachQuery (rules below all others tell it apart)
 *     ─▶ BoxPropagation through the rules ─▶ pieces ─▶ Cell, or ZoneTable ─▶ ZoneGroup
 * value ─▶ Matching ─▶ rules that can match it, that get it, and whether features are seen
 * </pre>
 */
package ironsieve.reach;
