package ironsieve.server.store;

import java.time.Instant;

/** Something that somebody did and can take back. */
public sealed interface Done permits JournalEntry, WorkspaceEntry {

  Instant at();

  /** {@code edit}, {@code undo} or {@code redo}. */
  String action();

  /** In a few words. */
  String what();
}
