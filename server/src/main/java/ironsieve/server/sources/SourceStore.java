package ironsieve.server.sources;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.WorkspaceKind;
import ironsieve.server.store.Sql;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** What is known of each source, in the database. */
@ApplicationScoped
class SourceStore {

  @Inject Sql sql;
  @Inject ObjectMapper json;

  /** What is known of all sources, by their names. */
  Map<String, SourceState> all() {
    Map<String, SourceState> all = new HashMap<>();
    sql.inTransaction(
        tx ->
            tx.rows(
                "select name, state from source_state",
                row -> all.put(row.getString("name"), read(row.getString("state")))));
    return all;
  }

  /** What another version wrote that this one cannot read is as if nobody had looked. */
  private SourceState read(String text) {
    try {
      return sql.read(text, SourceState.class);
    } catch (Sql.UnreadableDocumentException e) {
      return SourceState.NEW;
    }
  }

  /** What is known of one. */
  SourceState state(String name) {
    return sql.inTransaction(
        tx ->
            tx.row(
                    "select state from source_state where name = ?",
                    row -> read(row.getString("state")),
                    name)
                .orElse(SourceState.NEW));
  }

  /** Keeps what is known; what waits stays as it is. */
  void keep(String name, SourceState state) {
    sql.inTransaction(
        tx ->
            tx.change(
                "insert into source_state (name, state) values (?, ?::jsonb)"
                    + " on conflict (name) do update set state = excluded.state",
                name,
                sql.json(state)));
  }

  /**
   * Keeps what is known together with what waits.
   *
   * @param records by their kind; none if nothing waits
   */
  void keep(String name, SourceState state, Map<WorkspaceKind, List<Object>> records) {
    Map<String, List<Object>> byWord = new TreeMap<>();
    records.forEach((kind, docs) -> byWord.put(kind.word(), docs));
    sql.inTransaction(
        tx ->
            tx.change(
                "insert into source_state (name, state, waiting) values (?, ?::jsonb, ?::jsonb) on"
                    + " conflict (name) do update set state = excluded.state, waiting ="
                    + " excluded.waiting",
                name,
                sql.json(state),
                records.isEmpty() ? null : sql.json(byWord)));
  }

  /** What waits, by its kind; nothing if nothing does. */
  Map<WorkspaceKind, List<Object>> waiting(String name) {
    String text =
        sql.inTransaction(
            tx ->
                tx.row(
                        "select waiting from source_state where name = ? and waiting is not null",
                        row -> row.getString(1),
                        name)
                    .orElse("{}"));
    Map<WorkspaceKind, List<Object>> records = new EnumMap<>(WorkspaceKind.class);
    sql.read(text, JsonNode.class)
        .properties()
        .forEach(
            entry ->
                WorkspaceKind.ofWord(entry.getKey())
                    .ifPresent(
                        kind -> {
                          List<Object> docs = new ArrayList<>();
                          entry
                              .getValue()
                              .forEach(doc -> docs.add(json.convertValue(doc, kind.type())));
                          records.put(kind, docs);
                        }));
    return records;
  }

  /** A password, and what it was kept for. */
  record Password(String text, String keptFor) {}

  /** The password that is kept under a source's name, if one is. */
  Optional<Password> password(String name) {
    return sql.inTransaction(
        tx ->
            tx.row(
                "select password, password_for from source_state where name = ? and password <> ''",
                row -> new Password(row.getString(1), row.getString(2)),
                name));
  }

  /** Keeps the password a source asks for. */
  void password(String name, Password password) {
    sql.inTransaction(
        tx ->
            tx.change(
                "insert into source_state (name, state, password, password_for) values (?, ?::jsonb, ?,"
                    + " ?) on conflict (name) do update set password = excluded.password,"
                    + " password_for = excluded.password_for",
                name,
                sql.json(SourceState.NEW),
                password.text(),
                password.keptFor()));
  }

  /** Whether this server may read a source now; none other does until it is released. */
  boolean claim(String name) {
    return sql.inTransaction(
            tx -> {
              tx.change(
                  "insert into source_state (name, state) values (?, ?::jsonb) on conflict (name) do"
                      + " nothing",
                  name,
                  sql.json(SourceState.NEW));
              return tx.change(
                  "update source_state set running_until = now() + interval '10 minutes' where name"
                      + " = ? and (running_until is null or running_until < now())",
                  name);
            })
        == 1;
  }

  void release(String name) {
    sql.inTransaction(
        tx -> tx.change("update source_state set running_until = null where name = ?", name));
  }
}
