package ironsieve.server.sources;

import ironsieve.server.Ports;
import java.io.IOException;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;

/** A real directory server on loopback, with a certificate for {@code localhost} of its own. */
final class Slapd implements AutoCloseable {

  static final String BASE = "dc=quay,dc=example";
  static final String ADMIN = "cn=admin," + BASE;
  static final String PASSWORD = "a long secret";

  private final Process process;
  private final int ldap;
  private final int ldaps;
  private final String certificate;

  /**
   * Starts it.
   *
   * @param folder to keep everything in
   * @param ldif what is in it
   * @param limit how many entries it sends to those who do not log in
   */
  Slapd(Path folder, String ldif, int limit) throws Exception {
    certificate = OwnCertificate.forLocalhost(folder).pem();
    ldap = Ports.free();
    ldaps = Ports.free();
    Path data = Files.createDirectory(folder.resolve("data"));
    Path config =
        Files.writeString(
            folder.resolve("slapd.conf"),
            String.join(
                "\n",
                "include /etc/ldap/schema/core.schema",
                "include /etc/ldap/schema/cosine.schema",
                "include /etc/ldap/schema/inetorgperson.schema",
                "modulepath /usr/lib/ldap",
                "moduleload back_mdb",
                "pidfile " + folder.resolve("pid"),
                "TLSCertificateFile " + folder.resolve("certificate.pem"),
                "TLSCertificateKeyFile " + folder.resolve("key.pem"),
                "sizelimit " + limit,
                "database mdb",
                "maxsize 268435456",
                "suffix \"" + BASE + "\"",
                "rootdn \"" + ADMIN + "\"",
                "rootpw \"" + PASSWORD + "\"",
                "directory " + data,
                ""));
    Path entries = Files.writeString(folder.resolve("entries.ldif"), ldif);
    run(folder, "/usr/sbin/slapadd", "-q", "-f", config.toString(), "-l", entries.toString());
    process =
        new ProcessBuilder(
                "/usr/sbin/slapd",
                "-f",
                config.toString(),
                "-h",
                "ldap://127.0.0.1:" + ldap + "/ ldaps://127.0.0.1:" + ldaps + "/",
                "-d",
                "0")
            .redirectErrorStream(true)
            .redirectOutput(folder.resolve("slapd.log").toFile())
            .start();
    waitFor(ldap);
    waitFor(ldaps);
  }

  String ldap() {
    return "ldap://localhost:" + ldap;
  }

  String ldaps() {
    return "ldaps://localhost:" + ldaps;
  }

  /** What it identifies itself with, as PEM. */
  String certificate() {
    return certificate;
  }

  private static void run(Path folder, String... command) throws Exception {
    List<String> line = new ArrayList<>(List.of(command));
    Process process =
        new ProcessBuilder(line)
            .redirectErrorStream(true)
            .redirectOutput(folder.resolve("run.log").toFile())
            .start();
    if (process.waitFor() != 0) {
      throw new IllegalStateException(
          command[0] + " failed: " + Files.readString(folder.resolve("run.log")));
    }
  }

  private void waitFor(int port) throws InterruptedException {
    while (true) {
      try {
        new Socket("127.0.0.1", port).close();
        return;
      } catch (IOException e) {
        if (process.waitFor(20, TimeUnit.MILLISECONDS)) {
          throw new IllegalStateException("slapd ended with " + process.exitValue(), e);
        }
      }
    }
  }

  @Override
  public void close() {
    process.destroy();
    process.onExit().join();
  }
}
