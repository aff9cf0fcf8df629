package ironsieve.model;

import java.util.List;

/**
 * What the rules of a rulebase share.
 *
 * @param sets named sets
 * @param sheets usage sheets
 * @param notices pages people are shown
 * @param lanes bandwidth promises and ceilings
 * @param decryption whose content is decrypted, from the top
 * @param capacity what the link can carry, for guarantees to be held against; {@link
 *     Lane.Rates#NONE} if nobody said
 */
public record Parts(
    List<NamedSet> sets,
    List<UsageSheet> sheets,
    List<Notice> notices,
    List<Lane> lanes,
    List<DecryptionRule> decryption,
    Lane.Rates capacity) {

  public Parts {
    sets = List.copyOf(sets);
    sheets = List.copyOf(sheets);
    notices = List.copyOf(notices);
    lanes = List.copyOf(lanes);
    decryption = List.copyOf(decryption);
  }

  /** Named sets and nothing else. */
  public static Parts of(List<NamedSet> sets) {
    return new Parts(sets, List.of(), List.of(), List.of(), List.of(), Lane.Rates.NONE);
  }
}
