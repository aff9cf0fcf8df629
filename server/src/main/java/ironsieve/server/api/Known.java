package ironsieve.server.api;

import ironsieve.server.edit.Bench;
import ironsieve.server.edit.UnknownException;

/** Names in requests that must be there. */
final class Known {

  private Known() {}

  /**
   * The id of a rule.
   *
   * @throws UnknownException if the rulebase has no such rule
   */
  static String rule(Bench bench, String id) {
    if (!bench.contents().rules().containsKey(id)) {
      throw UnknownException.of("rule", id, bench.contents().rules().keySet());
    }
    return id;
  }
}
