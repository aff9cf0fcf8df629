package ironsieve.server.sources;

import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.util.Base64;
import java.util.List;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;

/**
 * A certificate for {@code localhost} that nobody signed but its owner, with its key; both stand as
 * {@code certificate.pem} and {@code key.pem} in the folder.
 *
 * @param pem the certificate
 * @param context for a server that has it
 */
record OwnCertificate(String pem, SSLContext context) {

  private static final char[] STORE_PASSWORD = "changeit".toCharArray();

  static OwnCertificate forLocalhost(Path folder) throws Exception {
    Path store = folder.resolve("store.p12");
    Process made =
        new ProcessBuilder(
                List.of(
                    Path.of(System.getProperty("java.home"), "bin", "keytool").toString(),
                    "-genkeypair",
                    "-alias",
                    "it",
                    "-keyalg",
                    "RSA",
                    "-keysize",
                    "2048",
                    "-validity",
                    "30",
                    "-dname",
                    "CN=localhost",
                    "-ext",
                    "san=dns:localhost",
                    "-storetype",
                    "PKCS12",
                    "-keystore",
                    store.toString(),
                    "-storepass",
                    new String(STORE_PASSWORD)))
            .redirectErrorStream(true)
            .redirectOutput(folder.resolve("keytool.log").toFile())
            .start();
    if (made.waitFor() != 0) {
      throw new AssertionError(Files.readString(folder.resolve("keytool.log")));
    }
    KeyStore keys = KeyStore.getInstance(store.toFile(), STORE_PASSWORD);
    String certificate = pem("CERTIFICATE", keys.getCertificate("it").getEncoded());
    Files.writeString(folder.resolve("certificate.pem"), certificate);
    Files.writeString(
        folder.resolve("key.pem"),
        pem("PRIVATE KEY", keys.getKey("it", STORE_PASSWORD).getEncoded()));
    KeyManagerFactory managers =
        KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
    managers.init(keys, STORE_PASSWORD);
    SSLContext context = SSLContext.getInstance("TLS");
    context.init(managers.getKeyManagers(), null, null);
    return new OwnCertificate(certificate, context);
  }

  private static String pem(String what, byte[] bytes) {
    return "-----BEGIN "
        + what
        + "-----\n"
        + Base64.getMimeEncoder(64, new byte[] {'\n'}).encodeToString(bytes)
        + "\n-----END "
        + what
        + "-----\n";
  }
}
