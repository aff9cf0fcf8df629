package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.junit.QuarkusTest;
import ironsieve.server.store.ReplayStore;
import ironsieve.server.store.Sql;
import jakarta.inject.Inject;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Files beside the server are dropped through a rulebase by a process of its own. */
@QuarkusTest
class ReplaysApiTest {

  private static final ObjectMapper JSON = new ObjectMapper();
  private static final String BASE = "/api/rulebases/main-gateway";
  private static final String REPLAYS = BASE + "/replays";
  private static final String MONTH = "one month.csv";
  private static final Path FILE = Path.of("..", "demo", "replay", MONTH);
  private static final Duration LONG = Duration.ofMinutes(3);

  @Inject DemoData demo;
  @Inject ReplayStore store;
  @Inject Sql sql;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  private static JsonNode get(String path) throws IOException {
    return JSON.readTree(given().get(path).then().statusCode(200).extract().asString());
  }

  private static JsonNode start(Map<String, Object> asked, int status) throws IOException {
    return JSON.readTree(
        given()
            .contentType("application/json")
            .header("Sieve-Editor", "ada")
            .body(asked)
            .post(REPLAYS)
            .then()
            .statusCode(status)
            .extract()
            .asString());
  }

  /** Begins one as soon as a turn is free, for one that was stopped takes a moment to end. */
  private static int begun(Map<String, Object> asked) {
    return awaited(
        () -> {
          JsonNode answer =
              JSON.readTree(
                  given().contentType("application/json").body(asked).post(REPLAYS).asString());
          if (!answer.has("number")) {
            assertThat(answer.toString()).contains("another replay is running");
            return Optional.empty();
          }
          return Optional.of(answer.get("number").asInt());
        });
  }

  private static JsonNode ended(int number) {
    return awaited(
        () -> {
          for (JsonNode one : get(REPLAYS).get("replays")) {
            if (one.get("number").asInt() == number
                && !one.get("standing").asText().equals("running")) {
              return Optional.of(one);
            }
          }
          return Optional.empty();
        });
  }

  private static <T> T awaited(Callable<Optional<T>> asked) {
    return await().atMost(LONG).until(asked, Optional::isPresent).orElseThrow();
  }

  private static Map<String, String> bars(JsonNode charts, String by) {
    Map<String, String> bars = new TreeMap<>();
    for (JsonNode chart : charts) {
      if (chart.get("by").asText().equals(by)) {
        chart
            .get("bars")
            .forEach(bar -> bars.put(bar.get("value").asText(), bar.get("sum").toString()));
      }
    }
    return bars;
  }

  /** One replay for both, for most of what it takes is to begin. */
  @Test
  void whatComesOfAFileIsWhatComesOfItAsATapeAndWhatAnOlderRevisionDecidedOtherwiseIsTold()
      throws Exception {
    long before = get(BASE).get("revision").asLong();
    Map<String, Object> deny =
        Map.of("op", "CHANGE_RULE", "id", "br-staff", "rule", Map.of("verdict", "deny"));
    given()
        .contentType("application/json")
        .body(Map.of("revision", before, "what", "deny browsing", "steps", List.of(deny)))
        .post(BASE + "/edits")
        .then()
        .statusCode(200);
    for (JsonNode tape : get(BASE + "/hits").get("tapes")) {
      given().delete(BASE + "/tapes/{name}", tape.get("name").asText()).then().statusCode(200);
    }
    given()
        .contentType("text/csv")
        .body(Files.readAllBytes(FILE))
        .put(BASE + "/tapes/month")
        .then()
        .statusCode(200);
    int number = begun(Map.of("source", MONTH, "against", before));
    JsonNode ended = ended(number);
    assertThat(ended.get("standing").asText()).isEqualTo("done");
    assertThat(ended.get("why").asText()).isEmpty();
    JsonNode replayed = get(REPLAYS + "/" + number);
    assertThat(replayed.get("changedTimes").asLong()).isPositive();
    JsonNode worst = replayed.at("/changed/0");
    assertThat(worst.get("after").asText()).isEqualTo("deny");
    JsonNode fall =
        JSON.readTree(
            given()
                .contentType("application/json")
                .body(Map.of("text", worst.get("probe").asText()))
                .post(BASE + "/probe")
                .asString());
    // What a record does not say leaves a choice of rules; the probe says it.
    assertThat(worst.get("rulesAfter").asText().split(" or "))
        .contains(fall.get("caughtBy").asText());
    List<String> all = List.of("rule", "verdict", "person", "application", "from zone", "service");
    JsonNode taped =
        JSON.readTree(
            given()
                .queryParam("by", all)
                .queryParam("most", 500)
                .get(BASE + "/traffic")
                .then()
                .statusCode(200)
                .extract()
                .asString());
    assertThat(replayed.at("/traffic/total")).isEqualTo(taped.get("total"));
    for (String by : all) {
      assertThat(bars(replayed.at("/traffic/charts"), by))
          .as(by)
          .isNotEmpty()
          .isEqualTo(bars(taped.get("charts"), by));
    }
    long inSteps = 0;
    for (JsonNode step : replayed.at("/traffic/steps")) {
      inSteps += step.at("/sum/times").asLong();
    }
    assertThat(inSteps).isEqualTo(taped.at("/total/times").asLong());
    assertThat(
            given()
                .queryParam("by", "verdict")
                .get(REPLAYS + "/" + number + "/table")
                .then()
                .statusCode(200)
                .extract()
                .asString())
        .startsWith("\"verdict\",connections");
  }

  @Test
  void oneIsRunAtATimeAndWhoeverTakesItOutStopsIt() throws Exception {
    int number = begun(Map.of("source", MONTH));
    assertThat(start(Map.of("source", MONTH), 422).toString())
        .contains("another replay is running");
    assertThat(get(REPLAYS).at("/replays/0/standing").asText()).isEqualTo("running");
    JsonNode left =
        JSON.readTree(
            given().delete(REPLAYS + "/" + number).then().statusCode(200).extract().asString());
    assertThat(left.get("replays")).isEmpty();
    given().get(REPLAYS + "/" + number).then().statusCode(404);
    // The turn is free again long before the work would have been done by itself.
    int next = begun(Map.of("source", MONTH));
    given().delete(REPLAYS + "/" + next).then().statusCode(200);
  }

  @Test
  void whoeverCancelsOneIsToldOf() {
    int number = begun(Map.of("source", MONTH));
    long job =
        awaited(
            () -> {
              for (JsonNode one : get("/api/jobs").get("running")) {
                if (one.get("kind").asText().equals("replay")) {
                  return Optional.of(one.get("id").asLong());
                }
              }
              return Optional.empty();
            });
    given()
        .contentType("application/json")
        .header("Sieve-Editor", "Piet")
        .body("{}")
        .post("/api/jobs/" + job + "/cancel")
        .then()
        .statusCode(200);
    JsonNode ended = ended(number);
    assertThat(ended.get("standing").asText()).isEqualTo("failed");
    assertThat(ended.get("why").asText()).isEqualTo("Piet cancelled this");
  }

  @Test
  void onlyFilesOfTheFolderCanBeReplayed() throws Exception {
    assertThat(get(REPLAYS + "/sources").toString()).contains(MONTH);
    for (String path : List.of("../company.json", "/etc/passwd", "", "one month", "./" + MONTH)) {
      assertThat(start(Map.of("source", path), 422).toString())
          .contains("There is no file to replay");
    }
    assertThat(start(Map.of("source", "one mnth.csv"), 422).toString()).contains("did you mean");
    assertThat(start(Map.of("source", MONTH, "against", 999_999), 422).get("detail").asText())
        .contains("revision");
    assertThat(get(REPLAYS).get("replays")).isEmpty();
  }

  @Test
  void aReplayWhoseServerIsGoneHasFailed() throws Exception {
    int number =
        store.begin("main-gateway", "ada", new ReplayStore.Asked(MONTH, 1, Optional.empty()));
    assertThat(get(REPLAYS).at("/replays/0/standing").asText()).isEqualTo("running");
    sql.inTransaction(
        tx ->
            tx.change(
                "update replay set seen = now() - interval '1 minute' where number = ?", number));
    assertThat(get(REPLAYS).at("/replays/0/standing").asText()).isEqualTo("failed");
    assertThat(get(REPLAYS).at("/replays/0/why").asText()).contains("is gone");
  }
}
