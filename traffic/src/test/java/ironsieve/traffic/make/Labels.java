package ironsieve.traffic.make;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.util.Arrays;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/** HKDF with SHA-256 for keys of 32 bytes and less (RFC 5869; labels of RFC 8446, 7.1). */
final class Labels {

  private Labels() {}

  static byte[] mac(byte[] key, byte[] data) {
    try {
      Mac mac = Mac.getInstance("HmacSHA256");
      mac.init(new SecretKeySpec(key, "HmacSHA256"));
      return mac.doFinal(data);
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("every Java has SHA-256", e);
    }
  }

  static byte[] expand(byte[] secret, String label, int length) {
    byte[] info =
        new Bytes()
            .u16(length)
            .counted(1, new Bytes().raw(("tls13 " + label).getBytes(StandardCharsets.US_ASCII)))
            .u8(0)
            .u8(1)
            .done();
    return Arrays.copyOf(mac(secret, info), length);
  }
}
