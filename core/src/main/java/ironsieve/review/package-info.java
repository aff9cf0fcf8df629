/**
 * In: a compiled rulebase. Out: what is wrong or worth knowing in it, as findings with witnesses,
 * and each rule's residue. May import {@code compile}, {@code model}, {@code region} and {@code
 * text}.
 *
 * <pre>
 * CompiledRulebase ─▶ Claims ─▶ RuleMeasure (what reaches the rule, what is left) ─▶ RuleReview ─▶ findings
 *                                    └─▶ PolicyChecks: OrderMatters · BlindFeature · LeaksFirst · Needs · …
 * findings ─▶ Sentences, Explanations (English) · Remedies ─▶ Edit ─▶ Placement
 * edit ─▶ AffectedRules ─▶ Reviewer reviews only those again; of a broad one ShareMeasure drops
 *         only what KnownBranches does not know
 * </pre>
 */
package ironsieve.review;
