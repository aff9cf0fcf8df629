/**
 * The nouns: rulebase, chapter, rule, named set, directory, catalogue, connection. Immutable
 * records without behaviour beyond their own consistency. Imports {@code region} for addresses and
 * ranges.
 */
package ironsieve.model;
