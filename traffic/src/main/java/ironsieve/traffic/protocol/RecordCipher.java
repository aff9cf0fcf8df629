package ironsieve.traffic.protocol;

import java.security.GeneralSecurityException;
import java.security.spec.AlgorithmParameterSpec;
import java.util.Arrays;
import java.util.Optional;
import javax.crypto.Cipher;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.IvParameterSpec;
import javax.crypto.spec.SecretKeySpec;

/**
 * Opens the records of one direction of a TLS connection of which the secret is known. Suites: GCM
 * and ChaCha20-Poly1305 of both versions, and CBC of TLS 1.2, whose MAC is not checked.
 */
final class RecordCipher {

  /** How a suite encrypts. */
  enum Kind {
    GCM,
    CHACHA,
    CBC
  }

  /**
   * A cipher suite.
   *
   * @param hash the name of its HMAC
   * @param mac the bytes of its MAC; 0 where the cipher has its own
   */
  record Suite(Kind kind, int key, String hash, int mac) {

    private static final String SHA256 = "HmacSHA256";
    private static final String SHA384 = "HmacSHA384";

    /** A suite by its number in the registry; nothing for one that cannot be opened. */
    static Optional<Suite> of(int number) {
      return Optional.ofNullable(
          switch (number) {
            case 0x1301 -> new Suite(Kind.GCM, 16, SHA256, 0);
            case 0x1302 -> new Suite(Kind.GCM, 32, SHA384, 0);
            case 0x1303 -> new Suite(Kind.CHACHA, 32, SHA256, 0);
            case 0xC02B, 0xC02F, 0x009C, 0x009E, 0xC02D, 0xC031 ->
                new Suite(Kind.GCM, 16, SHA256, 0);
            case 0xC02C, 0xC030, 0x009D, 0x009F, 0xC02E, 0xC032 ->
                new Suite(Kind.GCM, 32, SHA384, 0);
            case 0xCCA8, 0xCCA9, 0xCCAA -> new Suite(Kind.CHACHA, 32, SHA256, 0);
            case 0x002F, 0x0033, 0xC009, 0xC013 -> new Suite(Kind.CBC, 16, SHA256, 20);
            case 0x0035, 0x0039, 0xC00A, 0xC014 -> new Suite(Kind.CBC, 32, SHA256, 20);
            case 0x003C, 0x0067, 0xC023, 0xC027 -> new Suite(Kind.CBC, 16, SHA256, 32);
            case 0x003D, 0x006B -> new Suite(Kind.CBC, 32, SHA256, 32);
            case 0xC024, 0xC028 -> new Suite(Kind.CBC, 32, SHA384, 48);
            default -> null;
          });
    }

    /** What keys of it are for. */
    SecretKeySpec key(byte[] bytes) {
      return new SecretKeySpec(bytes, kind == Kind.CHACHA ? "ChaCha20" : "AES");
    }

    Cipher cipher() throws GeneralSecurityException {
      return Cipher.getInstance(
          switch (kind) {
            case GCM -> "AES/GCM/NoPadding";
            case CHACHA -> "ChaCha20-Poly1305";
            case CBC -> "AES/CBC/NoPadding";
          });
    }

    /** How a cipher with a tag of its own takes a nonce. */
    AlgorithmParameterSpec parameters(byte[] nonce) {
      return kind == Kind.GCM ? new GCMParameterSpec(8 * TAG, nonce) : new IvParameterSpec(nonce);
    }

    /** The nonce of a record or packet, by its number (RFC 8446, 5.3). */
    static byte[] nonce(byte[] iv, long number) {
      byte[] nonce = iv.clone();
      for (int i = 0; i < 8; i++) {
        nonce[11 - i] ^= (byte) (number >>> 8 * i);
      }
      return nonce;
    }

    int fixedIv() {
      return switch (kind) {
        case GCM -> 4;
        case CHACHA -> 12;
        case CBC -> 0;
      };
    }
  }

  private static final int TAG = 16;

  private final Suite suite;
  private final boolean isTls13;
  private final boolean isMacLast;
  private final Cipher cipher;
  private final SecretKeySpec key;
  private final byte[] iv;
  private long sequence;

  private RecordCipher(Suite suite, boolean isTls13, boolean isMacLast, byte[] key, byte[] iv)
      throws GeneralSecurityException {
    this.suite = suite;
    this.isTls13 = isTls13;
    this.isMacLast = isMacLast;
    this.iv = iv;
    this.key = suite.key(key);
    this.cipher = suite.cipher();
  }

  /** With a traffic secret of TLS 1.3. */
  static RecordCipher ofSecret(Suite suite, byte[] secret) {
    try {
      return new RecordCipher(
          suite,
          true,
          false,
          Secrets.expandLabel(suite.hash(), secret, "key", suite.key()),
          Secrets.expandLabel(suite.hash(), secret, "iv", 12));
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("every Java has these ciphers", e);
    }
  }

  /** With a key and what is fixed of the nonce, of TLS 1.2. */
  static RecordCipher ofKey(Suite suite, boolean isMacLast, byte[] key, byte[] iv) {
    try {
      return new RecordCipher(suite, false, isMacLast, key, iv);
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("every Java has these ciphers", e);
    }
  }

  /**
   * What a record holds; nothing if it was not encrypted with this.
   *
   * @param header the record's five bytes
   */
  Optional<byte[]> open(byte[] header, byte[] bytes, int offset, int length) {
    try {
      byte[] plain =
          suite.kind() == Kind.CBC
              ? cbc(bytes, offset, length)
              : authenticated(header, bytes, offset, length);
      sequence++;
      return Optional.of(plain);
    } catch (GeneralSecurityException | IllegalArgumentException e) {
      return Optional.empty();
    }
  }

  private byte[] authenticated(byte[] header, byte[] bytes, int offset, int length)
      throws GeneralSecurityException {
    boolean isExplicit = !isTls13 && suite.kind() == Kind.GCM;
    int skipped = isExplicit ? 8 : 0;
    if (length < skipped + TAG) {
      throw new IllegalArgumentException("shorter than its tag");
    }
    byte[] nonce;
    if (isExplicit) {
      nonce = Arrays.copyOf(iv, 12);
      System.arraycopy(bytes, offset, nonce, 4, 8);
    } else {
      nonce = Suite.nonce(iv, sequence);
    }
    cipher.init(Cipher.DECRYPT_MODE, key, suite.parameters(nonce));
    cipher.updateAAD(isTls13 ? header : additional(header, length - skipped - TAG));
    return cipher.doFinal(bytes, offset + skipped, length - skipped);
  }

  private byte[] additional(byte[] header, int plainLength) {
    byte[] data = new byte[13];
    for (int i = 0; i < 8; i++) {
      data[7 - i] = (byte) (sequence >>> 8 * i);
    }
    System.arraycopy(header, 0, data, 8, 3);
    data[11] = (byte) (plainLength >> 8);
    data[12] = (byte) plainLength;
    return data;
  }

  private byte[] cbc(byte[] bytes, int offset, int length) throws GeneralSecurityException {
    int encrypted = isMacLast ? length - suite.mac() : length;
    if (encrypted < 32 || encrypted % 16 != 0) {
      throw new IllegalArgumentException("not whole blocks");
    }
    cipher.init(Cipher.DECRYPT_MODE, key, new IvParameterSpec(bytes, offset, 16));
    byte[] plain = cipher.doFinal(bytes, offset + 16, encrypted - 16);
    int padding = (plain[plain.length - 1] & 0xFF) + 1;
    int left = plain.length - padding - (isMacLast ? 0 : suite.mac());
    if (left < 0) {
      throw new IllegalArgumentException("padding longer than the record");
    }
    return Arrays.copyOf(plain, left);
  }
}
