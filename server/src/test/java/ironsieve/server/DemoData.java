package ironsieve.server;

import ironsieve.server.demo.DemoLoader;
import ironsieve.server.store.Sql;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.util.List;

/** Puts the database back to the demo company, as every test that edits wants to find it. */
@ApplicationScoped
public class DemoData {

  @Inject Sql sql;
  @Inject DemoLoader loader;

  public void restore() {
    clear();
    loader.loadIfEmpty();
  }

  /** Leaves nothing at all, as a new server begins. */
  public void clear() {
    sql.inTransaction(
        tx -> {
          // A page of the test before may still be read or edited: rows are locked in the order in
          // which edits lock them, and no table as a whole, which readers would wait for in a ring.
          tx.row("select version from workspace for update", row -> row.getLong(1));
          for (String table :
              List.of(
                  "rulebase",
                  "workspace_record",
                  "workspace_journal",
                  "application",
                  "source_state")) {
            tx.change("delete from " + table);
          }
          return tx.change("update workspace set version = version + 1, records = records + 1");
        });
  }
}
