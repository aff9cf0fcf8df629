/**
 * In: a compiled rulebase. Out: what is wrong or worth knowing in it, as findings with witnesses,
 * and each rule's residue. May import {@code compile}, {@code model}, {@code region} and {@code
 * text}.
 */
package ironsieve.review;
