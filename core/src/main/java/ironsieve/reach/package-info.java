/**
 * In: a compiled rulebase, people and applications. Out: who can use what, by which rule, and on
 * what it depends. May import {@code compile}, {@code model} and {@code region}.
 */
package ironsieve.reach;
