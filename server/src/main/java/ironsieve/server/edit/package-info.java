/**
 * Editing. In: steps an editor took on a revision. Out: a new revision with its journal entry, or a
 * refusal that says what has changed since or which field is wrong. Loses nothing: a refused edit
 * leaves no trace.
 *
 * <pre>
 * steps ─▶ Steps (checked, documents) ─▶ Editor: plan without a lock ─▶ RulebaseStore: lock, check, save
 * revision ─▶ Snapshots (SnapshotCache) ─▶ RulebaseSnapshot: compiled ─▶ reviewed once for all who ask
 * </pre>
 */
package ironsieve.server.edit;
