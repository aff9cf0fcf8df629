package ironsieve.server.edit;

import ironsieve.compile.Check;
import ironsieve.compile.Names;
import ironsieve.compile.Problem;
import ironsieve.compile.ProblemException;
import ironsieve.files.Contents;
import ironsieve.files.Fault;
import ironsieve.files.FaultException;
import ironsieve.files.Nouns;
import ironsieve.files.TapeCsv;
import ironsieve.model.Rulebase;
import ironsieve.model.Surroundings;
import ironsieve.model.Tape;
import ironsieve.review.Budget;
import ironsieve.server.store.Change;
import ironsieve.server.store.Company;
import ironsieve.server.store.JournalEntry;
import ironsieve.server.store.RulebaseStore;
import ironsieve.server.store.Sql;
import ironsieve.server.store.TapeStore;
import ironsieve.text.ProbeText;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.NoSuchElementException;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentLinkedDeque;

/**
 * Makes new revisions. What it remembers of a rulebase is only a copy of what the database has,
 * checked against the database's revision before each use, so that several servers can share one
 * database.
 */
@ApplicationScoped
public class Editor {

  /** As many as may take some minutes for one question. */
  private static final int MOST_STEPS = 100_000_000;

  private static final int LONGEST_NAME = 80;

  /** As many edits as somebody makes without a pause; it is asked then what they did together. */
  private static final int MOST_PREVIOUS = 12;

  @Inject Sql sql;
  @Inject RulebaseStore store;
  @Inject TapeStore tapes;
  @Inject Company company;
  @Inject Ahead ahead;
  private final Map<String, Bench> benches = new ConcurrentHashMap<>();

  /** What the newest edits were made on, the newest first. */
  private final Map<String, Deque<Bench>> previous = new ConcurrentHashMap<>();

  /** What an edit led to. */
  public record Outcome(Bench before, Bench bench, JournalEntry entry) {}

  /**
   * The newest revision of a rulebase.
   *
   * @throws NoSuchElementException if there is no such rulebase
   */
  public Bench bench(String rulebase) {
    RulebaseStore.Version newest =
        store
            .version(rulebase)
            .orElseThrow(() -> new NoSuchElementException("there is no rulebase " + rulebase));
    return current(rulebase, newest)
        .orElseGet(
            () -> sql.inTransaction(tx -> keep(read(tx, rulebase, store.lock(tx, rulebase)))));
  }

  private Optional<Bench> current(String rulebase, RulebaseStore.Version version) {
    return Optional.ofNullable(benches.get(rulebase))
        .filter(bench -> bench.revision() == version.revision())
        .filter(bench -> bench.recorded().version() == version.tapes())
        .filter(bench -> bench.budget().equals(Bench.budget(version.steps())))
        .filter(bench -> bench.surroundings() == company.surroundings());
  }

  private Bench read(Sql.Transaction tx, String rulebase, RulebaseStore.Version version)
      throws SQLException {
    Surroundings surroundings = company.surroundings();
    Budget budget = Bench.budget(version.steps());
    Bench known = benches.get(rulebase);
    if (known == null
        || known.revision() != version.revision()
        || known.surroundings() != surroundings) {
      return new Bench(
          version.revision(),
          store.contents(tx, rulebase),
          surroundings,
          recorded(tx, rulebase, version, surroundings),
          budget);
    }
    return known.recorded().version() == version.tapes()
        ? known.beside(known.recorded(), budget)
        : known.beside(recorded(tx, rulebase, version, surroundings), budget);
  }

  private Bench.Recorded recorded(
      Sql.Transaction tx, String rulebase, RulebaseStore.Version version, Surroundings surroundings)
      throws SQLException {
    ProbeText probes = new ProbeText(surroundings);
    List<Tape> readable = new ArrayList<>();
    Map<String, String> unread = new TreeMap<>();
    for (TapeStore.Kept kept : tapes.of(tx, rulebase)) {
      try {
        readable.add(TapeCsv.read(kept.name(), kept.csv(), probes));
      } catch (FaultException e) {
        // What it names may be gone from the catalogue; the tape is kept, and its owner told.
        unread.put(kept.name(), e.faults().get(0).field() + ": " + e.faults().get(0).message());
      }
    }
    return new Bench.Recorded(version.tapes(), readable, unread);
  }

  /**
   * Keeps recorded traffic, in the place of a tape of that name.
   *
   * @param csv as {@link TapeCsv} has it
   * @throws FaultException naming the first line that cannot be read
   */
  public Bench record(String rulebase, String name, String who, String csv) {
    if (name.isBlank() || name.length() > LONGEST_NAME) {
      throw new FaultException(
          "tape", "name", "a tape has a name of at most " + LONGEST_NAME + " letters");
    }
    TapeCsv.read(name, csv, new ProbeText(bench(rulebase).surroundings()));
    sql.inTransaction(
        tx -> {
          store.lock(tx, rulebase);
          tapes.keep(tx, rulebase, name, who, csv);
          return name;
        });
    return bench(rulebase);
  }

  /**
   * Sets what each question of a rulebase's reviews may take, for everybody.
   *
   * @param steps between 1 and {@link #MOST_STEPS}
   * @throws FaultException if it is not
   */
  public Bench allow(String rulebase, int steps) {
    if (steps < 1 || steps > MOST_STEPS) {
      throw new FaultException("review", "steps", "a number from 1 to " + MOST_STEPS);
    }
    store.allow(rulebase, steps);
    return bench(rulebase);
  }

  private Bench keep(Bench bench) {
    benches.put(bench.contents().id(), bench);
    return bench;
  }

  /**
   * Takes steps as one edit.
   *
   * @param revision the revision the editor saw
   * @param what a few words for the journal
   * @throws StaleRevisionException if that is not the newest
   * @throws FaultException if a step cannot be taken or leaves something that cannot be read
   */
  public Outcome edit(String rulebase, long revision, String who, String what, List<Step> steps) {
    return kept(
        tx -> {
          Bench before = onNewest(tx, rulebase, revision);
          Steps taken = new Steps(before.contents().copy());
          steps.forEach(taken::take);
          return written(tx, before, taken.contents(), new Made(who, what, "edit", null));
        });
  }

  /**
   * What a rulebase would be after some steps; nothing is written.
   *
   * @throws FaultException if a step cannot be taken or leaves something that cannot be read
   */
  public Bench tryOut(Bench bench, List<Step> steps) {
    Steps taken = new Steps(bench.contents().copy());
    steps.forEach(taken::take);
    return made(bench, bench.revision(), taken.contents());
  }

  /**
   * What a rulebase would be if an editor took back their newest edit, or made it again; nothing is
   * written.
   *
   * @param action {@code undo} or {@code redo}
   * @throws NothingToTakeBackException if that cannot be done
   */
  public Bench tryTakingBack(Bench bench, String who, String action) {
    return sql.inTransaction(
        tx -> made(bench, bench.revision(), takenBack(tx, bench, who, action).contents()));
  }

  /**
   * A rulebase as it was at a revision: the newest with all later changes taken back.
   *
   * @throws FaultException if it never was at that revision
   */
  public Bench at(String rulebase, long revision) {
    Bench newest = bench(rulebase);
    if (revision < 0 || revision > newest.revision()) {
      throw new FaultException(
          "rulebase " + rulebase, "revision", "it has revisions 0 to " + newest.revision());
    }
    if (revision == newest.revision()) {
      return newest;
    }
    Optional<Bench> known =
        previous.getOrDefault(rulebase, new ConcurrentLinkedDeque<>()).stream()
            .filter(bench -> bench.revision() == revision)
            .filter(bench -> bench.surroundings() == newest.surroundings())
            .filter(bench -> bench.recorded() == newest.recorded())
            .filter(bench -> bench.budget().equals(newest.budget()))
            .findFirst();
    if (known.isPresent()) {
      return known.get();
    }
    return sql.inTransaction(
        tx -> {
          List<JournalEntry> later = new ArrayList<>(store.journalSince(tx, rulebase, revision));
          Collections.reverse(later);
          Contents contents = newest.contents();
          for (JournalEntry entry : later) {
            if (entry.revision() <= newest.revision()) {
              contents =
                  store.apply(contents, entry.changes().stream().map(Change::reversed).toList());
            }
          }
          return new Bench(
              revision, contents, newest.surroundings(), newest.recorded(), newest.budget());
        });
  }

  /** The ids of all rulebases. */
  public List<String> rulebases() {
    return store.heads().stream().map(RulebaseStore.Head::id).toList();
  }

  /** The same revision read against other surroundings; nothing is written. */
  public Bench under(Bench bench, Surroundings surroundings) {
    return new Bench(
        bench.revision(), bench.contents(), surroundings, bench.recorded(), bench.budget());
  }

  /** What cannot be read of a bench in its surroundings, as sentences. */
  public List<String> unreadable(Bench bench) {
    Rulebase rulebase = bench.contents().rulebase();
    return Check.problems(rulebase, new Names(rulebase.parts(), bench.surroundings())).stream()
        .map(problem -> problem.place() + " " + problem.id() + ": " + problem.message())
        .toList();
  }

  /** Takes back the editor's own newest edit. */
  public Outcome undo(String rulebase, long revision, String who) {
    return takeBack(rulebase, revision, who, "undo");
  }

  /** Remembers the new revision only once the database has it. */
  private Outcome kept(Sql.Work<Outcome> work) {
    Outcome outcome = sql.inTransaction(work);
    Deque<Bench> last =
        previous.computeIfAbsent(
            outcome.before().contents().id(), id -> new ConcurrentLinkedDeque<>());
    last.addFirst(outcome.before());
    while (last.size() > MOST_PREVIOUS) {
      last.pollLast();
    }
    keep(outcome.bench());
    if (outcome.before().isReviewed()) {
      ahead.review(outcome.bench());
    }
    return outcome;
  }

  /** Makes the editor's own newest undone edit again. */
  public Outcome redo(String rulebase, long revision, String who) {
    return takeBack(rulebase, revision, who, "redo");
  }

  /** What is taken back or made again, and what comes of it. */
  private record TakenBack(JournalEntry target, Contents contents) {}

  private TakenBack takenBack(Sql.Transaction tx, Bench before, String who, String action)
      throws SQLException {
    boolean undo = action.equals("undo");
    UndoStack stack = new UndoStack(store.byEditor(tx, before.contents().id(), who));
    JournalEntry target =
        (undo ? stack.toUndo() : stack.toRedo())
            .orElseThrow(() -> new NothingToTakeBackException("there is nothing to " + action));
    List<Change> made = store.changes(tx, before.contents().id(), target.revision());
    List<Change> changes = undo ? made.stream().map(Change::reversed).toList() : made;
    try {
      return new TakenBack(target, store.apply(before.contents(), changes));
    } catch (IllegalStateException e) {
      throw new NothingToTakeBackException(
          "cannot "
              + action
              + " \""
              + target.what()
              + "\": "
              + e.getMessage()
              + " has been changed since");
    }
  }

  private Outcome takeBack(String rulebase, long revision, String who, String action) {
    return kept(
        tx -> {
          Bench before = onNewest(tx, rulebase, revision);
          TakenBack taken = takenBack(tx, before, who, action);
          String what = (action.equals("undo") ? "undid: " : "redid: ") + taken.target().what();
          Made made = new Made(who, what, action, taken.target().revision());
          return written(tx, before, taken.contents(), made);
        });
  }

  /** What an editor can undo and redo now, in words. */
  public record Possible(Optional<String> undo, Optional<String> redo) {}

  /** What an editor can undo and redo now. */
  public Possible possible(String rulebase, String who) {
    return sql.inTransaction(
        tx -> {
          UndoStack stack = new UndoStack(store.byEditor(tx, rulebase, who));
          return new Possible(
              stack.toUndo().map(JournalEntry::what), stack.toRedo().map(JournalEntry::what));
        });
  }

  private Bench onNewest(Sql.Transaction tx, String rulebase, long revision) throws SQLException {
    RulebaseStore.Version newest = store.lock(tx, rulebase);
    if (revision != newest.revision()) {
      throw new StaleRevisionException(
          newest.revision(), store.journalSince(tx, rulebase, revision));
    }
    Optional<Bench> known = current(rulebase, newest);
    return known.isPresent() ? known.get() : read(tx, rulebase, newest);
  }

  private record Made(String who, String what, String action, Long target) {}

  private Outcome written(Sql.Transaction tx, Bench before, Contents after, Made made)
      throws SQLException {
    List<Change> changes = store.between(before.contents(), after);
    if (changes.isEmpty()) {
      throw new FaultException("edit", "steps", "this edit would change nothing");
    }
    Bench next = made(before, before.revision() + 1, after);
    JournalEntry entry =
        new JournalEntry(
            before.revision() + 1,
            Instant.now(),
            made.who(),
            made.what(),
            made.action(),
            made.target(),
            changes);
    store.write(tx, after.id(), entry);
    return new Outcome(before, next, entry);
  }

  /** The bench after an edit; a fault names everything in it that cannot be read. */
  private static Bench made(Bench before, long revision, Contents after) {
    try {
      Bench next = before.followedBy(revision, after);
      if (!after.promises().equals(before.contents().promises())) {
        ProbeText probes = new ProbeText(before.surroundings());
        after.promises().values().forEach(promise -> Nouns.promise(promise, probes));
      }
      return next;
    } catch (ProblemException e) {
      throw new FaultException(e.problems().stream().map(Editor::fault).toList());
    }
  }

  private static Fault fault(Problem problem) {
    return new Fault(problem.place() + " " + problem.id(), problem.field(), problem.message());
  }
}
