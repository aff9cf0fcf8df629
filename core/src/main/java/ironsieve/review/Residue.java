package ironsieve.review;

import ironsieve.model.Verdict;
import java.util.List;
import java.util.Optional;

/**
 * How much of a rule's claim still reaches it, and who took the rest.
 *
 * @param rule the rule's id
 * @param share the part that is left; exactly 0 only if nothing is
 * @param takers the rules above that catch some of the claim, the largest share first; where shares
 *     are estimated, very small takers may be missing
 * @param witness a connection that still reaches the rule, if any does
 */
public record Residue(String rule, Share share, List<Taker> takers, Optional<Witness> witness) {

  public Residue {
    takers = List.copyOf(takers);
  }

  /**
   * A rule above that catches part of the claim.
   *
   * @param rule its id
   * @param verdict what it does
   * @param share how much of the claim it catches
   * @param otherwise how much of that it decides otherwise, if it does at all
   * @param witness a connection of the claim that it catches
   */
  public record Taker(
      String rule, Verdict verdict, Share share, Optional<Share> otherwise, Witness witness) {}
}
