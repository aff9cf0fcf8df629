package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.common.http.TestHTTPResource;
import io.quarkus.test.junit.QuarkusTest;
import ironsieve.server.edit.Editor;
import ironsieve.server.store.ChangeFeed;
import jakarta.inject.Inject;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What pages are told of what others do. */
@QuarkusTest
class ChangesApiTest {

  private static final String BASE = "/api/rulebases/main-gateway";

  @Inject DemoData demo;
  @Inject ObjectMapper json;
  @Inject Editor editor;
  @Inject ChangeFeed feed;

  @TestHTTPResource("/")
  URI address;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  private long revision() throws Exception {
    return json.readTree(given().get(BASE).asString()).get("revision").asLong();
  }

  private JsonNode edit(String who, Object... steps) throws Exception {
    return json.readTree(
        given()
            .header("Sieve-Editor", who)
            .contentType("application/json")
            .body(Map.of("revision", revision(), "what", "edited", "steps", List.of(steps)))
            .post(BASE + "/edits")
            .asString());
  }

  private static Map<String, Object> state(String rule, String state) {
    return Map.of("op", "CHANGE_RULE", "id", rule, "rule", Map.of("state", state));
  }

  private JsonNode since(long revision) throws Exception {
    return json.readTree(given().get(BASE + "/changes?since=" + revision).asString());
  }

  @Test
  void listenersAreToldOfEachChangeOnceItIsCommitted() throws Exception {
    HttpResponse<Stream<String>> answer =
        HttpClient.newHttpClient()
            .send(
                HttpRequest.newBuilder(address.resolve("/api/change-events")).build(),
                HttpResponse.BodyHandlers.ofLines());
    try (Stream<String> lines = answer.body()) {
      assertThat(answer.statusCode()).isEqualTo(200);
      assertThat(answer.headers().firstValue("Content-Type").orElse(""))
          .startsWith("text/event-stream");
      Iterator<String> events = lines.filter(line -> line.startsWith("event:")).iterator();
      edit("Wanda", state("br-press", "off"));
      assertThat(events.next()).isEqualTo("event:changed");
    }
  }

  @Test
  void aFollowerIsToldOfRulebasesAndOfTheWorkspaceUntilItEnds() throws Exception {
    CountDownLatch rulebase = new CountDownLatch(1);
    Runnable end = feed.follow(what -> rulebase.countDown());
    edit("Wanda", state("br-press", "off"));
    assertThat(rulebase.await(30, TimeUnit.SECONDS)).isTrue();
    end.run();
    CountDownLatch workspace = new CountDownLatch(1);
    Runnable also = feed.follow(what -> workspace.countDown());
    long version = json.readTree(given().get("/api/workspace").asString()).get("version").asLong();
    given()
        .contentType("application/json")
        .body(
            Map.of(
                "version",
                version,
                "what",
                "added a group",
                "steps",
                List.of(
                    Map.of(
                        "op",
                        "PUT",
                        "kind",
                        "group",
                        "doc",
                        Map.of("name", "Divers", "note", "")))))
        .post("/api/workspace/changes")
        .then()
        .statusCode(200);
    assertThat(workspace.await(30, TimeUnit.SECONDS)).isTrue();
    also.run();
  }

  @Test
  void whatWasEditedSinceIsToldAsWhatItChanged() throws Exception {
    long seen = revision();
    edit("Wanda", state("br-press", "off"));
    edit("Piet", Map.of("op", "MOVE_RULE", "id", "br-chat", "place", Map.of("before", "br-staff")));
    JsonNode told = since(seen);
    assertThat(told.get("entries")).hasSize(2);
    assertThat(told.at("/entries/0/who").asText()).isEqualTo("Wanda");
    assertThat(told.at("/entries/1/who").asText()).isEqualTo("Piet");
    JsonNode edited = told.get("edited");
    assertThat(edited.get("since").asLong()).isEqualTo(seen);
    assertThat(edited.get("revision").asLong()).isEqualTo(revision());
    assertThat(edited.get("rules").findValuesAsText("id"))
        .containsExactlyInAnyOrder("br-press", "br-chat");
    assertThat(edited.get("order")).isNotEmpty();
    // What was done and taken back since has changed nothing.
    long now = revision();
    edit("Wanda", state("br-press", "on"));
    edit("Wanda", state("br-press", "off"));
    assertThat(since(now).at("/edited/rules")).isEmpty();
    assertThat(since(now).get("entries")).hasSize(2);
  }

  @Test
  void whatIsTooLongAgoToBeRememberedIsSaidToBe() throws Exception {
    long seen = revision();
    for (int i = 0; i < 20; i++) {
      edit("Wanda", state("br-press", i % 2 == 0 ? "off" : "on"));
    }
    JsonNode told = since(seen);
    assertThat(told.get("entries")).hasSize(20);
    assertThat(told.path("edited").isMissingNode() || told.get("edited").isNull()).isTrue();
  }

  @Test
  void aRevisionThatNeverWasIsRefused() throws Exception {
    given()
        .get(BASE + "/changes?since=" + (revision() + 1))
        .then()
        .statusCode(422)
        .body("detail", org.hamcrest.Matchers.containsString("it has revisions 0 to"));
    given().get("/api/rulebases/nowhere/changes?since=0").then().statusCode(404);
  }
}
