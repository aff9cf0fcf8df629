package ironsieve.server.store;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.LocalDate;
import java.util.Base64;

/**
 * What an answer about a rulebase was worked out from; two answers with equal states belong
 * together.
 *
 * @param revision of the rulebase
 * @param workspace how often what it is read against has changed
 * @param tapes how often its tapes have changed
 * @param steps what each question of its reviews may take; 0 for as many as usual
 * @param day from which on the review looks
 */
public record State(long revision, long workspace, long tapes, int steps, LocalDate day) {

  /** The state as answers carry it: equal exactly where states are, and nothing to be read. */
  public String token() {
    try {
      byte[] digest =
          MessageDigest.getInstance("SHA-256").digest(toString().getBytes(StandardCharsets.UTF_8));
      return Base64.getUrlEncoder().withoutPadding().encodeToString(digest).substring(0, 16);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java has SHA-256", e);
    }
  }

  /** The same at another revision. */
  public State at(long other) {
    return new State(other, workspace, tapes, steps, day);
  }

  /** Whether everything but revision, tapes and budget is the same, so that claims stay. */
  public boolean readsLike(State other) {
    return workspace == other.workspace && day.equals(other.day);
  }
}
