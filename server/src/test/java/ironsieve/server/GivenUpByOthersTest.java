package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.common.http.TestHTTPResource;
import io.quarkus.test.junit.QuarkusTest;
import ironsieve.Cases;
import ironsieve.server.demo.DemoLoader;
import jakarta.inject.Inject;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/**
 * What somebody looks at is answered while others ask for heavy work without a pause, and for the
 * very same thing that they give up at once: it is not lost with what they gave up.
 */
@QuarkusTest
class GivenUpByOthersTest {

  private static final String HEAVY = "/api/rulebases/generated-400";
  private static final int OTHERS = 6;
  private static final int PREVIEWS = Cases.rounds(30);

  /** As long as the pages' own tests wait for an answer. */
  private static final Duration LONGEST = Duration.ofSeconds(45);

  @Inject DemoData demo;
  @Inject DemoLoader loader;
  @Inject ObjectMapper json;

  @TestHTTPResource("/")
  URI address;

  private final HttpClient client =
      HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();
  private final AtomicInteger ended = new AtomicInteger();
  private final AtomicInteger givenUp = new AtomicInteger();
  private final AtomicBoolean isOver = new AtomicBoolean();

  @BeforeEach
  void generate() {
    demo.restore();
    loader.generate(400);
  }

  @AfterEach
  void restore() {
    demo.restore();
  }

  private HttpRequest impact(String path, Object body) throws Exception {
    return HttpRequest.newBuilder(address.resolve(path))
        .header("Content-Type", "application/json")
        .timeout(LONGEST)
        .POST(HttpRequest.BodyPublishers.ofString(json.writeValueAsString(body)))
        .build();
  }

  /** A wide rule on top of many: much of the rulebase gets another verdict. */
  private HttpRequest heavy(String first, int number) throws Exception {
    Map<String, Object> rule = Map.of("name", "wide " + number, "verdict", "reject");
    Map<String, Object> step =
        Map.of("op", "ADD_RULE", "place", Map.of("before", first), "rule", rule);
    return impact(HEAVY + "/impact", Map.of("steps", List.of(step)));
  }

  private void askWithoutPause(String first, int who) {
    for (int i = 0; !isOver.get(); i++) {
      try {
        CompletableFuture<HttpResponse<String>> asked =
            client.sendAsync(heavy(first, who * 1_000 + i), HttpResponse.BodyHandlers.ofString());
        if (i % 3 == 0) {
          asked.cancel(true);
          givenUp.incrementAndGet();
        } else {
          asked.join();
          ended.incrementAndGet();
        }
      } catch (Exception e) {
        throw new AssertionError(e);
      }
    }
  }

  @Test
  void whatSomebodyLooksAtIsAnsweredWhateverOthersGiveUp() throws Exception {
    String first =
        json.readTree(given().get(HEAVY).asString()).at("/chapters/0/rules/0/id").asText();
    List<Thread> others = new ArrayList<>();
    for (int who = 0; who < OTHERS; who++) {
      int number = who;
      Thread other = new Thread(() -> askWithoutPause(first, number));
      others.add(other);
      other.start();
    }
    try {
      for (int i = 0; i < PREVIEWS; i++) {
        // Of the workspace and of one rulebase in turn, as the pages ask for them.
        Map<String, Object> list =
            Map.of("name", "Known scanners", "addresses", List.of("203.0.113." + (i + 1)));
        Map<String, Object> put = Map.of("op", "PUT", "kind", "address list", "doc", list);
        Map<String, Object> off =
            Map.of("op", "CHANGE_RULE", "id", "wk-print", "rule", Map.of("name", "Printers " + i));
        HttpRequest asked =
            i % 2 == 0
                ? impact("/api/workspace/impact", Map.of("steps", List.of(put)))
                : impact("/api/rulebases/main-gateway/impact", Map.of("steps", List.of(off)));
        for (int other = 0; other < OTHERS; other++) {
          client.sendAsync(asked, HttpResponse.BodyHandlers.ofString()).cancel(true);
        }
        HttpResponse<String> answer = client.send(asked, HttpResponse.BodyHandlers.ofString());
        assertThat(answer.statusCode()).as("preview %d: %s", i, answer.body()).isEqualTo(200);
      }
    } finally {
      isOver.set(true);
      for (Thread other : others) {
        other.join();
      }
    }
    // They really were at it.
    assertThat(ended.get()).isPositive();
    assertThat(givenUp.get()).isPositive();
  }
}
