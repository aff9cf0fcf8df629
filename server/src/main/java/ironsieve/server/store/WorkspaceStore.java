package ironsieve.server.store;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.WorkspaceContents;
import ironsieve.files.WorkspaceKind;
import ironsieve.server.change.Change;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/** What all rulebases are read against, and its journal, in the database. */
@ApplicationScoped
public class WorkspaceStore {

  /** The word for a change of which rulebases there are. */
  public static final String RULEBASE = "rulebase";

  /** More changes than this are not read one by one. */
  private static final int MOST_FOLLOWED = 200;

  @Inject Sql sql;
  @Inject ObjectMapper json;

  /**
   * Which rulebase there is, as the journal keeps it.
   *
   * @param standing {@code active}, {@code archived} or {@code removed}
   */
  public record RulebaseDoc(String name, String standing) {}

  /** Every record. One that is not what should stand there is left out. */
  public WorkspaceContents contents(Sql.Transaction tx) throws SQLException {
    WorkspaceContents contents = WorkspaceContents.empty();
    tx.rows("select kind, id, doc from workspace_record", row -> read(row, contents));
    return contents;
  }

  private boolean read(ResultSet row, WorkspaceContents contents) throws SQLException {
    Optional<WorkspaceKind> kind = WorkspaceKind.ofWord(row.getString("kind"));
    if (kind.isEmpty()) {
      return false;
    }
    try {
      Object doc = sql.document(row, "doc", kind.get().type());
      if (doc != null && row.getString("id").equals(kind.get().id(doc))) {
        contents.put(kind.get(), doc);
        return true;
      }
    } catch (Sql.UnreadableDocumentException e) {
      // A version of this that wrote something else; what is left out is named where it is used.
    }
    return false;
  }

  private JsonNode tree(Object doc) {
    return doc == null ? null : json.valueToTree(doc);
  }

  private static boolean isNothing(JsonNode doc) {
    return doc == null || doc.isNull();
  }

  /** Writes some changes; the journal is written with {@link #enter}. */
  public void write(Sql.Transaction tx, List<Change> changes) throws SQLException {
    List<Object[]> gone = new ArrayList<>();
    List<Object[]> set = new ArrayList<>();
    for (Change change : changes) {
      if (change.kind().equals(RULEBASE)) {
        rulebase(tx, change);
      } else if (isNothing(change.after())) {
        gone.add(new Object[] {change.kind(), change.id()});
      } else {
        set.add(new Object[] {change.kind(), change.id(), sql.json(change.after())});
      }
    }
    tx.changeAll("delete from workspace_record where kind = ? and id = ?", gone);
    // The password of a source goes with it, and does not come back with it.
    for (Object[] one : gone) {
      if (one[0].equals(WorkspaceKind.SOURCE.word())) {
        tx.change(
            "update source_state set password = '', password_for = '' where name = ?", one[1]);
      }
    }
    tx.changeAll(
        "insert into workspace_record (kind, id, doc) values (?, ?, ?::jsonb)"
            + " on conflict (kind, id) do update set doc = excluded.doc",
        set);
  }

  /**
   * A rulebase that was not there before was made beside this; taken back, it counts as removed.
   */
  private void rulebase(Sql.Transaction tx, Change change) throws SQLException {
    if (isNothing(change.after())) {
      tx.change("update rulebase set standing = 'removed' where id = ?", change.id());
    } else {
      RulebaseDoc after = json.convertValue(change.after(), RulebaseDoc.class);
      tx.change(
          "update rulebase set name = ?, standing = ? where id = ?",
          after.name(),
          after.standing(),
          change.id());
    }
  }

  /** The change that makes a rulebase stand as it is said. */
  public Change rulebaseChange(String id, RulebaseDoc before, RulebaseDoc after) {
    return new Change(RULEBASE, id, tree(before), tree(after));
  }

  /** How a rulebase stands; nothing if there never was one of that id. */
  public Optional<RulebaseDoc> rulebase(Sql.Transaction tx, String id) throws SQLException {
    return tx.row(
        "select name, standing from rulebase where id = ?",
        row -> new RulebaseDoc(row.getString("name"), row.getString("standing")),
        id);
  }

  /** Adds a change to the journal; its number and time are given by the database. */
  public void enter(Sql.Transaction tx, WorkspaceEntry entry) throws SQLException {
    tx.change(
        "insert into workspace_journal (version, who, reason, what, action, target, changes)"
            + " values (?, ?, ?, ?, ?, ?, ?::jsonb)",
        entry.version(),
        entry.who(),
        entry.reason(),
        entry.what(),
        entry.action(),
        entry.target(),
        sql.json(entry.changes()));
  }

  private static final String HEADS =
      "select number, version, at, who, reason, what, action, target from workspace_journal ";

  /** What an editor can take back and make again of the workspace. */
  public Undoable undoable(Sql.Transaction tx, String who) throws SQLException {
    return UndoQuery.OF_WORKSPACE.ask(tx, WorkspaceStore::head, who);
  }

  /** The newest changes, newest first, without what was changed. */
  public List<WorkspaceEntry> newest(int most) {
    return sql.inTransaction(
        tx -> tx.rows(HEADS + "order by number desc limit ?", WorkspaceStore::head, most));
  }

  /** What was changed since a version, oldest first, without what was changed. */
  public List<WorkspaceEntry> since(long version, int most) {
    return sql.inTransaction(
        tx ->
            tx.rows(
                HEADS + "where version > ? order by number limit ?",
                WorkspaceStore::head,
                version,
                most));
  }

  /**
   * Whether everything that could be named at one version can still be named at a later one: since
   * then records were only added, or changed without another name. Whatever was worked out at the
   * older version holds at the newer one too. False where the journal cannot tell.
   */
  public boolean stillNames(Sql.Transaction tx, long older, long newer) throws SQLException {
    if (newer == older || newer - older > MOST_FOLLOWED) {
      return newer == older;
    }
    List<Change[]> entries =
        tx.rows(
            "select changes from workspace_journal where version > ? and version <= ?",
            row -> sql.document(row, "changes", Change[].class),
            older,
            newer);
    // Of an edition or an application the features may be others; these are not looked into.
    return newer - older == entries.size()
        && entries.stream()
            .flatMap(Stream::of)
            .noneMatch(
                change ->
                    isNothing(change.after())
                        || change.kind().equals(Change.NAME)
                        || change.kind().equals(WorkspaceKind.EDITION.word())
                        || change.kind().equals(WorkspaceKind.APPLICATION.word()));
  }

  /** All changes, oldest first, with what was changed. */
  List<WorkspaceEntry> all(Sql.Transaction tx) throws SQLException {
    return tx.rows(
        "select * from workspace_journal order by number",
        row -> {
          WorkspaceEntry head = head(row);
          return new WorkspaceEntry(
              head.number(),
              head.version(),
              head.at(),
              head.who(),
              head.reason(),
              head.what(),
              head.action(),
              head.target(),
              List.of(sql.document(row, "changes", Change[].class)));
        });
  }

  /** What a change changed. */
  public List<Change> changes(long number) {
    return sql.inTransaction(
        tx ->
            tx.row(
                    "select changes from workspace_journal where number = ?",
                    row -> List.of(sql.document(row, "changes", Change[].class)),
                    number)
                .orElseThrow());
  }

  private static WorkspaceEntry head(ResultSet row) throws SQLException {
    long target = row.getLong("target");
    return new WorkspaceEntry(
        row.getLong("number"),
        row.getLong("version"),
        row.getTimestamp("at").toInstant(),
        row.getString("who"),
        row.getString("reason"),
        row.getString("what"),
        row.getString("action"),
        target == 0 ? null : target,
        List.of());
  }
}
