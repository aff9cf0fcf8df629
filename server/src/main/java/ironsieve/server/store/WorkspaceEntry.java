package ironsieve.server.store;

import ironsieve.server.change.Change;
import java.time.Instant;
import java.util.List;

/**
 * One change of what all rulebases are read against, or of which rulebases there are.
 *
 * @param number its place in the journal, counted from 1
 * @param version how often the workspace had changed with it
 * @param reason why, as whoever made it said; may be empty
 * @param what a few words, such as {@code changed zone Offices}
 * @param action {@code edit}, {@code undo} or {@code redo}
 * @param target the number of the change that was undone or redone; null for one that is neither
 * @param changes every record it changed
 */
public record WorkspaceEntry(
    long number,
    long version,
    Instant at,
    String who,
    String reason,
    String what,
    String action,
    Long target,
    List<Change> changes)
    implements Done {

  public WorkspaceEntry {
    changes = List.copyOf(changes);
  }
}
