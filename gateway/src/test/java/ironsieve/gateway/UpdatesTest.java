package ironsieve.gateway;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import ironsieve.files.Delivery;
import ironsieve.files.Digests;
import ironsieve.files.Manifest;
import ironsieve.gateway.ReleaseFolder.Identity;
import ironsieve.gateway.ReleaseFolder.InForce;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.util.Base64;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What a gateway takes and what it refuses, told by a server that may be a hostile one. */
class UpdatesTest {

  private static final ObjectMapper JSON = new ObjectMapper();

  @TempDir Path state;

  private final KeyPair keys = keys();
  private final Map<String, String> parts = new HashMap<>();
  private final BlockingQueue<InForce> told = new LinkedBlockingQueue<>();
  private final BlockingQueue<JsonNode> said = new LinkedBlockingQueue<>();

  /** The releases for which ports were opened. */
  private final List<Integer> listenedFor = new CopyOnWriteArrayList<>();

  /** What became of open connections, as it is told. */
  private String sessions = "";

  private HttpServer server;
  private Thread following;
  private Updates updates;

  private static KeyPair keys() {
    try {
      return KeyPairGenerator.getInstance("Ed25519").generateKeyPair();
    } catch (java.security.GeneralSecurityException e) {
      throw new IllegalStateException(e);
    }
  }

  private static String base64(byte[] bytes) {
    return Base64.getEncoder().encodeToString(bytes);
  }

  private Identity own() {
    return new Identity("quay", "secret", base64(keys.getPublic().getEncoded()));
  }

  @BeforeEach
  void start() throws IOException {
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.createContext("/api/gateway-protocol/", this::answer);
    server.setExecutor(java.util.concurrent.Executors.newCachedThreadPool());
    server.start();
    begin();
  }

  private void begin() throws IOException {
    updates =
        new Updates(
            new ServerLink(URI.create("http://127.0.0.1:" + server.getAddress().getPort())),
            new ReleaseFolder(state),
            own(),
            text -> {},
            policy -> {
              listenedFor.add(policy.release());
              return sessions;
            });
    following = new Thread(updates::follow);
    following.start();
  }

  @AfterEach
  void stop() throws InterruptedException {
    end();
    server.stop(0);
  }

  private void end() throws InterruptedException {
    updates.stop();
    following.interrupt();
    following.join();
  }

  private void answer(HttpExchange exchange) throws IOException {
    String path = exchange.getRequestURI().getPath().replaceFirst(".*/gateway-protocol/", "");
    try (exchange) {
      if (path.equals("state")) {
        said.add(JSON.readTree(exchange.getRequestBody()));
        exchange.sendResponseHeaders(204, -1);
      } else if (path.startsWith("parts/")) {
        send(exchange, parts.getOrDefault(path.substring("parts/".length()), "nothing"));
      } else {
        InForce next = told.poll(200, TimeUnit.MILLISECONDS);
        if (next == null) {
          exchange.sendResponseHeaders(204, -1);
        } else {
          send(exchange, JSON.writeValueAsString(next));
        }
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private static void send(HttpExchange exchange, String text) throws IOException {
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    exchange.sendResponseHeaders(200, bytes.length);
    exchange.getResponseBody().write(bytes);
  }

  /** The demo as a release. */
  private Manifest manifest(int release) {
    Map<String, String> texts = Wire.company();
    texts.put(Manifest.RULEBASE, "rulebase \"R" + release + "\"\n  default verdict deny\n");
    texts.values().forEach(text -> parts.put(Digests.of(text), text));
    return Manifest.of("main", release, 1, "2026-12-02", texts);
  }

  private InForce signed(Delivery delivery, String manifest) {
    String key = base64(keys.getPrivate().getEncoded());
    return new InForce(
        delivery.text(), Digests.sign(delivery.text(), key), manifest, Digests.sign(manifest, key));
  }

  private InForce delivery(long number, int release, boolean isBack) throws IOException {
    String manifest = manifest(release).text();
    return signed(new Delivery("quay", number, release, Digests.of(manifest), isBack), manifest);
  }

  /** What the gateway says of a delivery in the end: in force, or why it failed. */
  private String end(long number) throws InterruptedException {
    while (true) {
      JsonNode next = said.poll(60, TimeUnit.SECONDS);
      assertThat(next).as("nothing is said of delivery " + number).isNotNull();
      String state = next.get("state").asText();
      if (next.get("delivery").asLong() == number
          && List.of("in force", "failed").contains(state)) {
        return state + next.get("why").asText();
      }
    }
  }

  private Optional<Integer> inForce() {
    return updates.policy().map(Policy::release);
  }

  @Test
  void aReleaseComesIntoForceAndStaysOverARestartWithoutTheServer() throws Exception {
    sessions = ": 2 of 5 were cut";
    told.add(delivery(1, 1, false));
    assertThat(end(1)).isEqualTo("in force: 2 of 5 were cut");
    assertThat(inForce()).contains(1);
    end();
    server.stop(0);
    begin();
    assertThat(inForce()).contains(1);
    // Its clients come in again, too.
    assertThat(listenedFor).containsExactly(1, 1);
  }

  @Test
  void whatIsNotTheServersIsRefusedAndTheOldStaysInForce() throws Exception {
    told.add(delivery(1, 2, false));
    assertThat(end(1)).isEqualTo("in force");

    InForce good = delivery(2, 3, false);
    told.add(
        new InForce(
            good.delivery().replace("\"release\":3", "\"release\":4"),
            good.signature(),
            good.manifest(),
            good.manifestSignature()));
    assertThat(end(2)).contains("failed", "its signature is not the server's");

    told.add(
        new InForce(
            good.delivery(),
            good.signature(),
            good.manifest().replace("main", "moin"),
            good.manifestSignature()));
    assertThat(end(2)).contains("failed", "its signature is not the server's");

    // Both are the server's own, but do not belong together.
    InForce other = delivery(2, 4, false);
    told.add(
        new InForce(
            good.delivery(), good.signature(), other.manifest(), other.manifestSignature()));
    assertThat(end(2)).contains("failed", "its manifest is not the one it names");

    String manifest = manifest(3).text();
    told.add(signed(new Delivery("mole", 2, 3, Digests.of(manifest), false), manifest));
    assertThat(end(2)).contains("failed", "it is meant for gateway mole");
    assertThat(inForce()).contains(2);
  }

  @Test
  void anOlderReleaseIsTakenOnlyIfItIsSaidSoAndNoDeliveryTwice() throws Exception {
    told.add(delivery(1, 2, false));
    assertThat(end(1)).isEqualTo("in force");
    told.add(delivery(2, 1, false));
    assertThat(end(2)).contains("failed", "older than the one in force");
    assertThat(inForce()).contains(2);
    InForce back = delivery(3, 1, true);
    told.add(back);
    assertThat(end(3)).isEqualTo("in force");
    assertThat(inForce()).contains(1);
    told.add(delivery(4, 2, false));
    assertThat(end(4)).isEqualTo("in force");
    // Somebody has kept the old one and says it again.
    told.add(back);
    assertThat(end(3)).contains("failed", "is not newer than 4");
    assertThat(inForce()).contains(2);
  }

  @Test
  void aPartThatIsNotWhatItsDigestSaysIsNotTaken() throws Exception {
    InForce first = delivery(1, 1, false);
    String digest =
        Manifest.read(first.manifest()).parts().stream()
            .filter(part -> part.name().equals(Manifest.RULEBASE))
            .findFirst()
            .orElseThrow()
            .digest();
    String right = parts.put(digest, "rulebase \"Evil\"\n  default verdict allow\n");
    told.add(first);
    assertThat(end(1)).contains("failed", digest + " is not what its digest says");
    assertThat(inForce()).isEmpty();
    parts.put(digest, right);
    told.add(delivery(2, 1, false));
    assertThat(end(2)).isEqualTo("in force");
  }
}
