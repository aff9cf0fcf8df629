package ironsieve.server;

import ironsieve.server.demo.DemoLoader;
import ironsieve.server.store.Sql;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;

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
          tx.change(
              "truncate workspace_record, workspace_journal, application, rulebase, source_state cascade");
          return tx.change("update workspace set version = version + 1, records = records + 1");
        });
  }
}
