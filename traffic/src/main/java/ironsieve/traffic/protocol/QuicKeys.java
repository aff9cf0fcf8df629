package ironsieve.traffic.protocol;

import java.security.GeneralSecurityException;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.Optional;
import javax.crypto.Cipher;
import javax.crypto.spec.ChaCha20ParameterSpec;
import javax.crypto.spec.SecretKeySpec;

/**
 * Takes the protection off packets of QUIC versions 1 and 2 that go in one direction (RFC 9001, 5;
 * RFC 9369, 3.3), as long as they are all protected by keys that come of one secret.
 */
final class QuicKeys {

  static final int VERSION_1 = 1;
  static final int VERSION_2 = 0x6B3343CF;

  private static final byte[] SALT_1 =
      HexFormat.of().parseHex("38762cf7f55934b34d179ae6a4c80cadccbb7f0a");
  private static final byte[] SALT_2 =
      HexFormat.of().parseHex("0dede3def700a6db819381be6e269dcbf9bd2ed9");

  /** The one that first packets are always protected with. */
  static final RecordCipher.Suite INITIAL_SUITE = RecordCipher.Suite.of(0x1301).orElseThrow();

  private static final int SAMPLE = 16;
  private static final int KEY_PHASE = 4;

  /**
   * What a packet held.
   *
   * @param number of the packet
   */
  record Opened(long number, byte[] frames) {}

  private final int version;
  private final RecordCipher.Suite suite;
  private final Cipher hiding;
  private final SecretKeySpec hidingKey;
  private final Cipher cipher;
  private Phase phase;

  /** What the keys of a secret are. */
  record Material(byte[] key, byte[] iv, byte[] hiding) {

    static Material of(int version, RecordCipher.Suite suite, byte[] secret) {
      return new Material(
          label(version, suite, secret, "key", suite.key()),
          label(version, suite, secret, "iv", 12),
          label(version, suite, secret, "hp", suite.key()));
    }
  }

  /** The keys until the next time they are renewed. */
  private record Phase(byte[] secret, Material keys, boolean bit) {}

  private QuicKeys(int version, RecordCipher.Suite suite, byte[] secret) {
    this.version = version;
    this.suite = suite;
    boolean isChaCha = suite.kind() == RecordCipher.Kind.CHACHA;
    phase = new Phase(secret, Material.of(version, suite, secret), false);
    // Renewed keys go on hiding numbers with the first one.
    hidingKey = suite.key(phase.keys().hiding());
    try {
      hiding = Cipher.getInstance(isChaCha ? "ChaCha20" : "AES/ECB/NoPadding");
      cipher = suite.cipher();
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("every Java has these ciphers", e);
    }
  }

  static boolean isKnown(int version) {
    return version == VERSION_1 || version == VERSION_2;
  }

  /**
   * Of somebody's first packets.
   *
   * @param destination the connection id that the client's first packet of all named
   */
  static QuicKeys initial(int version, byte[] destination, boolean ofClient) {
    return new QuicKeys(version, INITIAL_SUITE, initialSecret(version, destination, ofClient));
  }

  static byte[] initialSecret(int version, byte[] destination, boolean ofClient) {
    String hash = INITIAL_SUITE.hash();
    byte[] initial = Secrets.extract(hash, version == VERSION_2 ? SALT_2 : SALT_1, destination);
    return Secrets.expandLabel(hash, initial, ofClient ? "client in" : "server in", 32);
  }

  /** With a traffic secret of TLS 1.3. */
  static QuicKeys ofSecret(int version, RecordCipher.Suite suite, byte[] secret) {
    return new QuicKeys(version, suite, secret);
  }

  private static byte[] label(
      int version, RecordCipher.Suite suite, byte[] secret, String name, int length) {
    String prefix = version == VERSION_2 ? "quicv2 " : "quic ";
    return Secrets.expandLabel(suite.hash(), secret, prefix + name, length);
  }

  private Phase renewed() {
    byte[] secret = label(version, suite, phase.secret(), "ku", phase.secret().length);
    return new Phase(secret, Material.of(version, suite, secret), !phase.bit());
  }

  /**
   * Opens a packet.
   *
   * @param at where it begins
   * @param numberAt where its number begins
   * @param end where it ends
   * @param largest the largest number seen before, or -1
   * @return nothing if it was not protected by these keys; perhaps nothing if it is the one before
   *     once more, for the library refuses a nonce twice in a row
   */
  Optional<Opened> open(byte[] bytes, int at, int numberAt, int end, long largest) {
    if (end - numberAt < 4 + SAMPLE) {
      return Optional.empty();
    }
    try {
      byte[] mask = mask(bytes, numberAt + 4);
      boolean isLong = (bytes[at] & 0x80) != 0;
      byte[] header = Arrays.copyOfRange(bytes, at, numberAt + 4);
      header[0] ^= (byte) (mask[0] & (isLong ? 0x0F : 0x1F));
      int numberLength = (header[0] & 3) + 1;
      long cut = 0;
      for (int i = 0; i < numberLength; i++) {
        int place = numberAt - at + i;
        header[place] ^= mask[1 + i];
        cut = cut << 8 | header[place] & 0xFF;
      }
      long number = whole(cut, numberLength, largest);
      Phase used = phase;
      if (!isLong && (header[0] & KEY_PHASE) != 0 != phase.bit()) {
        used = renewed();
      }
      cipher.init(
          Cipher.DECRYPT_MODE,
          suite.key(used.keys().key()),
          suite.parameters(RecordCipher.Suite.nonce(used.keys().iv(), number)));
      cipher.updateAAD(header, 0, numberAt - at + numberLength);
      int from = numberAt + numberLength;
      byte[] frames = cipher.doFinal(bytes, from, end - from);
      phase = used;
      return Optional.of(new Opened(number, frames));
    } catch (GeneralSecurityException e) {
      return Optional.empty();
    }
  }

  private byte[] mask(byte[] bytes, int sample) throws GeneralSecurityException {
    if (suite.kind() != RecordCipher.Kind.CHACHA) {
      hiding.init(Cipher.ENCRYPT_MODE, hidingKey);
      return hiding.doFinal(bytes, sample, SAMPLE);
    }
    int counter = 0;
    for (int i = 3; i >= 0; i--) {
      counter = counter << 8 | bytes[sample + i] & 0xFF;
    }
    byte[] nonce = Arrays.copyOfRange(bytes, sample + 4, sample + SAMPLE);
    hiding.init(Cipher.ENCRYPT_MODE, hidingKey, new ChaCha20ParameterSpec(nonce, counter));
    return hiding.doFinal(new byte[5]);
  }

  /** A packet's number from its last bytes (RFC 9000, A.3). */
  static long whole(long cut, int length, long largest) {
    long expected = largest + 1;
    long window = 1L << 8 * length;
    long candidate = expected & -window | cut;
    if (candidate <= expected - window / 2 && candidate < (1L << 62) - window) {
      return candidate + window;
    }
    return candidate > expected + window / 2 && candidate >= window
        ? candidate - window
        : candidate;
  }
}
