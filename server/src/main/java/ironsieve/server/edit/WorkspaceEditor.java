package ironsieve.server.edit;

import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.FaultException;
import ironsieve.files.WorkspaceContents;
import ironsieve.model.Environment;
import ironsieve.progress.Progress;
import ironsieve.server.store.Change;
import ironsieve.server.store.Company;
import ironsieve.server.store.Done;
import ironsieve.server.store.JournalEntry;
import ironsieve.server.store.Sql;
import ironsieve.server.store.WorkspaceEntry;
import ironsieve.server.store.WorkspaceStore;
import ironsieve.server.store.WorkspaceStore.RulebaseDoc;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.sql.SQLException;
import java.time.Clock;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/**
 * Changes what all rulebases are read against: zones, people, devices, lists, applications and the
 * edition in force. A change is worked out on the newest version, without a lock, and written with
 * its journal entry in one short transaction if nobody was quicker. No rulebase says anything else
 * by it; what it names and is gone is told by its review.
 */
@ApplicationScoped
public class WorkspaceEditor {

  private static final int MOST_TOLD = 20;
  private static final int MOST_WHAT = 500;

  @Inject Sql sql;
  @Inject WorkspaceStore store;
  @Inject Company company;
  @Inject ObjectMapper json;
  @Inject Clock clock;

  /** What a change would lead to. */
  public record Planned(Company.Known before, WorkspaceContents after, List<Change> changes) {}

  /**
   * What the workspace would be after some steps; nothing is written.
   *
   * @throws FaultException if a step cannot be taken
   */
  public Planned plan(List<WorkspaceStep> steps) {
    return plan(company.newest(), steps);
  }

  private Planned plan(Company.Known before, List<WorkspaceStep> steps) {
    WorkspaceContents after = before.contents().copy();
    new WorkspaceSteps(after, company.edition(before.contents().edition()), json).take(steps);
    demandEdition(after);
    return new Planned(before, after, store.between(before.contents(), after));
  }

  /** An edition that has an application of one's own name is asked about, not put in its place. */
  private void demandEdition(WorkspaceContents after) {
    int edition = after.edition();
    if (edition == 0) {
      return;
    }
    List<Integer> editions = company.editions();
    if (!editions.contains(edition)) {
      throw new FaultException(
          "edition " + edition, "edition", "there is no such edition; there are " + editions);
    }
    after.applications().stream()
        .filter(own -> company.edition(edition).application(own.name()).isPresent())
        .findFirst()
        .ifPresent(
            own -> {
              throw new FaultException(
                  "edition " + edition,
                  "edition",
                  "it has an application \""
                      + own.name()
                      + "\", and so have you; rename or remove your own first");
            });
  }

  /** What rulebases would be read against after a planned change. */
  public Environment environment(Planned planned) {
    return environment(planned.after());
  }

  private Environment environment(WorkspaceContents contents) {
    return contents.environment(company::edition, company.today());
  }

  /**
   * Takes steps as one change.
   *
   * @param version the version the editor saw
   * @param what a few words for the journal
   * @return the version after it
   * @throws StaleRevisionException if that is not the newest
   * @throws FaultException if a step cannot be taken
   * @throws NothingToDoException if everything is so already
   */
  public long change(
      long version, Author author, String what, List<WorkspaceStep> steps, Progress progress) {
    FaultException.demandName("change", "what", what, MOST_WHAT);
    Company.Known before = company.newest();
    demandNewest(version, before.version());
    progress.begin("checking records", 0);
    Planned planned = plan(before, steps);
    return kept(planned.changes(), before.version(), author, what, "edit", null, progress);
  }

  /**
   * Writes changes that were worked out on a version.
   *
   * @return the version after it
   */
  private long kept(
      List<Change> changes,
      long version,
      Author author,
      String what,
      String action,
      Long target,
      Progress progress) {
    if (changes.isEmpty()) {
      throw new NothingToDoException();
    }
    author.demandReason();
    progress.begin("saving", 0);
    long now =
        sql.inTransaction(
            tx -> {
              long newest = company.lockForChange(tx);
              if (newest == version) {
                store.write(tx, changes);
                company.changed(tx);
                store.enter(tx, entry(version + 1, author, what, action, target, changes));
              }
              return newest;
            });
    demandNewest(version, now);
    return version + 1;
  }

  private void demandNewest(long seen, long newest) {
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

  /** What rulebases would be read against if a change was taken back or made again. */
  Environment tryTakingBack(WorkspaceEntry target, String action) {
    Company.Known before = company.newest();
    return environment(with(before.contents(), changes(target, action), target, action));
  }

  /**
   * Takes a change back, or makes it again.
   *
   * @return the version after it
   * @throws NothingToTakeBackException if what it changed has been changed since
   */
  long takeBack(
      WorkspaceEntry target, Author author, String what, String action, Progress progress) {
    Company.Known before = company.newest();
    List<Change> changes = changes(target, action);
    with(before.contents(), changes, target, action);
    demandRulebases(changes, target, action);
    return kept(changes, before.version(), author, what, action, target.number(), progress);
  }

  private List<Change> changes(WorkspaceEntry target, String action) {
    List<Change> made = store.changes(target.number());
    return action.equals("undo") ? made.stream().map(Change::reversed).toList() : made;
  }

  private WorkspaceContents with(
      WorkspaceContents before, List<Change> changes, WorkspaceEntry target, String action) {
    try {
      return store.with(before, changes);
    } catch (IllegalStateException e) {
      throw changedSince(action, target, e.getMessage());
    }
  }

  private static NothingToTakeBackException changedSince(
      String action, WorkspaceEntry target, String by) {
    return new NothingToTakeBackException(
        "cannot " + action + " \"" + target.what() + "\": " + by + " has been changed since");
  }

  /** A rulebase stands as the change left it. */
  private void demandRulebases(List<Change> changes, WorkspaceEntry target, String action) {
    for (Change change : changes) {
      if (change.kind().equals(WorkspaceStore.RULEBASE)) {
        Optional<RulebaseDoc> stands = rulebase(change.id());
        boolean removed = stands.map(doc -> doc.standing().equals("removed")).orElse(true);
        boolean same =
            change.before() == null
                ? removed
                : change.before().equals(json.valueToTree(stands.orElse(null)));
        if (!same) {
          throw changedSince(action, target, "rulebase " + change.id());
        }
      }
    }
  }

  /** What an editor can take back and make again of the workspace, in words. */
  public record Possible(Optional<String> undo, Optional<String> redo) {}

  /** What an editor can take back and make again of the workspace now. */
  public Possible possible(String who) {
    UndoStack stack = stack(who);
    return new Possible(stack.toUndo().map(Done::what), stack.toRedo().map(Done::what));
  }

  private UndoStack stack(String who) {
    return sql.inTransaction(tx -> new UndoStack(List.of(), store.byEditor(tx, who)));
  }

  /**
   * Takes an editor's own newest change of the workspace back, or makes it again.
   *
   * @param version the version the editor saw
   * @return the version after it
   * @throws StaleRevisionException if that is not the newest
   * @throws NothingToTakeBackException if that cannot be done
   */
  public long takeBack(long version, Author author, String action, Progress progress) {
    demandNewest(version, company.newest().version());
    boolean undo = action.equals("undo");
    UndoStack stack = stack(author.name());
    Done target =
        (undo ? stack.toUndo() : stack.toRedo())
            .orElseThrow(() -> new NothingToTakeBackException("there is nothing to " + action));
    String what = (undo ? "undid: " : "redid: ") + target.what();
    return takeBack((WorkspaceEntry) target, author, what, action, progress);
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
    kept(changes, company.newest().version(), author, what, "edit", null, progress);
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
  String made(
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
