package ironsieve.model;

import java.util.Optional;

/**
 * What happens to a connection in full.
 *
 * @param verdict what happens
 * @param notice the name of the page shown; there exactly if the verdict shows one
 * @param lane the name of the lane it goes in; only with {@link Verdict#ALLOW}
 */
public record Outcome(Verdict verdict, Optional<String> notice, Optional<String> lane) {

  public Outcome {
    if (verdict.shows() != notice.isPresent()) {
      throw new IllegalArgumentException(
          verdict.word() + (verdict.shows() ? " needs a notice" : " shows no notice"));
    }
    if (lane.isPresent() && verdict != Verdict.ALLOW) {
      throw new IllegalArgumentException(
          "only what is allowed goes in a lane, not what meets " + verdict.word());
    }
  }

  /** A bare verdict, without notice or lane. */
  public static Outcome of(Verdict verdict) {
    return new Outcome(verdict, Optional.empty(), Optional.empty());
  }
}
