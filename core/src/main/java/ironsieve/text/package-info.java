/**
 * The readable forms: of values, fields, times, rules and probes. In: text. Out: the nouns of
 * {@code model}, and back. May import {@code model} and {@code region}.
 *
 * <pre>
 * file ─▶ SourceText ─▶ FileItems ─▶ RulebaseReader, PartsReader ─▶ Rulebase ─▶ RulebaseWriter ─▶ file
 * value ─▶ ValueText ─▶ NetworkText · ServiceText · TimeText · FilterText · HostText
 * probe ─▶ ProbeReader ─▶ ProbeFiller ─▶ connection;  sentence ─▶ QuickRuleReader ─▶ rule
 *          both by SentencePart, with SentenceScanner, in the names of NameIndex
 * </pre>
 */
package ironsieve.text;
