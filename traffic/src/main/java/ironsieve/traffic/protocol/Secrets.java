package ironsieve.traffic.protocol;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.util.Arrays;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/** Keys from secrets: HKDF (RFC 5869) with the labels of TLS 1.3, and the PRF of TLS 1.2. */
final class Secrets {

  private Secrets() {}

  static byte[] hmac(String hash, byte[] key, byte[]... parts) {
    try {
      Mac mac = Mac.getInstance(hash);
      mac.init(new SecretKeySpec(key.length == 0 ? new byte[1] : key, hash));
      for (byte[] part : parts) {
        mac.update(part);
      }
      return mac.doFinal();
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("every Java has " + hash, e);
    }
  }

  static byte[] extract(String hash, byte[] salt, byte[] secret) {
    return hmac(hash, salt, secret);
  }

  /** HKDF-Expand-Label (RFC 8446, 7.1) without a context. */
  static byte[] expandLabel(String hash, byte[] secret, String label, int length) {
    byte[] full = ("tls13 " + label).getBytes(StandardCharsets.US_ASCII);
    byte[] info = new byte[4 + full.length];
    info[0] = (byte) (length >> 8);
    info[1] = (byte) length;
    info[2] = (byte) full.length;
    System.arraycopy(full, 0, info, 3, full.length);
    byte[] out = new byte[0];
    byte[] last = new byte[0];
    for (int i = 1; out.length < length; i++) {
      last = hmac(hash, secret, last, info, new byte[] {(byte) i});
      out = join(out, last);
    }
    return Arrays.copyOf(out, length);
  }

  /** The PRF of TLS 1.2 (RFC 5246, 5). */
  static byte[] prf(String hash, byte[] secret, String label, byte[] seed, int length) {
    byte[] start = join(label.getBytes(StandardCharsets.US_ASCII), seed);
    byte[] out = new byte[0];
    byte[] link = start;
    while (out.length < length) {
      link = hmac(hash, secret, link);
      out = join(out, hmac(hash, secret, link, start));
    }
    return Arrays.copyOf(out, length);
  }

  static byte[] join(byte[] first, byte[] second) {
    byte[] joined = Arrays.copyOf(first, first.length + second.length);
    System.arraycopy(second, 0, joined, first.length, second.length);
    return joined;
  }
}
