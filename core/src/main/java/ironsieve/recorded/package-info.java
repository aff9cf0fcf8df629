/**
 * In: recorded traffic and a compiled rulebase. Out: what the rulebase does with each recorded
 * connection, what of that an edit changes, and how often each rule is hit. Made for tens of
 * millions of connections: they lie in columns of numbers, and what is asked of all of them is
 * asked of columns. May import {@code compile}, {@code model}, {@code progress} and {@code region}.
 *
 * <pre>
 * connections ─▶ ColumnsBuilder ─▶ TapeColumns (Values, Conversations, LineBlocks)
 * TapeColumns + Space ─▶ Located: the atom of each value ─▶ first boxes, many at once
 *   ─▶ RecordedDecisions: one code a line ─▶ Hits
 * RecordedDecisions + CompiledEdit ─▶ only lines in claims that changed are decided again
 * </pre>
 */
package ironsieve.recorded;
