package ironsieve.traffic.identify;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * What a client of QUIC and a browser said in HTTP/3 to a server on loopback, opened with their
 * keys: each suite, keys that are renewed, requests sent before the server has answered, packets
 * that get lost, and a browser that compresses with a table of what it has said before.
 */
class RealQuicTest {

  private static final String ONLY = "--ciphers=NORMAL:-VERS-ALL:+VERS-TLS1.3:-CIPHER-ALL:+";
  private static final String FROM = "https://www.skyreel.example";

  @TempDir static Path folder;

  private static RealTraffic traffic;
  private static int port;

  @BeforeAll
  static void speak() throws IOException, InterruptedException {
    traffic = new RealTraffic(folder);
    port = traffic.port("udp quic");
    traffic.certificate("skyreel.example");
    Files.createDirectory(folder.resolve("pages"));
    Files.writeString(
        folder.resolve("pages/index.html"), "<img src='watch/a.png'><img src='watch/b.png'>");
    Process server =
        traffic.start(
            "/usr/sbin/gtlsserver",
            "-q",
            // Otherwise several packets are one to whoever captures on the way to be cut.
            "--max-gso-dgrams=1",
            "-d",
            traffic.file("pages"),
            "127.0.0.1",
            String.valueOf(port),
            traffic.file("key.pem"),
            traffic.file("certificate.pem"));
    traffic.dump();
    client("--session-file=" + traffic.file("session"), "--tp-file=" + traffic.file("known"))
        .ask("/watch/1", "/watch/2");
    client("--session-file=" + traffic.file("session"), "--tp-file=" + traffic.file("known"))
        .ask("/watch/early");
    client(ONLY + "CHACHA20-POLY1305").ask("/chacha");
    client(ONLY + "AES-256-GCM", "--key-update=20ms", "--delay-stream=80ms").ask("/renewed");
    client("-t", "0.2", "-r", "0.2", "-n", "20").ask("/lossy/1", "/lossy/2");
    browse();
    assertThat(server.isAlive()).as("the server of QUIC").isTrue();
    traffic.stopDumping();
  }

  private record Client(List<String> options) {
    private void ask(String... paths) throws IOException, InterruptedException {
      List<String> command =
          new ArrayList<>(
              List.of("timeout", "20", "gtlsclient", "-q", "--exit-on-all-streams-close"));
      command.addAll(options);
      command.addAll(List.of("127.0.0.1", String.valueOf(port)));
      for (String path : paths) {
        command.add(FROM + path);
      }
      RealTraffic.run(
          Map.of("SSLKEYLOGFILE", traffic.file("keys-client.txt")), command.toArray(new String[0]));
    }
  }

  private static Client client(String... options) {
    return new Client(List.of(options));
  }

  private static void browse() throws IOException, InterruptedException {
    String key =
        RealTraffic.run(
                Map.of(),
                "sh",
                "-c",
                "openssl x509 -in "
                    + traffic.file("certificate.pem")
                    + " -pubkey -noout | openssl pkey -pubin -outform der"
                    + " | openssl dgst -sha256 -binary | base64")
            .trim();
    traffic.browse(
        FROM + ":" + port + "/index.html",
        "--origin-to-force-quic-on=www.skyreel.example:" + port,
        "--ignore-certificate-errors-spki-list=" + key);
  }

  @AfterAll
  static void stop() {
    traffic.close();
  }

  /** How often each path was asked for, by the client's port. */
  private static Map<Integer, Map<String, Long>> asked() throws IOException {
    Map<Integer, Map<String, Long>> asked = new TreeMap<>();
    for (Seen one : traffic.read(true)) {
      one.shown()
          .requests()
          .forEach(
              request ->
                  asked
                      .computeIfAbsent(one.ends().clientPort(), key -> new TreeMap<>())
                      .merge(request.first(Field.PATH).orElse(""), request.times(), Long::sum));
    }
    return asked;
  }

  @Test
  void everyRequestOfEveryClientIsReadOnceWithItsAnswer() throws IOException {
    TreeSet<String> all = new TreeSet<>();
    asked().values().forEach(paths -> all.add(paths.toString()));
    all.removeIf(paths -> paths.contains("index.html"));
    assertThat(all)
        .containsExactlyInAnyOrder(
            "{/watch/1=1, /watch/2=1}",
            "{/watch/early=1}",
            "{/chacha=1}",
            "{/renewed=1}",
            "{/lossy/1=10, /lossy/2=10}");
    for (Seen one : traffic.read(true)) {
      assertThat(one.shown().isBroken()).isFalse();
      one.shown()
          .requests()
          .forEach(
              request -> {
                assertThat(request.first(Field.METHOD)).contains("GET");
                assertThat(request.first(Field.HOST)).contains("www.skyreel.example");
                // The browser goes before it is told that there is no icon of the page.
                if (!request.first(Field.PATH).orElse("").equals("/favicon.ico")) {
                  assertThat(request.first(Field.STATUS))
                      .as(request.facts().toString())
                      .isPresent();
                }
              });
    }
  }

  @Test
  void whatABrowserAsksForIsReadThroughItsTable() throws IOException {
    List<Seen> browser =
        traffic.read(true).stream()
            .filter(
                seen ->
                    seen.shown().requests().stream()
                        .anyMatch(r -> r.first(Field.PATH).orElse("").equals("/index.html")))
            .toList();
    assertThat(browser).isNotEmpty();
    TreeSet<String> paths = RealTraffic.facts(browser, Field.PATH);
    assertThat(paths).anyMatch(path -> path.endsWith(" /watch/a.png"));
    assertThat(paths).anyMatch(path -> path.endsWith(" /watch/b.png"));
    // The second and later ones name it by its place in the table.
    for (Seen one : browser) {
      one.shown()
          .requests()
          .forEach(
              request ->
                  assertThat(request.facts())
                      .anyMatch(
                          fact ->
                              fact.field() == Field.HEADER
                                  && fact.header().equals("user-agent")
                                  && fact.text().contains("HeadlessChrome")));
    }
  }

  @Test
  void theSameStreamsHaveHeadersAsTheDissectorFinds() throws Exception {
    TreeSet<Integer> theirs = new TreeSet<>();
    for (String[] row : traffic.dissected("http3.frame_type == 1", "udp.srcport")) {
      if (!traffic.isServer(Integer.parseInt(row[0]))) {
        theirs.add(Integer.parseInt(row[0]));
      }
    }
    assertThat(theirs).hasSizeGreaterThanOrEqualTo(5);
    assertThat(asked().keySet()).containsAll(theirs);
    // And the request that was sent before the server had answered was really sent so.
    assertThat(traffic.dissected("quic.long.packet_type == 1", "udp.srcport")).isNotEmpty();
    assertThat(Files.readString(folder.resolve("keys-client.txt"), StandardCharsets.UTF_8))
        .contains("CLIENT_EARLY_TRAFFIC_SECRET");
  }

  @Test
  void featuresAreKnownWithKeysAndStayHiddenWithout() throws IOException {
    TreeSet<String> opened = new TreeSet<>();
    TreeSet<String> closed = new TreeSet<>();
    for (Seen one : traffic.read(true)) {
      one.uses().forEach(use -> opened.add(use.application() + "/" + use.feature()));
    }
    for (Seen one : traffic.read(false)) {
      assertThat(one.shown().requests()).isEmpty();
      assertThat(one.shown().isOpened()).isFalse();
      one.uses().forEach(use -> closed.add(use.application() + "/" + use.feature()));
    }
    assertThat(opened).contains("Optional[Skyreel]/Optional[watch]");
    assertThat(closed).noneMatch(use -> use.contains("watch"));
    assertThat(
            RealTraffic.facts(traffic.read(false), Field.PROTOCOL).stream()
                .map(fact -> fact.replaceFirst("\\d+ ", "")))
        .contains("QUIC")
        .doesNotContain("HTTP");
  }

  @Test
  void whatWasAskedForIsWrittenDownAsFacts() throws IOException {
    List<Fact> facts =
        traffic.read(true).stream()
            .flatMap(seen -> seen.shown().requests().stream())
            .filter(request -> request.first(Field.PATH).orElse("").equals("/chacha"))
            .flatMap(request -> request.facts().stream())
            .toList();
    assertThat(facts)
        .contains(
            Fact.of(Field.METHOD, "GET"),
            Fact.of(Field.PATH, "/chacha"),
            Fact.of(Field.HOST, "www.skyreel.example"),
            Fact.of(Field.STATUS, "404"));
  }
}
