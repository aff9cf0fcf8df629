package ironsieve.server.store;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.server.store.Documents.ChapterDoc;
import ironsieve.server.store.Documents.PromiseDoc;
import ironsieve.server.store.Documents.RuleDoc;
import ironsieve.server.store.Documents.SetDoc;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Function;

/** Rulebases and their journals in the database. */
@ApplicationScoped
public class RulebaseStore {

  private static final String LAST_LINE = "last line";
  private static final Map<String, String> TABLES =
      Map.of("rule", "rule", "chapter", "chapter", "set", "named_set", "promise", "promise");

  @Inject Sql sql;
  @Inject ObjectMapper json;

  /** A rulebase's row. */
  public record Head(String id, String name, String lastLine, long revision, int rules) {}

  /** All rulebases. */
  public List<Head> heads() {
    return sql.inTransaction(
        tx ->
            tx.rows(
                "select b.*, (select count(*) from rule r where r.rulebase = b.id) as rules"
                    + " from rulebase b order by b.id",
                RulebaseStore::head));
  }

  private static Head head(ResultSet row) throws SQLException {
    return new Head(
        row.getString("id"),
        row.getString("name"),
        row.getString("last_line"),
        row.getLong("revision"),
        row.getInt("rules"));
  }

  /** The revision a rulebase is at now, or nothing if there is no such rulebase. */
  public Optional<Long> revision(String id) {
    return sql.inTransaction(
        tx -> tx.row("select revision from rulebase where id = ?", row -> row.getLong(1), id));
  }

  /**
   * Locks a rulebase's row until the transaction ends, so that edits come one after the other.
   *
   * @return its revision
   */
  public long lock(Sql.Transaction tx, String id) throws SQLException {
    return tx.row(
            "select revision from rulebase where id = ? for update", row -> row.getLong(1), id)
        .orElseThrow();
  }

  /** All records of a rulebase. */
  public Contents contents(Sql.Transaction tx, String id) throws SQLException {
    Head head =
        tx.row("select b.*, 0 as rules from rulebase b where id = ?", RulebaseStore::head, id)
            .orElseThrow();
    return new Contents(
        new Contents.Title(id, head.name(), head.lastLine()),
        records(tx, "chapter", id, ChapterDoc.class, ChapterDoc::id),
        records(tx, "rule", id, RuleDoc.class, RuleDoc::id),
        records(tx, "set", id, SetDoc.class, SetDoc::id),
        records(tx, "promise", id, PromiseDoc.class, PromiseDoc::id));
  }

  private <T> Map<String, T> records(
      Sql.Transaction tx, String kind, String rulebase, Class<T> type, Function<T, String> key)
      throws SQLException {
    Map<String, T> all = new LinkedHashMap<>();
    tx.rows(
            "select doc from " + TABLES.get(kind) + " where rulebase = ?",
            row -> sql.document(row, "doc", type),
            rulebase)
        .forEach(doc -> all.put(key.apply(doc), doc));
    return all;
  }

  /** Makes a new rulebase at revision 0, without a journal. */
  public void create(Sql.Transaction tx, Contents contents) throws SQLException {
    tx.change(
        "insert into rulebase (id, name, last_line) values (?, ?, ?)",
        contents.id(),
        contents.name(),
        contents.lastLine());
    insertAll(tx, contents.id(), "chapter", contents.chapters());
    insertAll(tx, contents.id(), "rule", contents.rules());
    insertAll(tx, contents.id(), "set", contents.sets());
    insertAll(tx, contents.id(), "promise", contents.promises());
  }

  private void insertAll(Sql.Transaction tx, String rulebase, String kind, Map<String, ?> records)
      throws SQLException {
    tx.changeAll(
        "insert into " + TABLES.get(kind) + " (rulebase, id, doc) values (?, ?, ?::jsonb)",
        records.entrySet().stream()
            .map(entry -> new Object[] {rulebase, entry.getKey(), sql.json(entry.getValue())})
            .toList());
  }

  /** Writes an edit's changes, its journal entry and the new revision together. */
  public void write(Sql.Transaction tx, String rulebase, JournalEntry entry) throws SQLException {
    for (Change change : entry.changes()) {
      write(tx, rulebase, change);
    }
    tx.change("update rulebase set revision = ? where id = ?", entry.revision(), rulebase);
    tx.change(
        "insert into journal (rulebase, revision, who, what, action, target, changes)"
            + " values (?, ?, ?, ?, ?, ?, ?::jsonb)",
        rulebase,
        entry.revision(),
        entry.who(),
        entry.what(),
        entry.action(),
        entry.target(),
        sql.json(entry.changes()));
  }

  private void write(Sql.Transaction tx, String rulebase, Change change) throws SQLException {
    if (change.kind().equals(LAST_LINE)) {
      tx.change(
          "update rulebase set last_line = ? where id = ?", change.after().asText(), rulebase);
      return;
    }
    String table = TABLES.get(change.kind());
    if (change.after() == null || change.after().isNull()) {
      tx.change("delete from " + table + " where rulebase = ? and id = ?", rulebase, change.id());
      return;
    }
    tx.change(
        "insert into "
            + table
            + " (rulebase, id, doc) values (?, ?, ?::jsonb)"
            + " on conflict (rulebase, id) do update set doc = excluded.doc",
        rulebase,
        change.id(),
        change.after().toString());
  }

  /** The journal after a revision, oldest first. */
  public List<JournalEntry> journalSince(Sql.Transaction tx, String rulebase, long revision)
      throws SQLException {
    return tx.rows(
        "select * from journal where rulebase = ? and revision > ? order by revision",
        this::entry,
        rulebase,
        revision);
  }

  /** The newest entries of the journal, newest first. */
  public List<JournalEntry> newest(String rulebase, int most) {
    return sql.inTransaction(
        tx ->
            tx.rows(
                "select * from journal where rulebase = ? order by revision desc limit ?",
                this::entry,
                rulebase,
                most));
  }

  /** All entries by one editor, oldest first. */
  public List<JournalEntry> byEditor(Sql.Transaction tx, String rulebase, String who)
      throws SQLException {
    return tx.rows(
        "select * from journal where rulebase = ? and who = ? order by revision",
        this::entry,
        rulebase,
        who);
  }

  private JournalEntry entry(ResultSet row) throws SQLException {
    long target = row.getLong("target");
    Long undone = row.wasNull() ? null : target;
    return new JournalEntry(
        row.getLong("revision"),
        row.getTimestamp("at").toInstant(),
        row.getString("who"),
        row.getString("what"),
        row.getString("action"),
        undone,
        Arrays.asList(sql.read(row.getString("changes"), Change[].class)));
  }

  /** The changes that lead from one state of a rulebase to another. */
  public List<Change> between(Contents before, Contents after) {
    List<Change> changes = new java.util.ArrayList<>();
    compare(changes, "chapter", before.chapters(), after.chapters());
    compare(changes, "rule", before.rules(), after.rules());
    compare(changes, "set", before.sets(), after.sets());
    compare(changes, "promise", before.promises(), after.promises());
    if (!before.lastLine().equals(after.lastLine())) {
      changes.add(
          new Change(
              LAST_LINE,
              LAST_LINE,
              json.valueToTree(before.lastLine()),
              json.valueToTree(after.lastLine())));
    }
    return changes;
  }

  private void compare(
      List<Change> changes, String kind, Map<String, ?> before, Map<String, ?> after) {
    before.forEach(
        (id, doc) -> {
          if (!doc.equals(after.get(id))) {
            changes.add(new Change(kind, id, tree(doc), tree(after.get(id))));
          }
        });
    after.forEach(
        (id, doc) -> {
          if (!before.containsKey(id)) {
            changes.add(new Change(kind, id, null, tree(doc)));
          }
        });
  }

  private JsonNode tree(Object doc) {
    return doc == null ? null : json.valueToTree(doc);
  }

  /**
   * Contents with changes applied.
   *
   * @throws IllegalStateException naming the record, if one is no longer as it was before the
   *     change
   */
  public Contents apply(Contents contents, List<Change> changes) {
    Contents next = contents.copy();
    for (Change change : changes) {
      if (!Objects.equals(current(next, change), typed(change.kind(), change.before()))) {
        throw new IllegalStateException(change.kind() + " " + change.id());
      }
      switch (change.kind()) {
        case "rule" -> put(next.rules(), change, RuleDoc.class);
        case "chapter" -> put(next.chapters(), change, ChapterDoc.class);
        case "set" -> put(next.sets(), change, SetDoc.class);
        case "promise" -> put(next.promises(), change, PromiseDoc.class);
        default -> next = next.withLastLine(change.after().asText());
      }
    }
    return next;
  }

  private static Object current(Contents contents, Change change) {
    return switch (change.kind()) {
      case "rule" -> contents.rules().get(change.id());
      case "chapter" -> contents.chapters().get(change.id());
      case "set" -> contents.sets().get(change.id());
      case "promise" -> contents.promises().get(change.id());
      default -> contents.lastLine();
    };
  }

  /** The record in a journal's JSON, whose keys the database may have put in another order. */
  private Object typed(String kind, JsonNode doc) {
    if (doc == null || doc.isNull()) {
      return null;
    }
    return switch (kind) {
      case "rule" -> json.convertValue(doc, RuleDoc.class);
      case "chapter" -> json.convertValue(doc, ChapterDoc.class);
      case "set" -> json.convertValue(doc, SetDoc.class);
      case "promise" -> json.convertValue(doc, PromiseDoc.class);
      default -> doc.asText();
    };
  }

  private <T> void put(Map<String, T> records, Change change, Class<T> type) {
    if (change.after() == null || change.after().isNull()) {
      records.remove(change.id());
    } else {
      records.put(change.id(), json.convertValue(change.after(), type));
    }
  }
}
