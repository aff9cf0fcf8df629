package ironsieve.server.api;

import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.edit.UnknownException;

/** Names in requests that must be there. */
final class RuleLookup {

  private RuleLookup() {}

  /**
   * The id of a rule.
   *
   * @throws UnknownException if the rulebase has no such rule
   */
  static String rule(RulebaseSnapshot snapshot, String id) {
    if (!snapshot.contents().rules().containsKey(id)) {
      throw UnknownException.of("rule", id, snapshot.contents().rules().keySet());
    }
    return id;
  }
}
