package ironsieve.server.store;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.Contents;
import ironsieve.files.Documents.RatesDoc;
import ironsieve.files.RecordKind;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;

/** Rulebases and their journals in the database. */
@ApplicationScoped
public class RulebaseStore {

  private static final String TITLE = "title";
  private static final Map<RecordKind, String> TABLES =
      Map.of(
          RecordKind.CHAPTER, "chapter",
          RecordKind.RULE, "rule",
          RecordKind.SET, "named_set",
          RecordKind.SHEET, "sheet",
          RecordKind.NOTICE, "notice",
          RecordKind.LANE, "lane",
          RecordKind.READING, "reading_line",
          RecordKind.PROMISE, "promise",
          RecordKind.ACCEPTED, "accepted");

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

  /**
   * How far a rulebase is.
   *
   * @param revision after its newest edit
   * @param tapes how often its tapes have changed
   * @param steps what each question of its reviews may take; 0 for as many as usual
   */
  public record Version(long revision, long tapes, int steps) {

    private static Version of(ResultSet row) throws SQLException {
      return new Version(row.getLong("revision"), row.getLong("tapes"), row.getInt("steps"));
    }
  }

  /** Sets what each question of a rulebase's reviews may take. */
  public void allow(String id, int steps) {
    sql.inTransaction(tx -> tx.change("update rulebase set steps = ? where id = ?", steps, id));
  }

  /** How far a rulebase is now, or nothing if there is no such rulebase. */
  public Optional<Version> version(String id) {
    return sql.inTransaction(
        tx -> tx.row("select revision, tapes, steps from rulebase where id = ?", Version::of, id));
  }

  /**
   * Locks a rulebase's row until the transaction ends, so that edits come one after the other.
   *
   * @return how far it is
   */
  public Version lock(Sql.Transaction tx, String id) throws SQLException {
    return tx.row(
            "select revision, tapes, steps from rulebase where id = ? for update", Version::of, id)
        .orElseThrow();
  }

  /** All records of a rulebase. */
  public Contents contents(Sql.Transaction tx, String id) throws SQLException {
    Contents contents =
        Contents.empty(
            tx.row("select * from rulebase where id = ?", this::title, id).orElseThrow());
    for (RecordKind kind : RecordKind.values()) {
      tx.rows(
              "select doc from "
                  + TABLES.get(kind)
                  + " where rulebase = ? order by (doc->>'position')::numeric, id",
              row -> (Object) sql.document(row, "doc", kind.type()),
              id)
          .forEach(doc -> contents.put(kind, doc));
    }
    return contents;
  }

  private Contents.Title title(ResultSet row) throws SQLException {
    String capacity = row.getString("capacity");
    return new Contents.Title(
        row.getString("id"),
        row.getString("name"),
        row.getString("last_line"),
        capacity == null ? null : sql.read(capacity, RatesDoc.class));
  }

  /** Makes a new rulebase at revision 0, without a journal. */
  public void create(Sql.Transaction tx, Contents contents) throws SQLException {
    tx.change(
        "insert into rulebase (id, name, last_line, capacity) values (?, ?, ?, ?::jsonb)",
        contents.id(),
        contents.name(),
        contents.lastLine(),
        contents.title().capacity() == null ? null : sql.json(contents.title().capacity()));
    for (RecordKind kind : RecordKind.values()) {
      insertAll(tx, contents.id(), kind, contents.records().get(kind));
    }
  }

  private void insertAll(
      Sql.Transaction tx, String rulebase, RecordKind kind, Map<String, ?> records)
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
    Optional<RecordKind> kind = RecordKind.ofWord(change.kind());
    if (kind.isEmpty()) {
      Contents.Title title = json.convertValue(change.after(), Contents.Title.class);
      tx.change(
          "update rulebase set last_line = ?, capacity = ?::jsonb where id = ?",
          title.lastLine(),
          title.capacity() == null ? null : sql.json(title.capacity()),
          rulebase);
      return;
    }
    String table = TABLES.get(kind.get());
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

  /** All entries by one editor, oldest first, without what they changed: there may be many. */
  public List<JournalEntry> byEditor(Sql.Transaction tx, String rulebase, String who)
      throws SQLException {
    return tx.rows(
        "select revision, at, who, what, action, target, '[]' as changes from journal"
            + " where rulebase = ? and who = ? order by revision",
        this::entry,
        rulebase,
        who);
  }

  /** What a revision changed. */
  public List<Change> changes(Sql.Transaction tx, String rulebase, long revision)
      throws SQLException {
    return tx.row(
            "select * from journal where rulebase = ? and revision = ?",
            this::entry,
            rulebase,
            revision)
        .orElseThrow()
        .changes();
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
    for (RecordKind kind : RecordKind.values()) {
      compare(changes, kind.word(), before.records().get(kind), after.records().get(kind));
    }
    if (!before.title().equals(after.title())) {
      changes.add(new Change(TITLE, TITLE, tree(before.title()), tree(after.title())));
    }
    return changes;
  }

  /** The rulebase itself as a journal has it; older entries have its last line only. */
  private Contents.Title title(JsonNode doc, Contents.Title now) {
    return doc.isTextual()
        ? new Contents.Title(now.id(), now.name(), doc.asText(), now.capacity())
        : json.convertValue(doc, Contents.Title.class);
  }

  private void compare(
      List<Change> changes, String kind, Map<String, ?> before, Map<String, ?> after) {
    before.forEach(
        (id, doc) -> {
          Object now = after.get(id);
          // Most documents are the very same; the others are compared by what they say.
          if (doc != now && !doc.equals(now)) {
            changes.add(new Change(kind, id, tree(doc), tree(now)));
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
      Optional<RecordKind> kind = RecordKind.ofWord(change.kind());
      if (kind.isEmpty()) {
        if (!next.title().equals(title(change.before(), next.title()))) {
          throw new IllegalStateException(change.kind() + " " + change.id());
        }
        next = next.with(title(change.after(), next.title()));
        continue;
      }
      Object current = next.records().get(kind.get()).get(change.id());
      // The database may have put the keys of a journal's JSON in another order.
      if (!Objects.equals(current, typed(change.before(), kind.get().type()))) {
        throw new IllegalStateException(change.kind() + " " + change.id());
      }
      Object after = typed(change.after(), kind.get().type());
      if (after == null) {
        next.records().get(kind.get()).remove(change.id());
      } else {
        next.put(kind.get(), after);
      }
    }
    return next;
  }

  private Object typed(JsonNode doc, Class<?> type) {
    return doc == null || doc.isNull() ? null : json.convertValue(doc, type);
  }
}
