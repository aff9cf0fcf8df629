package ironsieve.server.edit;

import ironsieve.files.Contents;
import ironsieve.files.DocumentReader;
import ironsieve.files.FaultException;
import ironsieve.files.Renaming;
import ironsieve.model.Environment;
import ironsieve.model.Rulebase;
import ironsieve.progress.Progress;
import ironsieve.server.change.Change;
import ironsieve.server.change.ConflictException;
import ironsieve.server.change.Records;
import ironsieve.server.store.Company;
import ironsieve.server.store.Done;
import ironsieve.server.store.JournalEntry;
import ironsieve.server.store.RulebaseStore;
import ironsieve.server.store.Sql;
import ironsieve.server.store.State;
import ironsieve.server.store.Undoable;
import ironsieve.server.store.WorkspaceEntry;
import ironsieve.server.store.WorkspaceStore;
import ironsieve.text.ProbeText;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.sql.SQLException;
import java.time.Clock;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/**
 * Makes new revisions: works an edit out on the newest snapshot, without a lock, and writes it in
 * one short transaction if nobody was quicker.
 */
@ApplicationScoped
public class Editor {

  /** As many as may take some minutes for one question. */
  private static final int MOST_STEPS = 100_000_000;

  /** As many entries are told to somebody whose edit came too late. */
  private static final int MOST_TOLD = 20;

  /** Another server may make an edit each time this one has worked one out; then it is told so. */
  private static final int MOST_TRIES = 5;

  @Inject Clock clock;
  @Inject Sql sql;
  @Inject RulebaseStore store;
  @Inject Records records;
  @Inject WorkspaceStore workspaceStore;
  @Inject WorkspaceUndo workspace;
  @Inject ReviewPrefetcher prefetcher;
  @Inject Snapshots snapshots;
  @Inject LargeEdits largeEdits;
  @Inject Company company;

  /** What an edit led to. */
  public record Outcome(RulebaseSnapshot before, RulebaseSnapshot snapshot, JournalEntry entry) {}

  /**
   * The newest state of a rulebase.
   *
   * @throws UnknownException if there is no such rulebase
   */
  public RulebaseSnapshot snapshot(String rulebase) {
    return snapshots.newest(rulebase);
  }

  /**
   * Sets what each question of a rulebase's reviews may take, for everybody.
   *
   * @param steps between 1 and {@link #MOST_STEPS}
   * @throws FaultException if it is not
   */
  public RulebaseSnapshot allow(String rulebase, int steps) {
    if (steps < 1 || steps > MOST_STEPS) {
      throw new FaultException("review", "steps", "a number from 1 to " + MOST_STEPS);
    }
    snapshot(rulebase);
    store.allow(rulebase, steps);
    return snapshot(rulebase);
  }

  /**
   * Takes steps as one edit. What comes of it is worked out first, beside everybody else's work,
   * and written only if nobody was quicker.
   *
   * @param revision the revision the editor saw
   * @param what a few words for the journal
   * @param progress told of what is done; who stops it before the edit is saved has changed nothing
   * @throws StaleRevisionException if that is not the newest
   * @throws FaultException if a step cannot be taken or leaves something that cannot be read
   */
  public Outcome edit(
      String rulebase,
      long revision,
      Author author,
      String what,
      List<RulebaseStep> steps,
      Progress progress) {
    return save(
        rulebase,
        revision,
        before ->
            new Planned(
                take(before, steps, progress), new Made(author, what, "edit", null), Words.NEW),
        progress);
  }

  /**
   * What a rulebase would be after some steps; nothing is written.
   *
   * @throws FaultException if a step cannot be taken or leaves something that cannot be read
   */
  public RulebaseSnapshot tryOut(RulebaseSnapshot snapshot, List<RulebaseStep> steps) {
    return tryOut(snapshot, steps, new Progress());
  }

  /**
   * What a rulebase would be after some steps, for somebody who may lose patience.
   *
   * @throws FaultException if a step cannot be taken or leaves something that cannot be read
   * @throws java.util.concurrent.CancellationException soon after {@code progress} is stopped
   */
  public RulebaseSnapshot tryOut(
      RulebaseSnapshot snapshot, List<RulebaseStep> steps, Progress progress) {
    Contents after = take(snapshot, steps, progress);
    return largeEdits.inTurn(
        records.between(snapshot.contents(), after),
        () -> follow(snapshot, snapshot.state(), after, progress),
        progress);
  }

  /**
   * What a rulebase would be that says what a text says; nothing is written. Its promises and the
   * findings somebody has accepted stay.
   *
   * @throws FaultException if the text cannot be read, or names what nobody knows here
   */
  public RulebaseSnapshot tryReplacing(
      RulebaseSnapshot snapshot, Rulebase says, Progress progress) {
    Contents after = Replacement.of(snapshot.contents(), says);
    return largeEdits.inTurn(
        records.between(snapshot.contents(), after),
        () -> follow(snapshot, snapshot.state(), after, progress),
        progress);
  }

  /**
   * Puts what a text says in the place of what a rulebase says, as an edit of its own that can be
   * undone like any other.
   *
   * @param revision the revision the editor saw
   * @throws FaultException if the text names what nobody knows here
   */
  public Outcome replace(
      String rulebase, long revision, Author author, Rulebase says, Progress progress) {
    Made how = new Made(author, "replaced it by a text", "edit", null);
    return save(
        rulebase,
        revision,
        before -> new Planned(Replacement.of(before.contents(), says), how, Words.NEW),
        progress);
  }

  private static Contents take(
      RulebaseSnapshot snapshot, List<RulebaseStep> steps, Progress progress) {
    progress.begin("taking steps", steps.size());
    Steps taken = new Steps(snapshot.contents().copy());
    for (RulebaseStep step : steps) {
      progress.check();
      taken.take(step);
      progress.oneMore();
    }
    return taken.contents();
  }

  /**
   * What a rulebase would be if an editor took back their newest edit, or made it again; nothing is
   * written. If that was a change of the workspace, the same rulebase in other surroundings.
   *
   * @param action {@code undo} or {@code redo}
   * @throws NothingToTakeBackException if that cannot be done
   */
  public RulebaseSnapshot tryTakingBack(RulebaseSnapshot snapshot, String who, String action) {
    Done target = toTakeBack(snapshot, who, action);
    if (target instanceof JournalEntry edit) {
      return snapshot.followedAsFarAsKnown(
          snapshot.state(), takenBack(snapshot, edit, action), new Progress());
    }
    WorkspaceUndo.TakenBack back =
        workspace.tryTakingBack((WorkspaceEntry) target, action, snapshot.contents());
    return new RulebaseSnapshot(
        snapshot.state(),
        back.contents(),
        back.environment(),
        snapshot.recorded(),
        snapshot.budget());
  }

  /**
   * A rulebase as it was at a revision: the newest with all later changes taken back.
   *
   * @throws FaultException if it never was at that revision
   */
  public RulebaseSnapshot at(String rulebase, long revision) {
    return snapshots.at(rulebase, revision);
  }

  /**
   * What a rulebase would be without some of the edits that led to it; nothing is written.
   *
   * @param revisions that the edits made
   * @throws FaultException if a later edit builds on one of them
   */
  public RulebaseSnapshot without(RulebaseSnapshot snapshot, List<Long> revisions) {
    if (revisions.isEmpty()) {
      return snapshot;
    }
    Contents left = snapshot.contents();
    for (long revision : revisions.stream().distinct().sorted(Comparator.reverseOrder()).toList()) {
      left = without(left, revision);
    }
    return snapshot.followedAsFarAsKnown(snapshot.state(), left, new Progress());
  }

  private Contents without(Contents contents, long revision) {
    List<Change> made =
        sql.inTransaction(tx -> store.changes(tx, contents.id(), revision)).stream()
            .map(Change::reversed)
            .toList();
    Optional<String> why;
    try {
      Contents left = records.with(contents, made);
      why = OwnNames.lost(contents, left);
      if (why.isEmpty()) {
        return left;
      }
    } catch (ConflictException e) {
      why = Optional.of(e.getMessage() + " was changed again later");
    }
    throw new FaultException(
        "revision " + revision,
        "",
        "it cannot be left out: " + why.orElseThrow() + "; leave out what builds on it too");
  }

  /**
   * What became of a revision that somebody has seen, as if it was one edit; nothing if that is too
   * long ago to be remembered.
   */
  public Optional<Outcome> followed(RulebaseSnapshot newest, long since) {
    return snapshots
        .rememberedAt(newest, since)
        .map(
            before -> {
              JournalEntry all =
                  new JournalEntry(
                      newest.revision(),
                      clock.instant(),
                      "",
                      "",
                      "",
                      "edit",
                      null,
                      records.between(before.contents(), newest.contents()));
              return new Outcome(before, newest, all);
            });
  }

  /** The ids of the rulebases that are in use. */
  public List<String> rulebases() {
    return snapshots.rulebases();
  }

  /** The same revision read against other surroundings; nothing is written. */
  public RulebaseSnapshot under(RulebaseSnapshot snapshot, Environment environment) {
    return new RulebaseSnapshot(
        snapshot.state(), snapshot.contents(), environment, snapshot.recorded(), snapshot.budget());
  }

  /** What a rulebase would be that is in other words, in the surroundings that have them. */
  RulebaseSnapshot under(RulebaseSnapshot snapshot, Renaming words, Environment environment) {
    return new RulebaseSnapshot(
        snapshot.state(),
        words.of(snapshot.contents()),
        environment,
        words.isOfTraffic() ? snapshot.recorded().in(words) : snapshot.recorded(),
        snapshot.budget());
  }

  /** Takes back the editor's own newest edit. */
  public Outcome undo(String rulebase, long revision, Author author, Progress progress) {
    return takeBack(rulebase, revision, author, "undo", progress);
  }

  /** Makes the editor's own newest undone edit again. */
  public Outcome redo(String rulebase, long revision, Author author, Progress progress) {
    return takeBack(rulebase, revision, author, "redo", progress);
  }

  /**
   * Makes what a rulebase said at an older revision what it says now, as an edit of its own that
   * can be undone like any other.
   *
   * @param revision the revision the editor saw
   * @param old the revision to go back to
   * @throws FaultException if the rulebase never was at that revision, or what it said then cannot
   *     be read any more
   * @throws NothingToDoException if it says the same now
   */
  public Outcome restore(
      String rulebase, long revision, Author author, long old, Progress progress) {
    Contents then = at(rulebase, old).contents();
    Made how = new Made(author, "made revision " + old + " current again", "edit", null);
    return save(rulebase, revision, before -> new Planned(then.copy(), how, Words.OLD), progress);
  }

  private record Made(Author author, String what, String action, Long target) {}

  /** What an edit leads to, and what the journal says of it. */
  private record Planned(Contents after, Made made, Words words) {}

  /** Whether somebody chose the words of an edit now, or what it says was said before. */
  private enum Words {
    NEW,
    OLD
  }

  /**
   * Works out an edit and writes it, unless somebody else was quicker with this rulebase, or took
   * away from the workspace what the edit may name; remembers the new revision only once the
   * database has it. Nothing is worked out while anything is locked. Whatever else changes in the
   * workspace meanwhile is no reason to begin again: else its editors could keep everybody waiting.
   */
  private Outcome save(
      String rulebase, long revision, Function<RulebaseSnapshot, Planned> plan, Progress progress) {
    for (int round = 0; round < MOST_TRIES; round++) {
      RulebaseSnapshot before = snapshot(rulebase);
      demandNewest(rulebase, revision, before.revision());
      Planned planned = plan.apply(before);
      List<Change> changes = records.between(before.contents(), planned.after());
      if (changes.isEmpty()) {
        throw new NothingToDoException();
      }
      planned.made().author().demandReason();
      Limits.demand(changes, planned.after());
      State next = before.state().at(before.revision() + 1);
      RulebaseSnapshot made =
          largeEdits.inTurn(
              changes,
              () -> {
                // Who had to wait for another heavy edit may have become late meanwhile.
                demandNewest(rulebase, revision, snapshot(rulebase).revision());
                return remembered(before, next, planned)
                    .orElseGet(
                        () ->
                            planned.words() == Words.NEW
                                ? follow(before, next, planned.after(), progress)
                                : before.followedAsFarAsKnown(next, planned.after(), progress));
              },
              progress);
      progress.begin("saving", 0);
      Made how = planned.made();
      JournalEntry entry =
          new JournalEntry(
              next.revision(),
              clock.instant(),
              how.author().name(),
              how.author().reason(),
              how.what(),
              how.action(),
              how.target(),
              changes);
      boolean written =
          sql.inTransaction(
              tx -> {
                State now = store.lock(tx, rulebase).orElseThrow(() -> snapshots.unknown(rulebase));
                boolean holds =
                    now.revision() == revision
                        && workspaceStore.stillNames(
                            tx, before.state().workspace(), now.workspace());
                if (holds) {
                  store.write(tx, rulebase, entry);
                }
                return holds;
              });
      if (written) {
        return remembered(new Outcome(before, made, entry));
      }
    }
    // Names go from the workspace faster than this can be worked out; whoever edits tries again.
    throw new StaleRevisionException(revision, List.of());
  }

  /**
   * Where something is taken back, the snapshot as it was, if it is still remembered: everything
   * said of it is said again, down to the examples.
   */
  private Optional<RulebaseSnapshot> remembered(
      RulebaseSnapshot before, State next, Planned planned) {
    return planned.made().target() == null
        ? Optional.empty()
        : snapshots.previous(before.contents().id()).stream()
            .filter(known -> known.state().readsLike(next))
            .filter(known -> known.contents().saysTheSame(planned.after()))
            .findFirst()
            .map(known -> known.beside(next, before.recorded()));
  }

  private void demandNewest(String rulebase, long seen, long newest) {
    if (seen != newest) {
      throw new StaleRevisionException(
          newest, store.headsSince(rulebase, Math.max(0, seen), MOST_TOLD));
    }
  }

  private Outcome remembered(Outcome outcome) {
    snapshots.keep(outcome.before(), outcome.snapshot());
    if (outcome.before().isReviewed()) {
      prefetcher.review(outcome.snapshot());
    }
    return outcome;
  }

  private Done toTakeBack(RulebaseSnapshot snapshot, String who, String action) {
    Undoable can = sql.inTransaction(tx -> undoable(tx, snapshot.contents().id(), who));
    return (action.equals("undo") ? can.done() : can.undone())
        .orElseThrow(() -> new NothingToTakeBackException("there is nothing to " + action));
  }

  private Undoable undoable(Sql.Transaction tx, String rulebase, String who) throws SQLException {
    return store.undoable(tx, rulebase, who).with(workspaceStore.undoable(tx, who));
  }

  /** What a rulebase says once an edit is taken back or made again. */
  private Contents takenBack(RulebaseSnapshot before, JournalEntry target, String action) {
    List<Change> made =
        sql.inTransaction(tx -> store.changes(tx, before.contents().id(), target.revision()));
    List<Change> changes =
        action.equals("undo") ? made.stream().map(Change::reversed).toList() : made;
    try {
      Contents after = records.with(before.contents(), changes);
      OwnNames.lost(before.contents(), after)
          .ifPresent(
              why -> {
                throw new NothingToTakeBackException(
                    "cannot " + action + " \"" + target.what() + "\": " + why);
              });
      return after;
    } catch (ConflictException e) {
      throw changedSince(action, target.what(), e.getMessage());
    }
  }

  private static NothingToTakeBackException changedSince(String action, String what, String by) {
    return new NothingToTakeBackException(
        "cannot " + action + " \"" + what + "\": " + by + " has been changed since");
  }

  private Outcome takeBack(
      String rulebase, long revision, Author author, String action, Progress progress) {
    String prefix = action.equals("undo") ? "undid: " : "redid: ";
    RulebaseSnapshot now = snapshot(rulebase);
    demandNewest(rulebase, revision, now.revision());
    Done target = toTakeBack(now, author.name(), action);
    String what = prefix + target.what();
    if (target instanceof JournalEntry edit) {
      Made how = new Made(author, what, action, edit.revision());
      return save(
          rulebase,
          revision,
          before -> new Planned(takenBack(before, edit, action), how, Words.OLD),
          progress);
    }
    workspace.takeBack((WorkspaceEntry) target, author, what, action, progress);
    // No revision comes of it, for no rulebase says anything else.
    JournalEntry told =
        new JournalEntry(
            now.revision(),
            clock.instant(),
            author.name(),
            author.reason(),
            what,
            action,
            null,
            List.of());
    return new Outcome(now, snapshot(rulebase), told);
  }

  /** What an editor can undo and redo now, in words. */
  public record Possible(Optional<String> undo, Optional<String> redo) {}

  /** What an editor can undo and redo now. */
  public Possible possible(String rulebase, String who) {
    return sql.inTransaction(
        tx -> {
          Undoable can = undoable(tx, rulebase, who);
          return new Possible(can.done().map(Done::what), can.undone().map(Done::what));
        });
  }

  /** The snapshot after an edit; a fault names everything in it that cannot be read. */
  private static RulebaseSnapshot follow(
      RulebaseSnapshot before, State state, Contents after, Progress progress) {
    RulebaseSnapshot next = before.followedBy(state, after, progress);
    if (!after.promises().equals(before.contents().promises())) {
      ProbeText probes = new ProbeText(before.environment());
      after.promises().values().stream()
          .filter(promise -> !before.contents().promises().containsValue(promise))
          .forEach(promise -> DocumentReader.promise(promise, probes));
    }
    return next;
  }
}
