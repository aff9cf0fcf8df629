/**
 * The nouns: rulebase, chapter, rule, named set, directory, catalogue, connection. Immutable
 * records without behaviour beyond their own consistency. Imports {@code region} for addresses and
 * ranges.
 *
 * <pre>
 * Rulebase ─▶ Chapter ─▶ Rule ─▶ Match (Field ─▶ Value) · Then (Outcome, Logging) · RuleMetadata
 *         └─▶ Parts: NamedSet · UsageSheet · Notice · Lane · DecryptionRule
 * Environment: zones, Directory, Catalogue (Application), Atlas, today
 * </pre>
 */
package ironsieve.model;
