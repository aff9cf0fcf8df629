package ironsieve.server.edit;

import ironsieve.server.store.JournalEntry;
import java.util.List;

/** Thrown when an edit was made on a revision that is no longer the newest. */
public final class StaleRevisionException extends RuntimeException {

  private static final long serialVersionUID = 1L;

  private final long revision;
  private final transient List<JournalEntry> since;

  StaleRevisionException(long revision, List<JournalEntry> since) {
    super(
        "this was made on an older revision; "
            + since.stream().map(e -> e.who() + " " + e.what()).distinct().toList());
    this.revision = revision;
    this.since = List.copyOf(since);
  }

  /** The newest revision. */
  public long revision() {
    return revision;
  }

  /** What has changed since the edit's revision, oldest first. */
  public List<JournalEntry> since() {
    return since;
  }
}
