package ironsieve.review;

import ironsieve.model.FieldName;
import ironsieve.region.Box;
import ironsieve.review.Finding.Evidence;
import ironsieve.review.Finding.Kind;
import ironsieve.review.Finding.Severity;
import java.util.List;
import java.util.Optional;

/** Whether a rule tells features apart where content stays encrypted. */
final class BlindFeature {

  // Some sites stay encrypted nearly everywhere; a warning for each would hide those that matter.
  private static final double MUCH_UNSEEN = 0.25;

  private final Claims claims;

  BlindFeature(Claims claims) {
    this.claims = claims;
  }

  /** That a rule does not see some or all of what it is to match, if so. */
  Optional<Finding> check(int rule) {
    List<Box> unseen = claims.unseen(rule);
    if (unseen.isEmpty()) {
      return Optional.empty();
    }
    double hidden = claims.space().weight(unseen);
    double share = hidden / (hidden + claims.space().weight(claims.of(rule)));
    boolean all = claims.of(rule).isEmpty();
    Severity severity =
        all ? Severity.ERROR : share >= MUCH_UNSEEN ? Severity.WARNING : Severity.NOTE;
    return Optional.of(
        new Finding(
            Kind.BLIND_FEATURE,
            severity,
            claims.id(rule),
            all ? Sentences.blind() : Sentences.partlyBlind(Share.exact(share)),
            List.of(Evidence.of(claims.witness(unseen.get(0)))),
            List.of(FieldName.APPLICATIONS)));
  }
}
