package ironsieve.gateway;

import ironsieve.gateway.Policy.Decision;
import ironsieve.model.Rule;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * Who has read a page that asks and chose to go on, for some hours. Safe for use by many threads;
 * forgotten when the gateway ends.
 */
final class Consents {

  /** So long what a person chose holds. */
  static final Duration LASTS = Duration.ofHours(8);

  private static final int MOST = 10_000;

  private final Map<Choice, Instant> given = bounded();
  private final Map<String, Choice> offered = bounded();
  private final SecureRandom random = new SecureRandom();

  /**
   * Who may go on past what.
   *
   * @param rule the rule that asks; nothing for the default verdict
   * @param notice the name of the page
   */
  private record Choice(Client client, Optional<String> rule, Optional<String> notice) {

    private static Choice of(Client client, Decision decision) {
      return new Choice(
          client,
          decision.rule().map(Rule::id),
          decision.outcome().flatMap(outcome -> outcome.notice()));
    }
  }

  private static <K, V> Map<K, V> bounded() {
    return new LinkedHashMap<>() {
      private static final long serialVersionUID = 1L;

      @Override
      protected boolean removeEldestEntry(Map.Entry<K, V> eldest) {
        return size() > MOST;
      }
    };
  }

  /** A word that says, from the page, that its reader goes on. */
  synchronized String offer(Client client, Decision decision) {
    byte[] word = new byte[16];
    random.nextBytes(word);
    String text = HexFormat.of().formatHex(word);
    offered.put(text, Choice.of(client, decision));
    return text;
  }

  /** Takes a word of a page; whether it was offered to this client. */
  synchronized boolean take(Client client, String word) {
    Choice choice = offered.get(word);
    if (choice == null || !choice.client().equals(client)) {
      return false;
    }
    offered.remove(word);
    given.put(choice, Instant.now());
    return true;
  }

  /** Whether a client has chosen to go on past this. */
  synchronized boolean has(Client client, Decision decision) {
    Instant when = given.get(Choice.of(client, decision));
    return when != null && when.plus(LASTS).isAfter(Instant.now());
  }
}
