/**
 * In: a rulebase and its surroundings. Out: a {@link ironsieve.compile.CompiledRulebase}, in which
 * every rule's claim is a union of boxes over atoms that all rules share. May import {@code model}
 * and {@code region}.
 *
 * <pre>
 * rulebase ─▶ Check ─▶ Names, UsedValues ─▶ axes (PlaceAxis, TimeAxis, …) ─▶ Space (atoms)
 *                                                                        │
 *              CompiledRulebase ◀─ BoxIndex, PairIndex ◀─ MatchCompiler ◀┘
 *                     │
 * old + edit ─▶ CompiledEdit (RuleAlignment ─▶ Refinement ─▶ Rearrangement) ─▶ next
 * </pre>
 */
package ironsieve.compile;
