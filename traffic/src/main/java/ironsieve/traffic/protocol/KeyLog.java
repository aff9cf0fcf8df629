package ironsieve.traffic.protocol;

import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Secrets of TLS sessions, from key logs (draft-ietf-tls-keylogfile): a label, the client's random
 * number and the secret on each line.
 */
public final class KeyLog {

  static final String MASTER = "CLIENT_RANDOM";
  static final String CLIENT_EARLY = "CLIENT_EARLY_TRAFFIC_SECRET";
  static final String CLIENT_HANDSHAKE = "CLIENT_HANDSHAKE_TRAFFIC_SECRET";
  static final String SERVER_HANDSHAKE = "SERVER_HANDSHAKE_TRAFFIC_SECRET";
  static final String CLIENT_DATA = "CLIENT_TRAFFIC_SECRET_0";
  static final String SERVER_DATA = "SERVER_TRAFFIC_SECRET_0";

  private static final Set<String> USED =
      Set.of(MASTER, CLIENT_EARLY, CLIENT_HANDSHAKE, SERVER_HANDSHAKE, CLIENT_DATA, SERVER_DATA);

  private static final int MOST_LINES = 1_000_000;
  private static final int LONGEST_SECRET = 64;

  private final Map<String, byte[]> secrets = new HashMap<>();
  private long unreadable;
  private long unused;

  /** No secrets. */
  public KeyLog() {}

  /** Adds the secrets of a key log; lines that are none are counted and passed over. */
  public void add(String text) {
    text.lines().forEach(this::line);
  }

  private void line(String line) {
    if (line.isBlank() || line.startsWith("#")) {
      return;
    }
    String[] parts = line.trim().split("\\s+");
    if (isSecret(parts) && !USED.contains(parts[0]) || isOfEncryptedSecret(parts)) {
      unused++;
      return;
    }
    if (!isSecret(parts) || secrets.size() >= MOST_LINES) {
      unreadable++;
      return;
    }
    secrets.put(
        parts[0] + " " + parts[1].toLowerCase(Locale.ROOT),
        java.util.HexFormat.of().parseHex(parts[2]));
  }

  private static boolean isSecret(String[] parts) {
    return parts.length == 3
        && parts[1].matches("[0-9a-fA-F]{64}")
        && parts[2].matches("([0-9a-fA-F]{2}){1," + LONGEST_SECRET + "}");
  }

  /** Of RSA key exchange: the secret by the first bytes of how it was sent, not by the client. */
  private static boolean isOfEncryptedSecret(String[] parts) {
    return parts.length == 3
        && parts[0].equals("RSA")
        && parts[1].matches("[0-9a-fA-F]{16}")
        && parts[2].matches("[0-9a-fA-F]{96}");
  }

  /** How many lines hold keys of a kind that nothing is opened with here. */
  public long unused() {
    return unused;
  }

  /** How many lines were none of a key log. */
  public long unreadable() {
    return unreadable;
  }

  /** How many secrets there are. */
  public int size() {
    return secrets.size();
  }

  Optional<byte[]> secret(String label, byte[] clientRandom) {
    return secrets.isEmpty()
        ? Optional.empty()
        : Optional.ofNullable(
            secrets.get(label + " " + java.util.HexFormat.of().formatHex(clientRandom)));
  }
}
