package ironsieve.server.releases;

import java.time.Instant;
import java.util.List;

/**
 * A release of a rulebase.
 *
 * @param number among those of its rulebase, from 1 on
 * @param revision that it was made of
 * @param leftOut the revisions up to that one whose edits are not in it, the oldest first
 * @param reference a change reference; may be empty
 * @param overrides what stood against it, and why it was made all the same
 * @param manifest the text of its manifest, and {@code signature} of that
 */
public record Release(
    String rulebase,
    int number,
    long revision,
    List<Long> leftOut,
    String title,
    String reference,
    String note,
    List<Override> overrides,
    String who,
    Instant at,
    String manifest,
    String signature) {

  public Release {
    leftOut = List.copyOf(leftOut);
    overrides = List.copyOf(overrides);
  }

  /**
   * Something that stood against a release and was overridden.
   *
   * @param stop its id, see {@link Stops.Stop}
   * @param words what it was, in a sentence of that time
   * @param reason why the release was made all the same
   */
  public record Override(String stop, String words, String reason) {}
}
