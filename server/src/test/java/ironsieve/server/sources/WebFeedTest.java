package ironsieve.server.sources;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import ironsieve.progress.Progress;
import ironsieve.server.sources.Brought.Mark;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CancellationException;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Files from a real web server: only where they are new, and never half of one. */
class WebFeedTest {

  private final List<String> asked = new ArrayList<>();
  private HttpServer server;

  @BeforeEach
  void start() throws IOException {
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.start();
  }

  @AfterEach
  void stop() {
    server.stop(0);
  }

  private URI at(String path) {
    return URI.create("http://127.0.0.1:" + server.getAddress().getPort() + path);
  }

  private void answer(String path, int status, String body, String... headers) {
    server.createContext(
        path,
        exchange -> {
          try (exchange) {
            asked.add(
                exchange.getRequestHeaders().getFirst("If-None-Match")
                    + " "
                    + exchange.getRequestHeaders().getFirst("If-Modified-Since"));
            for (int i = 0; i < headers.length; i += 2) {
              exchange.getResponseHeaders().set(headers[i], headers[i + 1]);
            }
            send(exchange, status, body);
          }
        });
  }

  private static void send(HttpExchange exchange, int status, String body) throws IOException {
    byte[] bytes = body.getBytes(StandardCharsets.UTF_8);
    exchange.sendResponseHeaders(status, bytes.length == 0 ? -1 : bytes.length);
    exchange.getResponseBody().write(bytes);
  }

  private static void refused(WebFeed feed, URI address, String why) {
    assertThatThrownBy(() -> feed.read(address, Mark.NONE, new Progress()))
        .isInstanceOf(SourceException.class)
        .hasMessageContaining(why);
  }

  @Test
  void aFileComesWithItsMarkAndIsAskedForByIt() {
    String day = "Tue, 24 Nov 2026 10:15:00 GMT";
    answer("/list", 200, "192.0.2.1\n", "ETag", "\"a1\"", "Last-Modified", day);
    WebFeed.Page page = new WebFeed().read(at("/list"), Mark.NONE, new Progress()).orElseThrow();
    assertThat(page.text()).isEqualTo("192.0.2.1\n");
    assertThat(page.mark()).isEqualTo(new Mark(at("/list").toString(), "\"a1\"", day));

    new WebFeed().read(at("/list"), page.mark(), new Progress());
    new WebFeed().read(at("/list"), new Mark("http://other/", "\"a1\"", day), new Progress());
    assertThat(asked).containsExactly("null null", "\"a1\" " + day, "null null");
  }

  @Test
  void whatIsStillTheSameIsNotReadAgain() {
    answer("/list", 304, "");
    Mark known = new Mark(at("/list").toString(), "\"a1\"", "");
    assertThat(new WebFeed().read(at("/list"), known, new Progress())).isEmpty();
    refused(new WebFeed(), at("/list"), "304");
  }

  /** What no HTTP client makes anything of is told, and is no failure of the server's own. */
  @Test
  void whatThereCannotBeIsRefusedInWords() throws Exception {
    answer("/far", 302, "", "Location", "http://127.0.0.1:99999/x");
    refused(new WebFeed(), at("/far"), "port 99999");
    try (ServerSocket odd = new ServerSocket(0, 5, InetAddress.getLoopbackAddress())) {
      Thread answering =
          new Thread(
              () -> {
                try (Socket socket = odd.accept()) {
                  socket.getInputStream().read(new byte[1_000]);
                  socket
                      .getOutputStream()
                      .write(
                          "HTTP/1.1 200 OK\r\nContent-Length: 100000000000000000000000\r\n\r\n"
                              .getBytes(StandardCharsets.US_ASCII));
                } catch (IOException e) {
                  // The client has gone.
                }
              });
      answering.start();
      refused(
          new WebFeed(),
          URI.create("http://127.0.0.1:" + odd.getLocalPort() + "/"),
          "it cannot be read");
      answering.join();
    }
  }

  @Test
  void redirectsAreFollowedButNotRoundAndRound() {
    answer("/old", 302, "", "Location", "/new");
    answer("/new", 200, "here");
    assertThat(new WebFeed().read(at("/old"), Mark.NONE, new Progress()).orElseThrow().text())
        .isEqualTo("here");
    answer("/a", 302, "", "Location", "/b");
    answer("/b", 307, "", "Location", "/a");
    refused(new WebFeed(), at("/a"), "it leads back to itself");
    answer("/file", 302, "", "Location", "file:///etc/passwd");
    refused(new WebFeed(), at("/file"), "no web address");
    for (int i = 0; i < 9; i++) {
      answer("/on" + i, 302, "", "Location", "/on" + (i + 1));
    }
    refused(new WebFeed(), at("/on0"), "it leads on more than 5 times");
  }

  @Test
  void whatIsTooLargeIsGivenUpWhetherItSaysSoOrNot() {
    answer("/said", 200, "x".repeat(2_000_000));
    refused(new WebFeed(1 << 20), at("/said"), "larger than 1 MB");
    server.createContext(
        "/unsaid",
        exchange -> {
          try (exchange) {
            exchange.sendResponseHeaders(200, 0);
            exchange.getResponseBody().write(new byte[2_000_000]);
          }
        });
    refused(new WebFeed(1 << 20), at("/unsaid"), "larger than 1 MB");
  }

  @Test
  void halfAFileIsNone() throws IOException {
    try (ServerSocket half = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      Thread answering =
          new Thread(
              () -> {
                try (Socket socket = half.accept()) {
                  socket.getInputStream().read(new byte[4096]);
                  socket
                      .getOutputStream()
                      .write(
                          "HTTP/1.1 200 OK\r\nContent-Length: 100\r\n\r\n192.0.2.1"
                              .getBytes(StandardCharsets.US_ASCII));
                } catch (IOException e) {
                  throw new IllegalStateException(e);
                }
              });
      answering.start();
      refused(
          new WebFeed(), URI.create("http://127.0.0.1:" + half.getLocalPort()), "in the middle");
    }
  }

  @Test
  void otherAnswersAndNoneAreToldAsWhatTheyAre() throws IOException {
    answer("/gone", 404, "");
    refused(new WebFeed(), at("/gone"), "the server answered 404");
    int free;
    try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      free = socket.getLocalPort();
    }
    refused(new WebFeed(), URI.create("http://127.0.0.1:" + free), "nothing answers at 127.0.0.1");
    answer("/latin", 200, "");
    server.createContext(
        "/bytes",
        exchange -> {
          try (exchange) {
            exchange.sendResponseHeaders(200, 1);
            exchange.getResponseBody().write(0xE9);
          }
        });
    WebFeed.Page page = new WebFeed().read(at("/bytes"), Mark.NONE, new Progress()).orElseThrow();
    assertThatThrownBy(page::text).hasMessageContaining("this is not UTF-8");
  }

  @Test
  void itEndsWhenNobodyWaits() {
    answer("/list", 200, "x".repeat(100_000));
    Progress progress = new Progress();
    progress.stop();
    assertThatThrownBy(() -> new WebFeed().read(at("/list"), Mark.NONE, progress))
        .isInstanceOf(CancellationException.class);
  }

  @Test
  void whatIsPackedIsUnpackedWithinTheSameLimit() throws Exception {
    answerPacked("/list", "192.0.2.1\n");
    WebFeed.Page page = new WebFeed().read(at("/list"), Mark.NONE, new Progress()).orElseThrow();
    assertThat(page.text()).isEqualTo("192.0.2.1\n");
    // A few kilobytes that become more than anybody's list.
    answerPacked("/bomb", "0".repeat(80 << 20));
    refused(new WebFeed(), at("/bomb"), "larger than 64 MB");
  }

  private void answerPacked(String path, String text) throws IOException {
    java.io.ByteArrayOutputStream packed = new java.io.ByteArrayOutputStream();
    try (java.util.zip.GZIPOutputStream gzip = new java.util.zip.GZIPOutputStream(packed)) {
      gzip.write(text.getBytes(StandardCharsets.US_ASCII));
    }
    server.createContext(
        path,
        exchange -> {
          try (exchange) {
            exchange.getResponseHeaders().set("Content-Encoding", "gzip");
            exchange.sendResponseHeaders(200, packed.size());
            exchange.getResponseBody().write(packed.toByteArray());
          }
        });
  }

  private WebFeed.Access access(URI server, String password) {
    return new WebFeed.Access(server, "reader", password, "");
  }

  @Test
  void aPasswordGoesToTheServerItIsForAndToNoOther() throws Exception {
    List<String> here = new ArrayList<>();
    List<String> there = new ArrayList<>();
    HttpServer other =
        HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    try {
      other.createContext(
          "/list",
          exchange -> {
            there.add(String.valueOf(exchange.getRequestHeaders().getFirst("Authorization")));
            send(exchange, 200, "192.0.2.9\n");
            exchange.close();
          });
      other.start();
      URI elsewhere = URI.create("http://127.0.0.1:" + other.getAddress().getPort() + "/list");
      server.createContext(
          "/list",
          exchange -> {
            try (exchange) {
              String said = String.valueOf(exchange.getRequestHeaders().getFirst("Authorization"));
              here.add(said);
              boolean isRight = said.equals("Basic cmVhZGVyOnDDpHNz");
              send(exchange, isRight ? 200 : 401, isRight ? "192.0.2.1\n" : "");
            }
          });
      answer("/on", 302, "", "Location", elsewhere.toString());
      WebFeed feed = new WebFeed();
      assertThat(
              feed.read(at("/list"), access(at("/"), "p\u00e4ss"), Mark.NONE, new Progress())
                  .orElseThrow()
                  .text())
          .isEqualTo("192.0.2.1\n");
      assertThatThrownBy(
              () -> feed.read(at("/list"), access(at("/"), "no"), Mark.NONE, new Progress()))
          .hasMessageContaining("does not accept the name and password");
      refused(feed, at("/list"), "wants to know who asks");
      feed.read(at("/on"), access(at("/"), "p\u00e4ss"), Mark.NONE, new Progress());
      // An index may name files of other servers.
      feed.read(elsewhere, access(at("/"), "p\u00e4ss"), Mark.NONE, new Progress());
      assertThat(here).hasSize(3);
      assertThat(there).containsExactly("null", "null");
    } finally {
      other.stop(0);
    }
  }

  @Test
  void aServerOfOnesOwnIsTrustedByItsCertificateAndNoOther(@TempDir Path folder) throws Exception {
    OwnCertificate own = OwnCertificate.forLocalhost(folder);
    HttpsServer secret =
        HttpsServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    try {
      secret.setHttpsConfigurator(new HttpsConfigurator(own.context()));
      secret.createContext("/list", exchange -> send(exchange, 200, "192.0.2.1\n"));
      secret.start();
      URI address = URI.create("https://localhost:" + secret.getAddress().getPort() + "/list");
      WebFeed feed = new WebFeed();
      refused(feed, address, "its certificate was not accepted");
      WebFeed.Access trusting = new WebFeed.Access(address, "", "", own.pem());
      assertThat(feed.read(address, trusting, Mark.NONE, new Progress())).isPresent();
      WebFeed.Access unreadable = new WebFeed.Access(address, "", "", "no certificate");
      assertThatThrownBy(() -> feed.read(address, unreadable, Mark.NONE, new Progress()))
          .hasMessageContaining("the certificates cannot be read");
    } finally {
      secret.stop(0);
    }
  }
}
