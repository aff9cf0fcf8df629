package ironsieve.server.edit;

import ironsieve.server.store.Done;
import ironsieve.server.store.JournalEntry;
import ironsieve.server.store.WorkspaceEntry;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Deque;
import java.util.List;
import java.util.Optional;

/**
 * What one editor can undo and redo, read from all they did to a rulebase and to what it is read
 * against: an edit can be undone, an undo redone, and a new edit ends what could be redone.
 */
final class UndoStack {

  private final Deque<Done> done = new ArrayDeque<>();
  private final Deque<Done> undone = new ArrayDeque<>();

  /** The stacks after what one editor did; both oldest first. */
  UndoStack(List<JournalEntry> entries, List<WorkspaceEntry> changes) {
    List<Done> all = new ArrayList<>(entries);
    all.addAll(changes);
    all.sort(Comparator.comparing(Done::at));
    for (Done next : all) {
      switch (next.action()) {
        case "edit" -> {
          done.push(next);
          undone.clear();
        }
        case "undo" -> move(done, undone);
        default -> move(undone, done);
      }
    }
  }

  private static void move(Deque<Done> from, Deque<Done> to) {
    Done newest = from.poll();
    if (newest != null) {
      to.push(newest);
    }
  }

  /** What undo would take back. */
  Optional<Done> toUndo() {
    return Optional.ofNullable(done.peek());
  }

  /** What redo would do again. */
  Optional<Done> toRedo() {
    return Optional.ofNullable(undone.peek());
  }
}
