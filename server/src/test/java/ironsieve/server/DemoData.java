package ironsieve.server;

import ironsieve.server.demo.DemoFiles;
import ironsieve.server.demo.DemoLoader;
import ironsieve.server.store.CompanyLoader;
import ironsieve.server.store.Sql;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/**
 * Puts the database back to the demo company, as every test that edits wants to find it. It is read
 * from its files once; from then on the database copies what came of them.
 */
@ApplicationScoped
public class DemoData {

  /** What others refer to, before what refers to it. */
  private static final String TABLES =
      "select table_name from information_schema.tables where table_schema = 'public'"
          + " and table_name not in ('flyway_schema_history', 'workspace')"
          + " order by table_name = 'rulebase' desc, table_name = 'tape' desc, table_name";

  @Inject Sql sql;
  @Inject DemoLoader loader;
  @Inject DemoFiles files;
  @Inject CompanyLoader companies;
  private List<String> copied = List.of();

  /** What all tables said when the demo was restored last. */
  private String restored = "";

  /**
   * Leaves the demo company and nothing else. Where nobody has written anything since it was left
   * so, nothing is done, and what is worked out of it need not be worked out again.
   */
  public synchronized void restore() {
    if (!restored.isEmpty() && sql.inTransaction(DemoData::print).equals(restored)) {
      return;
    }
    load();
    restored = sql.inTransaction(DemoData::print);
  }

  /** How many rows each table has and which transaction wrote last to it. */
  private static String print(Sql.Transaction tx) throws SQLException {
    StringBuilder print = new StringBuilder();
    for (String table : tx.rows(TABLES, row -> row.getString(1))) {
      print.append(
          tx.row(
                  "select count(*) || ' ' || coalesce(max(xmin::text::bigint), 0) from " + table,
                  row -> row.getString(1))
              .orElseThrow());
      print.append(' ').append(table).append('\n');
    }
    return print
        + tx.row("select version || ' ' || records from workspace", row -> row.getString(1))
            .orElseThrow();
  }

  private void load() {
    if (copied.isEmpty()) {
      clear();
      loader.loadIfEmpty();
      copied = sql.inTransaction(DemoData::copy);
      return;
    }
    sql.inTransaction(
        tx -> {
          empty(tx);
          for (String table : copied) {
            tx.change(
                "insert into "
                    + table
                    + " overriding system value select * from demo_as_loaded."
                    + table);
          }
          return changed(tx);
        });
  }

  /** Leaves the demo company with the years in which it grew, and nothing else. */
  public void restoreWithHistory() {
    clear();
    companies.loadIfEmpty(files.folderWithHistory(), "the demo");
  }

  /** The tables in which something is. */
  private static List<String> copy(Sql.Transaction tx) throws SQLException {
    tx.change("drop schema if exists demo_as_loaded cascade");
    tx.change("create schema demo_as_loaded");
    List<String> copied = new ArrayList<>();
    for (String table : tx.rows(TABLES, row -> row.getString(1))) {
      if (tx.change("create table demo_as_loaded." + table + " as select * from " + table) > 0) {
        copied.add(table);
      }
    }
    return copied;
  }

  /** Leaves nothing at all, as a new server begins. */
  public void clear() {
    sql.inTransaction(
        tx -> {
          empty(tx);
          return changed(tx);
        });
  }

  private static void empty(Sql.Transaction tx) throws SQLException {
    // A page of the test before may still be read or edited: rows are locked in the order in which
    // edits lock them, and no table as a whole, which readers would wait for in a ring.
    tx.row("select version from workspace for update", row -> row.getLong(1));
    for (String table :
        List.of(
            "rulebase",
            "workspace_record",
            "workspace_journal",
            "application",
            "source_state",
            "release",
            "gateway")) {
      tx.change("delete from " + table);
    }
  }

  private static int changed(Sql.Transaction tx) throws SQLException {
    return tx.change("update workspace set version = version + 1, records = records + 1");
  }
}
