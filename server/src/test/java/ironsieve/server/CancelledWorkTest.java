package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.common.http.TestHTTPResource;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.response.Response;
import jakarta.inject.Inject;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Long requests tell how far they are, and end without a trace when nobody waits for them. */
@QuarkusTest
class CancelledWorkTest {

  private static final String BASE = "/api/rulebases/main-gateway";

  @Inject DemoData demo;
  @Inject ObjectMapper json;

  @TestHTTPResource("/")
  URI address;

  private final HttpClient client =
      HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();

  @BeforeEach
  void restore() {
    demo.restore();
  }

  private CompletableFuture<HttpResponse<String>> sent(
      String work, String method, String path, String type, String body) {
    return client.sendAsync(
        HttpRequest.newBuilder(address.resolve(path))
            .header("Sieve-Work", work)
            .header("Content-Type", type)
            .method(method, HttpRequest.BodyPublishers.ofString(body))
            .build(),
        HttpResponse.BodyHandlers.ofString());
  }

  /** What is told of some work until a stage is reached; {@code done} counts up within it. */
  private JsonNode untilIn(String work, String stage, CompletableFuture<?> sent) throws Exception {
    while (true) {
      assertThat(sent).as("waiting for: " + stage).isNotDone();
      Response told = given().get("/api/work/" + work);
      if (told.statusCode() == 200) {
        JsonNode progress = json.readTree(told.asString());
        if (progress.get("what").asText().equals(stage) && progress.get("done").asInt() > 0) {
          return progress;
        }
      }
    }
  }

  private void untilOver(String work) {
    await().until(() -> given().get("/api/work/" + work).statusCode() == 404);
  }

  private static String tape() {
    return IntStream.range(0, 100_000)
        .mapToObj(
            i ->
                "1,from Offices 10.20."
                    + i / 250 % 250
                    + "."
                    + (i % 250 + 1)
                    + " to Internet using tcp/443 at 2026-11-11 10:00\r\n")
        .collect(Collectors.joining("", "times,connection\r\n", ""));
  }

  @Test
  void aTapeThatIsGivenUpLeavesNothingBehind() throws Exception {
    String before = given().get(BASE + "/hits").asString();
    CompletableFuture<?> sent = sent("tape-1", "PUT", BASE + "/tapes/long", "text/csv", tape());
    JsonNode progress = untilIn("tape-1", "reading lines", sent);
    assertThat(progress.get("total").asInt()).isEqualTo(100_000);
    assertThat(progress.get("done").asInt()).isLessThan(100_000);
    sent.cancel(true);
    untilOver("tape-1");
    assertThat(given().get(BASE + "/hits").asString()).isEqualTo(before);
  }

  @Test
  void anEditThatIsGivenUpIsNotSaved() throws Exception {
    List<Object> steps =
        IntStream.range(0, 100)
            .<Object>mapToObj(
                i -> Map.of("op", "ADD_RULE", "id", "n" + i, "rule", Map.of("fields", fields(i))))
            .toList();
    String body = json.writeValueAsString(Map.of("revision", 0, "what", "w", "steps", steps));
    CompletableFuture<?> sent = sent("edit-1", "POST", BASE + "/edits", "application/json", body);
    Set<String> stages = new HashSet<>();
    stages.add(untilIn("edit-1", "compiling rules", sent).get("what").asText());
    sent.cancel(true);
    untilOver("edit-1");
    assertThat(stages).containsExactly("compiling rules");
    assertThat(given().get(BASE).jsonPath().getLong("revision")).isZero();
    assertThat(given().get(BASE).asString()).doesNotContain("\"n99\"");
  }

  private static Map<String, Object> fields(int rule) {
    List<String> networks =
        IntStream.range(0, 2_000)
            .mapToObj(n -> "10." + rule % 200 + "." + n / 200 + "." + (n % 200 + 1))
            .toList();
    return Map.of("from.networks", Map.of("sense", "is not", "values", networks));
  }

  @Test
  void whatIsNotGoingOnIsNotFound() {
    assertThat(given().get("/api/work/nothing").statusCode()).isEqualTo(404);
    given().header("Sieve-Work", "quick").get(BASE).then().statusCode(200);
    assertThat(given().get("/api/work/quick").statusCode()).isEqualTo(404);
  }
}
