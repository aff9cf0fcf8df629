/**
 * Where some of the workspace is kept current from. In: what {@link
 * ironsieve.files.Documents.SourceDoc} says. Out: changes of the workspace, at once or after
 * somebody has looked at them.
 *
 * <pre>
 * SourceTimer ─▶ Sources ─▶ WebFeed · EditionIndex · LdapDirectory · NameResolver ─▶ Brought
 *                   │                                                                   │
 *              SourceStore (what came, what waits) ◀────────── Adoption ◀───────────────┘
 *                                                                  └▶ edit.WorkspaceEditor
 * </pre>
 */
package ironsieve.server.sources;
