package ironsieve.server.store;

import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;

/**
 * Finds what an editor can take back in a journal: from its newest end, so that it takes the same
 * however long the journal is.
 */
final class UndoQuery {

  /** The newest edit that was not taken back, or was made again since. */
  private static final String DONE =
      """
      select {columns} from {table} e
      where {e}e.who = ? and e.action = 'edit'
        and coalesce((select t.action from {table} t where {t=e}t.target = e.{number}
            order by t.{number} desc limit 1), 'redo') = 'redo'
      order by e.{number} desc limit 1
      """;

  /** The edit that was taken back last since the last edit, and not made again. */
  private static final String UNDONE =
      """
      select {columns}, u.at as undone_at
      from {table} u join {table} e on {u=e}e.{number} = u.target
      where {u}u.who = ? and u.action = 'undo'
        and not exists (select from {table} t where {t=u}t.target = u.target and t.{number} > u.{number})
        and u.{number} > coalesce((select e.{number} from {table} e where {e}e.who = ? and e.action = 'edit'
            order by e.{number} desc limit 1), -1)
      order by u.{number} desc limit 1
      """;

  private static final String EDITED =
      """
      select e.at from {table} e where {e}e.who = ? and e.action = 'edit'
      order by e.{number} desc limit 1
      """;

  /** In the journals of rulebases, without what was changed: an edit may have ten thousand. */
  static final UndoQuery OF_RULEBASE =
      new UndoQuery(
          "journal",
          "revision",
          "e.revision, e.at, e.who, e.reason, e.what, e.action, e.target, '[]'::jsonb as changes",
          true);

  /** In the journal of the workspace. */
  static final UndoQuery OF_WORKSPACE =
      new UndoQuery(
          "workspace_journal",
          "number",
          "e.number, e.version, e.at, e.who, e.reason, e.what, e.action, e.target",
          false);

  private final String done;
  private final String undone;
  private final String edited;

  private UndoQuery(String table, String number, String columns, boolean isOfRulebases) {
    UnaryOperator<String> filled =
        query ->
            query
                .replace("{table}", table)
                .replace("{number}", number)
                .replace("{columns}", columns)
                .replaceAll("\\{(.)=(.)\\}", isOfRulebases ? "$1.rulebase = $2.rulebase and " : "")
                .replaceAll("\\{(.)\\}", isOfRulebases ? "$1.rulebase = ? and " : "");
    done = filled.apply(DONE);
    undone = filled.apply(UNDONE);
    edited = filled.apply(EDITED);
  }

  private record Undone(Done edit, Instant at) {}

  /**
   * What an editor can take back.
   *
   * @param whose the rulebase, of a journal of rulebases, and then the editor
   */
  Undoable ask(Sql.Transaction tx, Sql.Row<? extends Done> reader, String... whose)
      throws SQLException {
    List<Object> twice = new ArrayList<>(List.of(whose));
    twice.addAll(List.of(whose));
    Optional<Done> standing = tx.row(done, reader::read, (Object[]) whose);
    Optional<Undone> back =
        tx.row(
            undone,
            row -> new Undone(reader.read(row), row.getTimestamp("undone_at").toInstant()),
            twice.toArray());
    Optional<Instant> last =
        tx.row(edited, row -> row.getTimestamp(1).toInstant(), (Object[]) whose);
    return new Undoable(
        standing, back.map(Undone::edit), back.map(Undone::at).orElse(null), last.orElse(null));
  }
}
