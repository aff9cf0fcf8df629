package ironsieve.server.releases;

import java.time.Instant;

/**
 * A release of a rulebase.
 *
 * @param number among those of its rulebase, from 1 on
 * @param revision that it was made of
 * @param reference a change reference; may be empty
 * @param manifest the text of its manifest, and {@code signature} of that
 */
public record Release(
    String rulebase,
    int number,
    long revision,
    String title,
    String reference,
    String note,
    String who,
    Instant at,
    String manifest,
    String signature) {}
