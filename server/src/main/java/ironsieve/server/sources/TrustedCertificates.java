package ironsieve.server.sources;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.Certificate;
import java.security.cert.CertificateFactory;
import javax.net.ssl.TrustManager;
import javax.net.ssl.TrustManagerFactory;

/** Whom a server's certificate may come from. */
final class TrustedCertificates {

  private TrustedCertificates() {}

  /**
   * What checks certificates.
   *
   * @param pem certificates of those who are trusted, and nobody else; empty for whom this machine
   *     trusts
   * @throws GeneralSecurityException if there is no certificate in it
   */
  static TrustManager[] of(String pem) throws GeneralSecurityException, IOException {
    KeyStore trusted = null;
    if (!pem.isEmpty()) {
      trusted = KeyStore.getInstance(KeyStore.getDefaultType());
      trusted.load(null, null);
      int number = 0;
      for (Certificate one :
          CertificateFactory.getInstance("X.509")
              .generateCertificates(
                  new ByteArrayInputStream(pem.getBytes(StandardCharsets.US_ASCII)))) {
        trusted.setCertificateEntry("trusted " + number++, one);
      }
      if (number == 0) {
        throw new GeneralSecurityException("there is no certificate in PEM");
      }
    }
    TrustManagerFactory factory =
        TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
    factory.init(trusted);
    return factory.getTrustManagers();
  }
}
