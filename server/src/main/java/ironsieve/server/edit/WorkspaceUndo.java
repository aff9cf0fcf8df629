package ironsieve.server.edit;

import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.Contents;
import ironsieve.files.Renaming;
import ironsieve.files.WorkspaceContents;
import ironsieve.files.WorkspaceKind;
import ironsieve.model.Environment;
import ironsieve.progress.Progress;
import ironsieve.server.change.Change;
import ironsieve.server.change.ConflictException;
import ironsieve.server.change.Records;
import ironsieve.server.store.Company;
import ironsieve.server.store.Done;
import ironsieve.server.store.Sql;
import ironsieve.server.store.Undoable;
import ironsieve.server.store.WorkspaceEntry;
import ironsieve.server.store.WorkspaceStore;
import ironsieve.server.store.WorkspaceStore.RulebaseDoc;
import ironsieve.text.ProbeText;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.util.List;
import java.util.Optional;

/** Takes changes of the workspace back, and makes them again. */
@ApplicationScoped
public class WorkspaceUndo {

  @Inject Sql sql;
  @Inject WorkspaceStore store;
  @Inject Company company;
  @Inject Records records;
  @Inject WorkspacePlans plans;
  @Inject WorkspaceWriter writer;
  @Inject ObjectMapper json;

  /** What a rulebase would say, and be read against, if a change was taken back or made again. */
  record TakenBack(Contents contents, Environment environment) {}

  /**
   * What would be if a change was taken back or made again; nothing is written.
   *
   * @param now what a rulebase says now
   * @throws NothingToTakeBackException if what it changed has been changed since
   */
  TakenBack tryTakingBack(WorkspaceEntry target, String action, Contents now) {
    Company.WorkspaceVersion before = company.newest();
    List<Change> changes = changes(target, action);
    Environment environment = plans.environment(with(before.contents(), changes, target, action));
    List<Renaming.Renamed> renamed =
        RenameCascade.toFollow(changes, with(before.contents(), changes, target, action));
    if (!renamed.isEmpty() && RenameCascade.isFollowed(changes, renamed)) {
      Contents followed = new Renaming(renamed, new ProbeText(before.environment())).of(now);
      return new TakenBack(followed, environment);
    }
    List<Change> ofRulebase = RenameCascade.ofRulebase(changes, now.id());
    try {
      return new TakenBack(ofRulebase.isEmpty() ? now : records.with(now, ofRulebase), environment);
    } catch (ConflictException e) {
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
    Company.WorkspaceVersion before = company.newest();
    List<Change> changes = changes(target, action);
    WorkspaceContents after = with(before.contents(), changes, target, action);
    demandRulebases(changes, target, action);
    return writer.keep(
        intended(before.contents(), changes, after),
        before,
        author,
        what,
        action,
        target.number(),
        progress);
  }

  /**
   * What taking back writes. A name that stands for nothing any more is followed back by whatever
   * uses it by now, also by what began to use it after the change.
   */
  private WorkspaceWriter.Intended intended(
      WorkspaceContents before, List<Change> changes, WorkspaceContents after) {
    List<Renaming.Renamed> renamed = RenameCascade.toFollow(changes, after);
    if (renamed.isEmpty() || !RenameCascade.isFollowed(changes, renamed)) {
      return new WorkspaceWriter.Intended(changes, List.of());
    }
    WorkspaceContents followed = after.copy();
    Renaming renaming = new Renaming(renamed);
    List.copyOf(followed.sets()).forEach(set -> followed.put(WorkspaceKind.SET, renaming.of(set)));
    followed.regroup(group -> Optional.of(renaming.name(WorkspaceKind.GROUP, group)));
    return new WorkspaceWriter.Intended(records.between(before, followed), renamed);
  }

  private List<Change> changes(WorkspaceEntry target, String action) {
    List<Change> made = store.changes(target.number());
    return action.equals("undo") ? made.stream().map(Change::reversed).toList() : made;
  }

  private WorkspaceContents with(
      WorkspaceContents before, List<Change> changes, WorkspaceEntry target, String action) {
    try {
      return records.with(before, changes);
    } catch (ConflictException e) {
      boolean ofEdition = e.change().kind().equals(WorkspaceKind.EDITION.word());
      throw changedSince(action, target, ofEdition ? "the edition in force" : e.getMessage());
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
        Optional<RulebaseDoc> stands = writer.rulebase(change.id());
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
    Undoable can = undoable(who);
    return new Possible(can.done().map(Done::what), can.undone().map(Done::what));
  }

  private Undoable undoable(String who) {
    return sql.inTransaction(tx -> store.undoable(tx, who));
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
    writer.demandNewest(version, company.newest().version());
    boolean undo = action.equals("undo");
    Undoable can = undoable(author.name());
    Done target =
        (undo ? can.done() : can.undone())
            .orElseThrow(() -> new NothingToTakeBackException("there is nothing to " + action));
    String what = (undo ? "undid: " : "redid: ") + target.what();
    return takeBack((WorkspaceEntry) target, author, what, action, progress);
  }
}
