package ironsieve.server.store;

import ironsieve.server.change.Change;
import java.time.Instant;
import java.util.List;

/**
 * One revision of a rulebase.
 *
 * @param reason why, as whoever made it said; may be empty
 * @param what a few words, such as {@code moved rule 12}
 * @param action {@code edit}, {@code undo} or {@code redo}
 * @param target the revision that was undone or redone; null for an edit
 * @param changes every record it changed
 */
public record JournalEntry(
    long revision,
    Instant at,
    String who,
    String reason,
    String what,
    String action,
    Long target,
    List<Change> changes)
    implements Done {}
