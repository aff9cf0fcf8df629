package ironsieve.server.store;

import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.Contents;
import ironsieve.files.Documents.RatesDoc;
import ironsieve.files.FaultException;
import ironsieve.files.RecordKind;
import ironsieve.server.change.Change;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Rulebases and their journals in the database. */
@ApplicationScoped
public class RulebaseStore {

  private static final Map<RecordKind, String> TABLES =
      Map.of(
          RecordKind.CHAPTER, "chapter",
          RecordKind.RULE, "rule",
          RecordKind.SET, "named_set",
          RecordKind.SHEET, "sheet",
          RecordKind.NOTICE, "notice",
          RecordKind.LANE, "lane",
          RecordKind.DECRYPTION_RULE, "decryption_rule",
          RecordKind.PROMISE, "promise",
          RecordKind.ACCEPTED, "accepted");

  @Inject Sql sql;
  @Inject ObjectMapper json;
  @Inject Company company;

  /** A rulebase's row. */
  public record Head(
      String id, String name, String defaultVerdict, String standing, State state, int rules) {}

  /** All rulebases that were not removed. */
  public List<Head> heads() {
    return all().stream().filter(head -> !head.standing().equals(REMOVED)).toList();
  }

  /** The same as a transaction sees them. */
  public List<Head> heads(Sql.Transaction tx) throws SQLException {
    return all(tx).stream().filter(head -> !head.standing().equals(REMOVED)).toList();
  }

  /** All rulebases, removed ones too, which can be brought back. */
  public List<Head> all() {
    return sql.inTransaction(this::all);
  }

  private List<Head> all(Sql.Transaction tx) throws SQLException {
    return tx.rows(
        "select b.*, w.version, (select count(*) from rule r where r.rulebase = b.id) as rules"
            + " from rulebase b, workspace w order by b.id",
        this::head);
  }

  private Head head(ResultSet row) throws SQLException {
    return new Head(
        row.getString("id"),
        row.getString("name"),
        row.getString("default_verdict"),
        row.getString("standing"),
        state(row),
        row.getInt("rules"));
  }

  /** The word for a rulebase that can only be brought back. */
  public static final String REMOVED = "removed";

  private static final String FAR =
      "select b.revision, b.tapes, b.steps, b.standing, w.version from rulebase b, workspace w"
          + " where b.id = ? and b.standing <> 'removed'";

  private State state(ResultSet row) throws SQLException {
    return new State(
        row.getLong("revision"),
        row.getLong("version"),
        row.getLong("tapes"),
        row.getInt("steps"),
        company.today());
  }

  /** Sets what each question of a rulebase's reviews may take. */
  public void allow(String id, int steps) {
    sql.inTransaction(tx -> tx.change("update rulebase set steps = ? where id = ?", steps, id));
  }

  /** How far a rulebase is now, or nothing if there is no such rulebase. */
  public Optional<State> state(String id) {
    return sql.inTransaction(tx -> state(tx, id));
  }

  /** How far a rulebase is in a transaction. */
  public Optional<State> state(Sql.Transaction tx, String id) throws SQLException {
    return tx.row(FAR, this::state, id);
  }

  /**
   * Locks a rulebase's row and the workspace until the transaction ends, so that edits come one
   * after the other and none comes beside a change of what it was checked against.
   *
   * @return how far it is; nothing if it is gone
   */
  public Optional<State> lock(Sql.Transaction tx, String id) throws SQLException {
    Company.lockForReading(tx);
    Optional<String> standing =
        tx.row("select standing from rulebase where id = ?", row -> row.getString(1), id);
    if (standing.filter("archived"::equals).isPresent()) {
      throw new FaultException(
          "rulebase " + id, "", "it is retired; bring it back before you edit it");
    }
    return tx.row(FAR + " for update of b", this::state, id);
  }

  /** Locks a rulebase's row in a change of the workspace, however it stands; its revision. */
  public long lockWhatever(Sql.Transaction tx, String id) throws SQLException {
    return tx.row(
            "select revision from rulebase where id = ? for update", row -> row.getLong(1), id)
        .orElseThrow();
  }

  /** All records of a rulebase. */
  public Contents contents(Sql.Transaction tx, String id) throws SQLException {
    Contents contents =
        Contents.empty(
            tx.row("select * from rulebase where id = ?", this::title, id).orElseThrow());
    for (RecordKind kind : RecordKind.values()) {
      tx.rows(
              "select id, doc from "
                  + TABLES.get(kind)
                  + " where rulebase = ? order by case when doc->>'position' ~ '^-?[0-9.]+$'"
                  + " then (doc->>'position')::numeric end, id",
              row -> record(kind, row),
              id)
          .forEach(doc -> contents.put(kind, doc));
    }
    contents.adoptOrphans();
    return contents;
  }

  /** A record; one that is not what should stand there becomes one that says so. */
  private Object record(RecordKind kind, ResultSet row) throws SQLException {
    try {
      Object doc = sql.document(row, "doc", kind.type());
      if (doc != null && row.getString("id").equals(kind.id(doc))) {
        return doc;
      }
    } catch (Sql.UnreadableDocumentException e) {
      // Told below, like one that has lost its name.
    }
    return kind.unreadable(row.getString("id"), row.getString("doc"));
  }

  private Contents.Title title(ResultSet row) throws SQLException {
    String capacity = row.getString("capacity");
    return new Contents.Title(
        row.getString("id"),
        row.getString("name"),
        row.getString("default_verdict"),
        capacity == null ? null : sql.read(capacity, RatesDoc.class));
  }

  /** Makes a new rulebase at revision 0, without a journal. */
  public void create(Sql.Transaction tx, Contents contents) throws SQLException {
    tx.change(
        "insert into rulebase (id, name, default_verdict, capacity) values (?, ?, ?, ?::jsonb)",
        contents.id(),
        contents.name(),
        contents.defaultVerdict(),
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
        "insert into journal (rulebase, revision, who, reason, what, action, target, changes)"
            + " values (?, ?, ?, ?, ?, ?, ?, ?::jsonb)",
        rulebase,
        entry.revision(),
        entry.who(),
        entry.reason(),
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
          "update rulebase set default_verdict = ?, capacity = ?::jsonb where id = ?",
          title.defaultVerdict(),
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

  /** As many records of an entry are named where nobody needs what became of them. */
  private static final int MOST_NAMED = 100;

  /** An entry with the kinds and ids of some of its records only: an edit may have ten thousand. */
  private static final String HEAD =
      "select revision, at, who, reason, what, action, target, (select coalesce(jsonb_agg(named), '[]') from"
          + " (select jsonb_build_object('kind', c->'kind', 'id', c->'id') as named"
          + " from jsonb_array_elements(changes) c limit "
          + MOST_NAMED
          + ") few) as changes from journal where rulebase = ?";

  /** What follows a revision up to another, oldest first, with all that it changed. */
  public List<JournalEntry> journalBetween(
      Sql.Transaction tx, String rulebase, long revision, long last) throws SQLException {
    return tx.rows(
        "select * from journal where rulebase = ? and revision > ? and revision <= ?"
            + " order by revision",
        this::entry,
        rulebase,
        revision,
        last);
  }

  /** The newest few entries after a revision, oldest first, in short. */
  public List<JournalEntry> headsSince(String rulebase, long revision, int most) {
    List<JournalEntry> newest =
        sql.inTransaction(
            tx ->
                tx.rows(
                    HEAD + " and revision > ? order by revision desc limit ?",
                    this::entry,
                    rulebase,
                    revision,
                    most));
    List<JournalEntry> oldest = new ArrayList<>(newest);
    Collections.reverse(oldest);
    return oldest;
  }

  /**
   * The newest entries of the journal before a revision, newest first, in short.
   *
   * @param rule only those that changed this rule; nothing for all
   */
  public List<JournalEntry> newest(String rulebase, long before, int most, Optional<String> rule) {
    String wanted =
        sql.json(List.of(Map.of("kind", RecordKind.RULE.word(), "id", rule.orElse(""))));
    return sql.inTransaction(
        tx ->
            tx.rows(
                HEAD
                    + " and revision < ? and (? or changes @> ?::jsonb)"
                    + " order by revision desc limit ?",
                this::entry,
                rulebase,
                before,
                rule.isEmpty(),
                wanted,
                most));
  }

  /** What an editor can take back and make again of a rulebase. */
  public Undoable undoable(Sql.Transaction tx, String rulebase, String who) throws SQLException {
    return UndoQuery.OF_RULEBASE.ask(tx, this::entry, rulebase, who);
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
        row.getString("reason"),
        row.getString("what"),
        row.getString("action"),
        undone,
        Arrays.asList(sql.read(row.getString("changes"), Change[].class)));
  }
}
