package ironsieve.server.sources;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.files.DirectoryFile;
import ironsieve.files.Documents.GroupDoc;
import ironsieve.files.Documents.LdapDoc;
import ironsieve.files.Documents.PersonDoc;
import ironsieve.files.Documents.SourceDoc;
import ironsieve.progress.Progress;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CancellationException;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.locks.LockSupport;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** People and groups from a real directory: encrypted, in pages, and never some of them for all. */
class LdapDirectoryTest {

  private static final int PEOPLE = 2_500;
  private static final int LIMIT = 700;

  @TempDir static Path folder;
  private static Slapd slapd;

  @BeforeAll
  static void start() throws Exception {
    slapd = new Slapd(folder, entries(), LIMIT);
  }

  @AfterAll
  static void stop() {
    slapd.close();
  }

  /** Two groups that lie in each other, as careless directories have them. */
  private static String entries() {
    StringBuilder ldif =
        new StringBuilder(
            """
            dn: dc=quay,dc=example
            objectClass: domain
            dc: quay

            dn: cn=Łódź crew,dc=quay,dc=example
            objectClass: groupOfNames
            cn: Łódź crew
            description: Everybody on board
            member: cn=Watch,dc=quay,dc=example
            member: uid=p0,dc=quay,dc=example

            dn: cn=Watch,dc=quay,dc=example
            objectClass: groupOfNames
            cn: Watch
            member: cn=Łódź crew,dc=quay,dc=example
            member: uid=p1,dc=quay,dc=example

            dn: ou=elsewhere,dc=quay,dc=example
            objectClass: referral
            objectClass: extensibleObject
            ou: elsewhere
            ref: ldap://other.example/ou=elsewhere,dc=quay,dc=example

            """);
    for (int i = 0; i < PEOPLE; i++) {
      ldif.append("dn: uid=p" + i + ",dc=quay,dc=example\nobjectClass: inetOrgPerson\n")
          .append("uid: p" + i + "\ncn: Person " + i + "\nsn: " + i + "\n")
          .append(i % 2 == 0 ? "l: Saltmere; old town\n\n" : "\n");
    }
    return ldif.toString();
  }

  private static SourceDoc source(
      String address, String security, String certificates, String bind, String people) {
    return new SourceDoc(
        "Quay",
        "directory",
        address,
        "",
        0,
        "at once",
        20,
        new LdapDoc(
            security,
            certificates,
            bind,
            Slapd.BASE,
            people,
            "(objectClass=groupOfNames)",
            "uid",
            "cn",
            Map.of("town", "l")),
        "",
        null);
  }

  private static SourceDoc whole(String address, String security) {
    return source(address, security, slapd.certificate(), Slapd.ADMIN, "(objectClass=person)");
  }

  private static DirectoryFile read(SourceDoc source, String password) {
    return new LdapDirectory(source, password).read(LdapDirectory.MOST_ENTRIES, new Progress());
  }

  private static void refused(SourceDoc source, String password, String why) {
    assertThatThrownBy(() -> read(source, password))
        .isInstanceOf(SourceException.class)
        .hasMessageContaining(why);
  }

  @Test
  void everybodyComesInPagesOverStartTlsAndOverLdaps() {
    DirectoryFile file = read(whole(slapd.ldap(), "starttls"), Slapd.PASSWORD);
    assertThat(file.people()).hasSize(PEOPLE);
    assertThat(file.people())
        .contains(
            new PersonDoc(
                "p0", "Person 0", List.of("Łódź crew"), Map.of("town", "Saltmere, old town")),
            new PersonDoc("p1", "Person 1", List.of("Watch"), Map.of()));
    assertThat(file.groups())
        .containsExactlyInAnyOrder(
            new GroupDoc("Łódź crew", List.of("Watch"), "Everybody on board"),
            new GroupDoc("Watch", List.of("Łódź crew"), ""));
    assertThat(file.leftOut())
        .anySatisfy(
            out ->
                assertThat(out)
                    .contains("ldap://other.example")
                    .contains("another directory's, and was not read"));
    DirectoryFile again = read(whole(slapd.ldaps(), "starttls"), Slapd.PASSWORD);
    assertThat(again.people()).isEqualTo(file.people());
  }

  @Test
  void theFirstTenAreShownForATry() {
    assertThat(
            new LdapDirectory(whole(slapd.ldap(), "none"), Slapd.PASSWORD)
                .read(10, new Progress())
                .people())
        .hasSize(10);
  }

  @Test
  void someOfThemAreNeverTakenForAll() {
    refused(
        source(slapd.ldap(), "none", "", "", "(objectClass=person)"),
        "",
        "raise its limit for those who do not log in");
  }

  @Test
  void aCertificateOfSomebodyElseIsNotAccepted() {
    refused(
        source(slapd.ldaps(), "starttls", "", Slapd.ADMIN, "(uid=*)"),
        Slapd.PASSWORD,
        "its certificate was not accepted");
    refused(
        source(slapd.ldap(), "starttls", "", Slapd.ADMIN, "(uid=*)"),
        Slapd.PASSWORD,
        "its certificate was not accepted");
    // It is for localhost, and not for whoever sits at that address.
    refused(
        whole(slapd.ldaps().replace("localhost", "127.0.0.1"), "starttls"),
        Slapd.PASSWORD,
        "its certificate was not accepted");
    refused(
        whole(slapd.ldap().replace("localhost", "127.0.0.1"), "starttls"),
        Slapd.PASSWORD,
        "its certificate was not accepted");
  }

  @Test
  void whatWasSetUpWrongIsToldInWords() {
    refused(whole(slapd.ldap(), "starttls"), "wrong", "does not accept the name and password");
    SourceDoc elsewhere = whole(slapd.ldap(), "starttls");
    LdapDoc how = elsewhere.directory();
    refused(
        new SourceDoc(
            "Quay",
            "directory",
            slapd.ldap(),
            "",
            0,
            "at once",
            20,
            new LdapDoc(
                how.security(),
                how.certificates(),
                how.bind(),
                "ou=nowhere," + Slapd.BASE,
                how.people(),
                how.groups(),
                how.login(),
                how.fullName(),
                how.attributes()),
            "",
            null),
        Slapd.PASSWORD,
        "the directory has no entry ou=nowhere");
  }

  @Test
  void aServerThatStopsInTheMiddleIsNoDirectory() throws IOException {
    try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      Thread stopping =
          new Thread(
              () -> {
                try (Socket one = socket.accept()) {
                  one.getInputStream().read(new byte[4096]);
                } catch (IOException e) {
                  throw new IllegalStateException(e);
                }
              });
      stopping.start();
      refused(
          source(
              "ldap://127.0.0.1:" + socket.getLocalPort(),
              "none",
              "",
              "cn=reader",
              "(objectClass=person)"),
          "x",
          "in the middle");
    }
    refused(
        source("ldap://127.0.0.1:1", "none", "", "", "(objectClass=person)"),
        "",
        "nothing answers at 127.0.0.1:1");
  }

  /**
   * A server that takes whatever is asked and says, every twentieth of a second, one entry of an
   * answer that never ends; or nothing at all.
   */
  private static Thread slow(ServerSocket socket, boolean saysALittle) {
    Thread slow =
        new Thread(
            () -> {
              try (Socket one = socket.accept()) {
                one.getInputStream().read(new byte[4096]);
                while (saysALittle) {
                  one.getOutputStream().write(ENTRY);
                  one.getOutputStream().flush();
                  LockSupport.parkNanos(50_000_000);
                }
                one.getInputStream().read(new byte[4096]);
              } catch (IOException e) {
                // Whoever asked has gone, as they should.
              }
            });
    slow.setDaemon(true);
    slow.start();
    return slow;
  }

  /** An answer to the first request: an entry cn=a without attributes. */
  private static final byte[] ENTRY = {
    0x30, 0x0D, 0x02, 0x01, 0x01, 0x64, 0x08, 0x04, 0x04, 'c', 'n', '=', 'a', 0x30, 0x00
  };

  @Test
  void aServerThatAnswersSlowlyOrNeverIsNotWaitedForForEver() throws Exception {
    for (boolean saysALittle : new boolean[] {false, true}) {
      try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
        Thread server = slow(socket, saysALittle);
        SourceDoc source =
            source(
                "ldap://127.0.0.1:" + socket.getLocalPort(),
                "none",
                "",
                "",
                "(objectClass=person)");
        assertThatThrownBy(
                () ->
                    new LdapDirectory(source, "", 1_000, Duration.ofSeconds(3))
                        .read(LdapDirectory.MOST_ENTRIES, new Progress()))
            .isInstanceOf(SourceException.class)
            .hasMessageContaining(
                saysALittle ? "took longer than 3 s for all of it" : "did not answer within 1 s");
        server.join();
      }
    }
  }

  /**
   * Also where it is stopped while the question is on its way; the server is waited for an hour.
   */
  @RepeatedTest(8)
  @Timeout(60)
  void whoeverStopsItDoesNotWaitForTheServer() throws Exception {
    try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      Thread server = slow(socket, true);
      SourceDoc source =
          source(
              "ldap://127.0.0.1:" + socket.getLocalPort(), "none", "", "", "(objectClass=person)");
      Progress progress = new Progress();
      CompletableFuture<Void> stopping =
          CompletableFuture.runAsync(
              () -> {
                while (!progress.what().equals("reading people")) {
                  Thread.onSpinWait();
                }
                progress.stop();
              });
      assertThatThrownBy(
              () ->
                  new LdapDirectory(source, "", 3_600_000, Duration.ofHours(1))
                      .read(LdapDirectory.MOST_ENTRIES, progress))
          .isInstanceOf(CancellationException.class);
      assertThat(Thread.currentThread().isInterrupted()).isFalse();
      stopping.join();
      server.join();
    }
  }

  @Test
  void itEndsWhenNobodyWaits() {
    Progress progress = new Progress();
    progress.stop();
    assertThatThrownBy(
            () ->
                new LdapDirectory(whole(slapd.ldap(), "none"), Slapd.PASSWORD)
                    .read(LdapDirectory.MOST_ENTRIES, progress))
        .isInstanceOf(CancellationException.class);
  }
}
