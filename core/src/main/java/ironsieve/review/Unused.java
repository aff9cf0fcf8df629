package ironsieve.review;

import ironsieve.recorded.Hits;
import ironsieve.review.Finding.Evidence;
import ironsieve.review.Finding.Kind;
import ironsieve.review.Finding.Severity;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;

/** Rules that something can reach, but that nothing on the tapes fell on. */
final class Unused {

  // A month has seen what is done once a month.
  private static final long LONG_ENOUGH = 28;

  private final BitSet hit;
  private final Optional<Message> said;
  private final Severity severity;

  /** By what was hit of a rulebase; nothing is said where no traffic was recorded. */
  Unused(Hits hits) {
    hit = hits.rules();
    said = hits.period().map(period -> message(hits, period));
    boolean enough = hits.period().filter(period -> period.days() >= LONG_ENOUGH).isPresent();
    severity = enough ? Severity.NOTE : Severity.QUIET;
  }

  /** Whether the traffic fell on a rule. */
  boolean isHit(int rule) {
    return hit.get(rule);
  }

  /** Whether another says the same of what nothing fell on. */
  boolean saysAlike(Unused other) {
    return said.equals(other.said) && severity == other.severity;
  }

  /** That nothing fell on a rule, if so and if something can reach it. */
  Optional<Finding> finding(int rule, Reviewed reviewed) {
    if (said.isEmpty() || isHit(rule)) {
      return Optional.empty();
    }
    Residue residue = reviewed.residue();
    return residue
        .witness()
        .map(
            reaching ->
                new Finding(
                    Kind.UNUSED,
                    severity,
                    residue.rule(),
                    said.get(),
                    List.of(Evidence.of(reaching)),
                    List.of()));
  }

  private static Message message(Hits hits, Hits.Period period) {
    return Sentences.unused(
        period.days(), hits.times(), period.from().toLocalDate(), period.to().toLocalDate());
  }
}
