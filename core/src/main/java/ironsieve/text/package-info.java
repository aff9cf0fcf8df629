/**
 * The readable forms: of values, fields, times, rules and probes. In: text. Out: the nouns of
 * {@code model}, and back. May import {@code model} and {@code region}.
 */
package ironsieve.text;
