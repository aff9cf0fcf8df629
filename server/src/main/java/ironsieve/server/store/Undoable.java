package ironsieve.server.store;

import java.time.Instant;
import java.util.Optional;

/**
 * What one editor can take back and make again: an edit can be undone, an undo redone, and a new
 * edit ends what could be redone.
 *
 * @param done the newest edit that stands
 * @param undone the edit that was taken back last, if nothing was edited since
 * @param undoneAt when that was; null if there is none
 * @param editedAt when the editor edited last; null if they never did
 */
public record Undoable(
    Optional<Done> done, Optional<Done> undone, Instant undoneAt, Instant editedAt) {

  /** What can be taken back of what was done here and elsewhere, in the order it was done. */
  public Undoable with(Undoable elsewhere) {
    Undoable here = since(elsewhere.editedAt);
    Undoable there = elsewhere.since(editedAt);
    boolean isDoneThere =
        there.done.isPresent()
            && (here.done.isEmpty() || there.done.get().at().isAfter(here.done.get().at()));
    boolean isUndoneThere =
        there.undone.isPresent()
            && (here.undone.isEmpty() || there.undoneAt.isAfter(here.undoneAt));
    return new Undoable(
        isDoneThere ? there.done : here.done,
        isUndoneThere ? there.undone : here.undone,
        isUndoneThere ? there.undoneAt : here.undoneAt,
        later(editedAt, elsewhere.editedAt));
  }

  private static Instant later(Instant one, Instant other) {
    return one == null || (other != null && other.isAfter(one)) ? other : one;
  }

  /** The same without what was taken back before somebody edited elsewhere. */
  private Undoable since(Instant edited) {
    return undone.isEmpty() || edited == null || edited.isBefore(undoneAt)
        ? this
        : new Undoable(done, Optional.empty(), null, editedAt);
  }
}
