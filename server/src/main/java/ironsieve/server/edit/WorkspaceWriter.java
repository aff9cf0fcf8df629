package ironsieve.server.edit;

import ironsieve.files.Renaming;
import ironsieve.progress.Progress;
import ironsieve.server.change.Change;
import ironsieve.server.store.Company;
import ironsieve.server.store.JournalEntry;
import ironsieve.server.store.Sql;
import ironsieve.server.store.WorkspaceEntry;
import ironsieve.server.store.WorkspaceStore;
import ironsieve.server.store.WorkspaceStore.RulebaseDoc;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/**
 * Writes changes of the workspace, each with its journal entry in one short transaction if nobody
 * was quicker.
 */
@ApplicationScoped
public class WorkspaceWriter {

  private static final int MOST_TOLD = 20;

  @Inject Sql sql;
  @Inject WorkspaceStore store;
  @Inject Company company;
  @Inject RenameCascade elsewhere;
  @Inject Clock clock;

  /**
   * What is to be written.
   *
   * @param changes of records of the workspace, and of what else is said to change with them
   * @param renamed what whatever uses it is to follow, as it is when this is written
   */
  record Intended(List<Change> changes, List<Renaming.Renamed> renamed) {

    private boolean isNone() {
      return changes.isEmpty() && renamed.isEmpty();
    }
  }

  /**
   * Writes changes that were worked out on a version.
   *
   * @param action {@code edit}, {@code undo} or {@code redo}
   * @param target the number of the entry that is taken back or made again, if one is
   * @return the version after it
   * @throws StaleRevisionException if that is not the newest
   * @throws NothingToDoException if there are none
   */
  long keep(
      Intended intended,
      Company.WorkspaceVersion before,
      Author author,
      String what,
      String action,
      Long target,
      Progress progress) {
    if (intended.isNone()) {
      throw new NothingToDoException();
    }
    author.demandReason();
    progress.begin("saving", 0);
    long version = before.version();
    long now =
        sql.inTransaction(
            tx -> {
              long newest = company.lockForChange(tx);
              if (newest == version) {
                List<Change> changes = new ArrayList<>(intended.changes());
                changes.addAll(elsewhere.of(tx, intended.renamed(), before.environment()));
                store.write(
                    tx,
                    changes.stream().filter(change -> !RenameCascade.isElsewhere(change)).toList());
                elsewhere.write(tx, changes, before.environment(), author, what, action);
                if (changes.stream().allMatch(one -> one.kind().equals(WorkspaceStore.RULEBASE))) {
                  company.changed(tx);
                } else {
                  company.recordsChanged(tx);
                }
                store.enter(tx, entry(version + 1, author, what, action, target, changes));
              }
              return newest;
            });
    demandNewest(version, now);
    return version + 1;
  }

  /**
   * Demands that nobody was quicker.
   *
   * @throws StaleRevisionException with what has happened since
   */
  void demandNewest(long seen, long newest) {
    if (seen != newest) {
      throw new StaleRevisionException(
          newest,
          store.since(Math.max(0, seen), MOST_TOLD).stream()
              .map(
                  entry ->
                      new JournalEntry(
                          entry.version(),
                          entry.at(),
                          entry.who(),
                          entry.reason(),
                          entry.what(),
                          entry.action(),
                          entry.target(),
                          List.of()))
              .toList());
    }
  }

  /** How a rulebase stands; nothing if there never was one of that id. */
  Optional<RulebaseDoc> rulebase(String id) {
    return sql.inTransaction(tx -> store.rulebase(tx, id));
  }

  /** Makes a rulebase stand as it is said, such as under another name or archived. */
  void rulebase(
      String id,
      RulebaseDoc before,
      RulebaseDoc after,
      Author author,
      String what,
      Progress progress) {
    List<Change> changes =
        before.equals(after) ? List.of() : List.of(store.rulebaseChange(id, before, after));
    keep(new Intended(changes, List.of()), company.newest(), author, what, "edit", null, progress);
  }

  /** Writes a new rulebase's records. */
  interface Creation {
    void write(Sql.Transaction tx, String id) throws SQLException;
  }

  /**
   * Makes a rulebase, with its entry in the journal.
   *
   * @param ids makes its id, other than those that are taken
   * @return its id
   */
  String make(
      Creation creation,
      Function<Set<String>, String> ids,
      String name,
      Author author,
      String what) {
    return sql.inTransaction(
        tx -> {
          long version = company.lockForChange(tx);
          Set<String> taken =
              new HashSet<>(tx.rows("select id from rulebase", row -> row.getString(1)));
          String id = ids.apply(taken);
          creation.write(tx, id);
          company.changed(tx);
          store.enter(
              tx,
              entry(
                  version + 1,
                  author,
                  what,
                  "edit",
                  null,
                  List.of(store.rulebaseChange(id, null, new RulebaseDoc(name, "active")))));
          return id;
        });
  }

  private WorkspaceEntry entry(
      long version, Author author, String what, String action, Long target, List<Change> changes) {
    return new WorkspaceEntry(
        0, version, clock.instant(), author.name(), author.reason(), what, action, target, changes);
  }
}
