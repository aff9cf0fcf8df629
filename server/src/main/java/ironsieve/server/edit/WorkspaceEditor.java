package ironsieve.server.edit;

import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.Contents;
import ironsieve.files.FaultException;
import ironsieve.files.Renaming;
import ironsieve.files.WorkspaceContents;
import ironsieve.files.WorkspaceKind;
import ironsieve.model.Environment;
import ironsieve.progress.Progress;
import ironsieve.server.store.Change;
import ironsieve.server.store.Company;
import ironsieve.server.store.Done;
import ironsieve.server.store.JournalEntry;
import ironsieve.server.store.RulebaseStore;
import ironsieve.server.store.Sql;
import ironsieve.server.store.TapeStore;
import ironsieve.server.store.WorkspaceEntry;
import ironsieve.server.store.WorkspaceStore;
import ironsieve.server.store.WorkspaceStore.RulebaseDoc;
import ironsieve.server.tapes.TapeContents;
import ironsieve.text.ProbeText;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.function.UnaryOperator;

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
  private static final int MOST_TIMES = 5;

  @Inject Sql sql;
  @Inject WorkspaceStore store;
  @Inject Company company;
  @Inject RulebaseStore rulebases;
  @Inject TapeStore tapes;
  @Inject TapeContents contents;
  @Inject ObjectMapper json;
  @Inject Clock clock;

  /**
   * What a change would lead to.
   *
   * @param changes of the workspace's own records
   * @param renamed what rulebases are to call otherwise
   */
  public record Planned(
      Company.Known before,
      WorkspaceContents after,
      List<Change> changes,
      List<Renaming.Renamed> renamed) {}

  /**
   * What the workspace would be after some steps; nothing is written.
   *
   * @throws FaultException if a step cannot be taken
   */
  public Planned plan(List<WorkspaceStep> steps) {
    return plan(company.newest(), steps);
  }

  /** Makes another workspace of one, which it leaves as it is. */
  public interface Rewriting extends UnaryOperator<WorkspaceContents> {}

  /** The same where it is not said in steps, such as what a source has now. */
  public Planned plan(Rewriting rewriting) {
    return plan(company.newest(), rewriting);
  }

  private Planned plan(Company.Known before, Rewriting rewriting) {
    WorkspaceContents after = rewriting.apply(before.contents());
    demandEdition(after);
    return new Planned(before, after, store.between(before.contents(), after), List.of());
  }

  private Planned plan(Company.Known before, List<WorkspaceStep> steps) {
    WorkspaceContents after = before.contents().copy();
    WorkspaceSteps taken =
        new WorkspaceSteps(after, company.edition(before.contents().edition()), json);
    taken.take(steps);
    demandEdition(after);
    return new Planned(
        before, after, store.between(before.contents(), after), List.copyOf(taken.renamed()));
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
    return kept(plan(before, steps), author, what, progress);
  }

  /**
   * Takes a change that is worked out on whatever is newest as it is made.
   *
   * @throws NothingToDoException if everything is so already
   * @throws StaleRevisionException if others were quicker again and again
   */
  public long change(Author author, String what, Rewriting rewriting, Progress progress) {
    FaultException.demandName("change", "what", what, MOST_WHAT);
    for (int time = 1; ; time++) {
      progress.begin("checking records", 0);
      try {
        return kept(plan(company.newest(), rewriting), author, what, progress);
      } catch (StaleRevisionException e) {
        if (time == MOST_TIMES) {
          throw e;
        }
      }
    }
  }

  private long kept(Planned planned, Author author, String what, Progress progress) {
    List<Change> changes = new ArrayList<>(planned.changes());
    changes.addAll(inRulebases(planned));
    return kept(changes, planned.before(), author, what, "edit", null, progress);
  }

  /** What rulebases, archived ones too, say otherwise once something has another name. */
  private List<Change> inRulebases(Planned planned) {
    List<Change> changes = new ArrayList<>();
    if (planned.renamed().isEmpty()) {
      return changes;
    }
    Renaming renaming =
        new Renaming(planned.renamed(), new ProbeText(planned.before().environment()));
    sql.inTransaction(
        tx -> {
          for (RulebaseStore.Head head : rulebases.heads(tx)) {
            Contents contents = rulebases.contents(tx, head.id());
            rulebases
                .between(contents, renaming.of(contents))
                .forEach(change -> changes.add(OfRulebase.wrapped(head.id(), change)));
          }
          return changes;
        });
    planned.renamed().forEach(one -> changes.add(OfTraffic.change(one, json)));
    return changes;
  }

  /**
   * A new name as the workspace's journal has it, for the traffic that was recorded under the old
   * one: tapes have no journal of their own.
   */
  private static final class OfTraffic {
    private static final String MARK = "name of ";
    private static final String NAME = "name";

    private OfTraffic() {}

    static Change change(Renaming.Renamed one, ObjectMapper json) {
      return new Change(
          MARK + one.kind().word(),
          one.id(),
          json.createObjectNode().put(NAME, one.id()),
          json.createObjectNode().put(NAME, one.name()));
    }

    static boolean is(Change change) {
      return change.kind().startsWith(MARK);
    }

    /** The new name; of a change that is taken back, the one from before. */
    static Renaming.Renamed renamed(Change change) {
      return new Renaming.Renamed(
          WorkspaceKind.ofWord(change.kind().substring(MARK.length())).orElseThrow(),
          change.before().get(NAME).asText(),
          change.after().get(NAME).asText());
    }
  }

  private void writeTapes(Sql.Transaction tx, List<Change> changes, Environment before)
      throws SQLException {
    Renaming renaming =
        new Renaming(
            changes.stream().filter(OfTraffic::is).map(OfTraffic::renamed).toList(),
            new ProbeText(before));
    if (!renaming.isOfTraffic()) {
      return;
    }
    for (RulebaseStore.Head head : rulebases.heads(tx)) {
      for (TapeStore.Kept tape : tapes.of(tx, head.id())) {
        Optional<TapeStore.Kept> renamed = renamed(tx, tape, renaming);
        if (renamed.isPresent()) {
          tapes.change(tx, head.id(), tape, renamed.get());
        }
      }
    }
  }

  private Optional<TapeStore.Kept> renamed(
      Sql.Transaction tx, TapeStore.Kept tape, Renaming renaming) throws SQLException {
    String csv = tape.csv();
    Long words = tape.words();
    if (csv != null) {
      csv = renaming.tape(csv);
    } else {
      words =
          contents
              .rename(tx, new TapeContents.Numbers(tape.content(), words), renaming::of)
              .words();
    }
    return Objects.equals(csv, tape.csv()) && Objects.equals(words, tape.words())
        ? Optional.empty()
        : Optional.of(tape.with(csv, tape.content(), words));
  }

  /** A change of a record of some rulebase, as the workspace's journal has it. */
  private static final class OfRulebase {
    private static final String MARK = " of rulebase ";

    private OfRulebase() {}

    static Change wrapped(String rulebase, Change change) {
      return new Change(
          change.kind() + MARK + rulebase, change.id(), change.before(), change.after());
    }

    static boolean is(Change change) {
      return change.kind().contains(MARK);
    }

    static String rulebase(Change change) {
      return change.kind().substring(change.kind().indexOf(MARK) + MARK.length());
    }

    static Change unwrapped(Change change) {
      return new Change(
          change.kind().substring(0, change.kind().indexOf(MARK)),
          change.id(),
          change.before(),
          change.after());
    }
  }

  /**
   * Makes a revision of each rulebase that changes with the workspace. In its own journal it stands
   * as done everywhere, so that nobody takes it back there alone.
   */
  private void writeRulebases(
      Sql.Transaction tx, List<Change> changes, Author author, String what, String action)
      throws SQLException {
    Map<String, List<Change>> byRulebase = new TreeMap<>();
    changes.stream()
        .filter(OfRulebase::is)
        .forEach(
            change ->
                byRulebase
                    .computeIfAbsent(OfRulebase.rulebase(change), id -> new ArrayList<>())
                    .add(OfRulebase.unwrapped(change)));
    for (Map.Entry<String, List<Change>> entry : byRulebase.entrySet()) {
      String id = entry.getKey();
      long revision = rulebases.lockWhatever(tx, id);
      Contents now = rulebases.contents(tx, id);
      Contents after;
      try {
        after = rulebases.apply(now, entry.getValue());
      } catch (IllegalStateException e) {
        throw new NothingToTakeBackException(
            "cannot "
                + (action.equals("edit") ? "do" : action)
                + " this: "
                + e.getMessage()
                + " of rulebase "
                + id
                + " has been changed since");
      }
      rulebases.write(
          tx,
          id,
          new JournalEntry(
              revision + 1,
              clock.instant(),
              author.name() + " (everywhere)",
              author.reason(),
              what,
              "edit",
              null,
              rulebases.between(now, after)));
    }
  }

  /**
   * Writes changes that were worked out on a version.
   *
   * @return the version after it
   */
  private long kept(
      List<Change> changes,
      Company.Known before,
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
    long version = before.version();
    long now =
        sql.inTransaction(
            tx -> {
              long newest = company.lockForChange(tx);
              if (newest == version) {
                store.write(
                    tx,
                    changes.stream()
                        .filter(change -> !OfRulebase.is(change) && !OfTraffic.is(change))
                        .toList());
                writeRulebases(tx, changes, author, what, action);
                writeTapes(tx, changes, before.environment());
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

  /** What a rulebase would say, and be read against, if a change was taken back or made again. */
  record TakenBack(Contents contents, Environment environment) {}

  /**
   * What would be if a change was taken back or made again; nothing is written.
   *
   * @param now what a rulebase says now
   * @throws NothingToTakeBackException if what it changed has been changed since
   */
  TakenBack tryTakingBack(WorkspaceEntry target, String action, Contents now) {
    Company.Known before = company.newest();
    List<Change> changes = changes(target, action);
    Environment environment = environment(with(before.contents(), changes, target, action));
    List<Change> ofRulebase =
        changes.stream()
            .filter(change -> OfRulebase.is(change) && OfRulebase.rulebase(change).equals(now.id()))
            .map(OfRulebase::unwrapped)
            .toList();
    try {
      return new TakenBack(
          ofRulebase.isEmpty() ? now : rulebases.apply(now, ofRulebase), environment);
    } catch (IllegalStateException e) {
      throw changedSince(action, target, e.getMessage() + " of rulebase " + now.id());
    }
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
    return kept(changes, before, author, what, action, target.number(), progress);
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
    kept(changes, company.newest(), author, what, "edit", null, progress);
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
