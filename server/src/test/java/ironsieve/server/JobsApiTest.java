package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.common.http.TestHTTPResource;
import io.quarkus.test.junit.QuarkusTest;
import ironsieve.progress.Progress;
import ironsieve.server.jobs.Jobs;
import jakarta.inject.Inject;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.concurrent.CompletableFuture;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What the server is working on is told, can be cancelled, and what fails behind is told too. */
@QuarkusTest
class JobsApiTest {

  private static final String BASE = "/api/rulebases/main-gateway";

  @Inject DemoData demo;
  @Inject Jobs jobs;
  @Inject ObjectMapper json;

  @TestHTTPResource("/")
  URI address;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  private JsonNode told() throws Exception {
    return json.readTree(given().get("/api/jobs").asString());
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

  /** The job of this name, as soon as it is at something that can be counted. */
  private JsonNode running(String what, CompletableFuture<?> sent) throws Exception {
    while (true) {
      assertThat(sent).as("it went on long enough to be seen").isNotDone();
      for (JsonNode one : told().get("running")) {
        if (one.get("what").asText().equals(what) && one.get("done").asInt() > 0) {
          return one;
        }
      }
    }
  }

  private static String log() {
    return IntStream.range(0, 400_000)
        .mapToObj(
            i ->
                "2026-11-11T10:00:00,10.20."
                    + i / 250 % 250
                    + "."
                    + (i % 250 + 1)
                    + ",203.0.113.9,tcp/443\n")
        .collect(Collectors.joining("", "time,from,to,service\n", ""));
  }

  /**
   * A tape as we write it, and a table of somebody else's: two readers that are not to mistake it.
   */
  @ParameterizedTest
  @ValueSource(booleans = {true, false})
  void whatSomebodyWaitsForIsToldToAllAndCanBeCancelledByAnother(boolean isOurs) throws Exception {
    String before = given().get(BASE + "/hits").asString();
    CompletableFuture<HttpResponse<String>> sent =
        HttpClient.newHttpClient()
            .sendAsync(
                HttpRequest.newBuilder(address.resolve(BASE + "/tapes/long"))
                    .header("Content-Type", "text/csv")
                    .header("Sieve-Editor", "Wanda")
                    .header("Sieve-Work-What", "loading%20a%20month")
                    .PUT(HttpRequest.BodyPublishers.ofString(isOurs ? tape() : log()))
                    .build(),
                HttpResponse.BodyHandlers.ofString());
    JsonNode job = running("loading a month", sent);
    assertThat(job.get("owner").asText()).isEqualTo("Wanda");
    assertThat(job.get("kind").asText()).isEqualTo("request");
    assertThat(job.get("doing").asText()).isNotEmpty();
    given()
        .header("Sieve-Editor", "Piet")
        .contentType("application/json")
        .body("{}")
        .post("/api/jobs/" + job.get("id").asLong() + "/cancel")
        .then()
        .statusCode(200);
    HttpResponse<String> answer = sent.join();
    assertThat(answer.statusCode()).as(answer.body()).isEqualTo(409);
    assertThat(answer.body()).contains("Piet cancelled this, and nothing was changed");
    assertThat(given().get(BASE + "/hits").asString()).isEqualTo(before);
    assertThat(
            StreamSupport.stream(told().get("running").spliterator(), false)
                .map(one -> one.get("what").asText()))
        .doesNotContain("loading a month");
  }

  @Test
  void whatDoesNotLookWhetherItIsStoppedIsNotOfferedToBe() throws Exception {
    Progress progress = new Progress();
    long id = jobs.begin(Jobs.Kind.REVIEW, "review of a day", "", progress);
    try {
      assertThat(
              StreamSupport.stream(told().get("running").spliterator(), false)
                  .filter(one -> one.get("id").asLong() == id)
                  .map(one -> one.get("cancellable").asBoolean()))
          .containsExactly(false);
      given()
          .contentType("application/json")
          .body("{}")
          .post("/api/jobs/" + id + "/cancel")
          .then()
          .statusCode(404);
      assertThat(progress.isStopped()).isFalse();
    } finally {
      jobs.end(id);
    }
  }

  @Test
  void whatIsOverCannotBeCancelled() {
    long id = jobs.begin(Jobs.Kind.REPLAY, "replay of a day", "Wanda", new Progress());
    jobs.end(id);
    given()
        .contentType("application/json")
        .body("{}")
        .post("/api/jobs/" + id + "/cancel")
        .then()
        .statusCode(404);
  }

  @Test
  void whatFailsBehindIsToldAndCounted() throws Exception {
    long before = told().get("failures").asLong();
    jobs.run(
        Jobs.Kind.SOURCE,
        "reading the harbour's list",
        progress -> {
          throw new IllegalStateException("the harbour is closed");
        });
    jobs.run(
        Jobs.Kind.SOURCE,
        "reading what is stopped",
        progress -> {
          progress.stop("enough");
          progress.check();
        });
    JsonNode told = told();
    assertThat(told.get("failures").asLong()).isEqualTo(before + 1);
    JsonNode newest = told.at("/failed/0");
    assertThat(newest.get("what").asText()).isEqualTo("reading the harbour's list");
    assertThat(newest.get("why").asText()).isEqualTo("the harbour is closed");
    assertThat(newest.get("kind").asText()).isEqualTo("source");
    for (int i = 0; i < 30; i++) {
      jobs.fail(Jobs.Kind.REVIEW, "review " + i, "", new IllegalStateException());
    }
    assertThat(told().get("failed")).hasSize(20);
    assertThat(told().at("/failed/0/what").asText()).isEqualTo("review 29");
    assertThat(told().at("/failed/0/why").asText()).isEqualTo("an unexpected fault; see the log");
  }
}
