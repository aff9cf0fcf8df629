package ironsieve.traffic.log;

import ironsieve.model.Verdict;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.util.Map;
import java.util.Optional;

/**
 * What a gateway says that it decided.
 *
 * @param at local date and time
 * @param release the number of the release that it decided by
 * @param verdict nothing for a connection that ended before it was decided
 * @param rule the id of the rule that caught it; nothing for the default verdict
 * @param client the port that the client spoke from
 * @param probe the connection in the words of a probe; nothing where it is not to be recorded
 */
public record LoggedDecision(
    LocalDateTime at,
    int release,
    Optional<Verdict> verdict,
    Optional<String> rule,
    int client,
    Optional<String> probe) {

  /**
   * Reads the parameters of an element.
   *
   * @throws IllegalArgumentException or a DateTimeException naming what cannot be read
   */
  static LoggedDecision of(String time, Map<String, String> said, ZoneId zone) {
    return new LoggedDecision(
        OffsetDateTime.parse(time).atZoneSameInstant(zone).toLocalDateTime(),
        number(said, "release"),
        Optional.ofNullable(said.get("verdict")).map(LoggedDecision::verdict),
        Optional.ofNullable(said.get("rule")),
        number(said, "client"),
        Optional.ofNullable(said.get("probe")));
  }

  private static int number(Map<String, String> said, String name) {
    String text = said.get(name);
    if (text == null || !text.matches("\\d{1,9}")) {
      throw new IllegalArgumentException(name + " is a number, not " + text);
    }
    return Integer.parseInt(text);
  }

  private static Verdict verdict(String word) {
    for (Verdict verdict : Verdict.values()) {
      if (verdict.word().equals(word)) {
        return verdict;
      }
    }
    throw new IllegalArgumentException("there is no verdict " + word);
  }
}
