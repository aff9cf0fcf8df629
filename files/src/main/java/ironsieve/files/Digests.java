package ironsieve.files;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyFactory;
import java.security.MessageDigest;
import java.security.PrivateKey;
import java.security.PublicKey;
import java.security.Signature;
import java.security.spec.PKCS8EncodedKeySpec;
import java.security.spec.X509EncodedKeySpec;
import java.util.Base64;
import java.util.HexFormat;

/** Digests by SHA-256 (FIPS 180-4) and signatures by Ed25519 (RFC 8032), of texts in UTF-8. */
public final class Digests {

  private static final String SIGNATURE = "Ed25519";

  private Digests() {}

  /** The digest of a text, in hexadecimal digits. */
  public static String of(String text) {
    return of(text.getBytes(StandardCharsets.UTF_8));
  }

  /** The digest of bytes, in hexadecimal digits. */
  public static String of(byte[] bytes) {
    try {
      return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(bytes));
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException(e);
    }
  }

  /**
   * Signs a text.
   *
   * @param key in base64 of its PKCS #8 form
   * @return in base64
   */
  public static String sign(String text, String key) {
    try {
      PrivateKey own =
          KeyFactory.getInstance(SIGNATURE)
              .generatePrivate(new PKCS8EncodedKeySpec(Base64.getDecoder().decode(key)));
      Signature signature = Signature.getInstance(SIGNATURE);
      signature.initSign(own);
      signature.update(text.getBytes(StandardCharsets.UTF_8));
      return Base64.getEncoder().encodeToString(signature.sign());
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException(e);
    }
  }

  /**
   * Whether whoever has the private key signed a text.
   *
   * @param key the public key in base64 of its X.509 form
   */
  public static boolean isSigned(String text, String signed, String key) {
    try {
      PublicKey theirs =
          KeyFactory.getInstance(SIGNATURE)
              .generatePublic(new X509EncodedKeySpec(Base64.getDecoder().decode(key)));
      Signature signature = Signature.getInstance(SIGNATURE);
      signature.initVerify(theirs);
      signature.update(text.getBytes(StandardCharsets.UTF_8));
      return signature.verify(Base64.getDecoder().decode(signed));
    } catch (GeneralSecurityException | IllegalArgumentException e) {
      return false;
    }
  }
}
