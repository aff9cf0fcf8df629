package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.junit.QuarkusTest;
import jakarta.inject.Inject;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Recorded traffic: kept, dropped into the newest revision, told of in the review. */
@QuarkusTest
class TapesApiTest {

  private static final String BASE = "/api/rulebases/main-gateway";
  private static final ObjectMapper JSON = new ObjectMapper();
  private static final String REMOTE =
      "from Internet 203.0.113.12 to Offices 10.20.12.10 using tcp/443 %s over TLS"
          + " at thu 2026-10-29 09:00";

  @Inject DemoData demo;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  private static JsonNode get(String path) throws Exception {
    return JSON.readTree(given().get(BASE + path).then().statusCode(200).extract().asString());
  }

  private static JsonNode load(String name, String csv, int status) throws Exception {
    return JSON.readTree(
        given()
            .contentType("text/csv")
            .header("Sieve-Editor", "ada")
            .body(csv)
            .put(BASE + "/tapes/" + name)
            .then()
            .statusCode(status)
            .extract()
            .asString());
  }

  @Test
  void everyHitOfARuleIsAConnectionItCatches() throws Exception {
    JsonNode hits = get("/hits");
    assertThat(hits.get("days").asLong()).isEqualTo(29);
    assertThat(hits.get("rules").has("li-remote")).isFalse();
    for (String rule : List.of("bk-web", "la-all", "wf-ines")) {
      JsonNode caught = get("/hits/rules/" + rule);
      long sum = 0;
      for (JsonNode line : caught.get("lines")) {
        sum += line.get("times").asLong();
      }
      assertThat(sum).isEqualTo(hits.at("/rules/" + rule + "/times").asLong()).isPositive();
      JsonNode fall =
          JSON.readTree(
              given()
                  .contentType("application/json")
                  .body(Map.of("text", caught.at("/lines/0/probe").asText()))
                  .post(BASE + "/probe")
                  .asString());
      assertThat(fall.get("caughtBy").asText()).isEqualTo(rule);
    }
    assertThat(get("/hits/default-verdict").get("lines")).isEmpty();
  }

  @Test
  void anUnusedRuleIsToldUntilSomethingFallsOnIt() throws Exception {
    JsonNode unused = Findings.one(BASE, "li-remote", "unused");
    assertThat(unused.get("sentence").asText()).contains("29 days", "connections");
    String witness = unused.at("/evidence/0/witness/probe").asText();
    assertThat(unused.at("/evidence/0/witness/caughtBy").asText()).isEqualTo("li-remote");
    String seen = witness.replaceAll(" at .*", " at tue 2026-11-03 10:00");

    JsonNode hits = load("one more", "times,connection\n3,\"" + seen + "\"\n", 200);
    assertThat(hits.at("/rules/li-remote/times").asLong()).isEqualTo(3);
    assertThat(hits.get("tapes")).hasSize(2);
    assertThat(Findings.all(BASE))
        .noneMatch(
            f ->
                f.get("rule").asText().equals("li-remote")
                    && f.get("kind").asText().equals("unused"));

    JsonNode after =
        JSON.readTree(
            given().delete(BASE + "/tapes/one more").then().statusCode(200).extract().asString());
    assertThat(after.get("tapes")).hasSize(1);
    assertThat(Findings.one(BASE, "li-remote", "unused")).isNotNull();
    given().delete(BASE + "/tapes/one more").then().statusCode(404);
  }

  @Test
  void hitsAreThoseOfTheRulebaseAsItIsAfterAnEdit() throws Exception {
    long before = get("/hits").at("/rules/la-all/times").asLong();
    long revision = get("").get("revision").asLong();
    given()
        .contentType("application/json")
        .body(
            Map.of(
                "revision",
                revision,
                "what",
                "removed",
                "steps",
                List.of(Map.of("op", "REMOVE_RULE", "id", "la-all"))))
        .post(BASE + "/edits")
        .then()
        .statusCode(200);
    JsonNode hits = get("/hits");
    assertThat(hits.at("/rules/la-all").isMissingNode()).isTrue();
    assertThat(hits.at("/defaultVerdict/times").asLong()).isEqualTo(before);
  }

  @Test
  void aTapeComesBackAsItWasAndABrokenOneIsRefusedByItsLine() throws Exception {
    String csv = "times,connection\n2," + String.format(REMOTE, "Penhale Remote") + "\n";
    JsonNode refused = load("broken", csv.replace("2026-10-29 ", ""), 422);
    assertThat(refused.toString()).contains("tape broken", "line 2", "when it was seen");
    JsonNode unknown = load("broken", csv, 422);
    assertThat(unknown.toString()).contains("Penhale Remote");
    assertThat(get("/hits").get("tapes")).hasSize(1);
    String kept = given().get(BASE + "/tapes/autumn weeks").then().extract().asString();
    assertThat(load("copy", kept, 200).get("tapes")).hasSize(2);
    assertThat(given().get(BASE + "/tapes/copy").asString()).isEqualTo(kept);
  }
}
