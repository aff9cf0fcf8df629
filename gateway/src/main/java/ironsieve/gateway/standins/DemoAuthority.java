package ironsieve.gateway.standins;

import java.io.IOException;
import java.io.OutputStream;
import java.math.BigInteger;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.KeyStore;
import java.security.Principal;
import java.security.PrivateKey;
import java.security.SecureRandom;
import java.security.cert.X509Certificate;
import java.security.spec.ECGenParameterSpec;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Base64;
import java.util.Date;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import javax.net.ssl.ExtendedSSLSession;
import javax.net.ssl.SNIHostName;
import javax.net.ssl.SNIServerName;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.X509ExtendedKeyManager;
import org.bouncycastle.asn1.x500.X500Name;
import org.bouncycastle.asn1.x509.BasicConstraints;
import org.bouncycastle.asn1.x509.Extension;
import org.bouncycastle.asn1.x509.GeneralName;
import org.bouncycastle.asn1.x509.GeneralNames;
import org.bouncycastle.cert.X509v3CertificateBuilder;
import org.bouncycastle.cert.jcajce.JcaX509CertificateConverter;
import org.bouncycastle.cert.jcajce.JcaX509v3CertificateBuilder;
import org.bouncycastle.operator.OperatorCreationException;
import org.bouncycastle.operator.jcajce.JcaContentSignerBuilder;

/**
 * The demo's own authority: makes a certificate for any host as it is asked for. Its key stays in a
 * folder, so that who trusts it need not do so again; nobody else should ever trust it.
 */
final class DemoAuthority {

  private static final X500Name NAME = new X500Name("CN=Stand-in authority of the demo");
  private static final String ALIAS = "authority";
  private static final char[] PASSWORD = "stand-in".toCharArray();
  private static final String SIGNED_WITH = "SHA256withECDSA";
  private static final int DAYS = 825;

  /** As many are remembered; a client may ask for any number of hosts. */
  private static final int MOST_ISSUED = 10_000;

  private static final String NAMELESS = "stand-in.example";

  private final PrivateKey key;
  private final X509Certificate certificate;
  private final Map<String, Issued> issued = new ConcurrentHashMap<>();

  /** A certificate with its key. */
  private record Issued(X509Certificate certificate, PrivateKey key) {}

  /**
   * The authority of a folder; made there if there is none. Whoever wants to trust it finds its
   * certificate there as {@code authority.pem}.
   */
  DemoAuthority(Path folder) throws IOException, GeneralSecurityException {
    Path file = Files.createDirectories(folder).resolve("authority.p12");
    KeyStore store = KeyStore.getInstance("PKCS12");
    if (Files.exists(file)) {
      try (var in = Files.newInputStream(file)) {
        store.load(in, PASSWORD);
      }
    } else {
      store.load(null, PASSWORD);
      KeyPair own = pair();
      X509Certificate made = certificate(NAME, own, NAME, own.getPrivate(), null);
      store.setKeyEntry(ALIAS, own.getPrivate(), PASSWORD, new X509Certificate[] {made});
      try (OutputStream out = Files.newOutputStream(file)) {
        store.store(out, PASSWORD);
      }
    }
    key = (PrivateKey) store.getKey(ALIAS, PASSWORD);
    certificate = (X509Certificate) store.getCertificate(ALIAS);
    Files.writeString(folder.resolve("authority.pem"), pem(certificate));
  }

  private static String pem(X509Certificate certificate) throws GeneralSecurityException {
    return "-----BEGIN CERTIFICATE-----\n"
        + Base64.getMimeEncoder(64, "\n".getBytes(StandardCharsets.US_ASCII))
            .encodeToString(certificate.getEncoded())
        + "\n-----END CERTIFICATE-----\n";
  }

  private static KeyPair pair() throws GeneralSecurityException {
    KeyPairGenerator generator = KeyPairGenerator.getInstance("EC");
    generator.initialize(new ECGenParameterSpec("secp256r1"));
    return generator.generateKeyPair();
  }

  /** A certificate; of a host, or of an authority where that is null. */
  private static X509Certificate certificate(
      X500Name subject, KeyPair pair, X500Name issuer, PrivateKey issuerKey, String host)
      throws GeneralSecurityException, IOException {
    Instant now = Instant.now();
    X509v3CertificateBuilder builder =
        new JcaX509v3CertificateBuilder(
            issuer,
            new BigInteger(120, new SecureRandom()),
            Date.from(now.minus(1, ChronoUnit.DAYS)),
            Date.from(now.plus(DAYS, ChronoUnit.DAYS)),
            subject,
            pair.getPublic());
    builder.addExtension(Extension.basicConstraints, true, new BasicConstraints(host == null));
    if (host != null) {
      builder.addExtension(
          Extension.subjectAlternativeName,
          false,
          new GeneralNames(new GeneralName(GeneralName.dNSName, host)));
    }
    try {
      return new JcaX509CertificateConverter()
          .getCertificate(builder.build(new JcaContentSignerBuilder(SIGNED_WITH).build(issuerKey)));
    } catch (OperatorCreationException e) {
      throw new GeneralSecurityException(e);
    }
  }

  private Issued of(String host) {
    if (issued.size() >= MOST_ISSUED) {
      issued.clear();
    }
    return issued.computeIfAbsent(
        host,
        name -> {
          try {
            KeyPair pair = pair();
            X500Name subject = new X500Name("CN=stand-in");
            return new Issued(certificate(subject, pair, NAME, key, name), pair.getPrivate());
          } catch (GeneralSecurityException | IOException e) {
            throw new IllegalStateException("no certificate for " + name, e);
          }
        });
  }

  /** TLS as a server of whatever host a client names. */
  SSLContext context() throws GeneralSecurityException {
    SSLContext context = SSLContext.getInstance("TLS");
    context.init(new X509ExtendedKeyManager[] {new ByName()}, null, null);
    return context;
  }

  /** Chooses the certificate of the host that a client names; the alias is that name. */
  private final class ByName extends X509ExtendedKeyManager {

    @Override
    public String chooseEngineServerAlias(String type, Principal[] issuers, SSLEngine engine) {
      if (!type.equals("EC")) {
        return null;
      }
      List<SNIServerName> names =
          ((ExtendedSSLSession) engine.getHandshakeSession()).getRequestedServerNames();
      return names.stream()
          .filter(SNIHostName.class::isInstance)
          .map(name -> ((SNIHostName) name).getAsciiName())
          .findFirst()
          .orElse(NAMELESS);
    }

    @Override
    public String chooseServerAlias(String type, Principal[] issuers, Socket socket) {
      return NAMELESS;
    }

    @Override
    public X509Certificate[] getCertificateChain(String alias) {
      return new X509Certificate[] {of(alias).certificate(), certificate};
    }

    @Override
    public PrivateKey getPrivateKey(String alias) {
      return of(alias).key();
    }

    @Override
    public String[] getServerAliases(String type, Principal[] issuers) {
      return new String[] {NAMELESS};
    }

    @Override
    public String[] getClientAliases(String type, Principal[] issuers) {
      return new String[0];
    }

    @Override
    public String chooseClientAlias(String[] types, Principal[] issuers, Socket socket) {
      return null;
    }
  }
}
