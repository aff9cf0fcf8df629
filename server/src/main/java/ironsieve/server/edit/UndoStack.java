package ironsieve.server.edit;

import ironsieve.server.store.JournalEntry;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import java.util.Optional;

/**
 * What one editor can undo and redo, read from their part of the journal: an edit can be undone, an
 * undo redone, and a new edit ends what could be redone.
 */
final class UndoStack {

  private final Deque<JournalEntry> done = new ArrayDeque<>();
  private final Deque<JournalEntry> undone = new ArrayDeque<>();

  /** The stacks after these entries of one editor, oldest first. */
  UndoStack(List<JournalEntry> entries) {
    for (JournalEntry entry : entries) {
      switch (entry.action()) {
        case "edit" -> {
          done.push(entry);
          undone.clear();
        }
        case "undo" -> move(done, undone);
        default -> move(undone, done);
      }
    }
  }

  private static void move(Deque<JournalEntry> from, Deque<JournalEntry> to) {
    JournalEntry newest = from.poll();
    if (newest != null) {
      to.push(newest);
    }
  }

  /** The edit that undo would take back. */
  Optional<JournalEntry> toUndo() {
    return Optional.ofNullable(done.peek());
  }

  /** The edit that redo would make again. */
  Optional<JournalEntry> toRedo() {
    return Optional.ofNullable(undone.peek());
  }
}
