package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.junit.QuarkusTest;
import jakarta.inject.Inject;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What anybody's gateway can tell of what it decided. */
@QuarkusTest
class GatewayLogApiTest {

  private static final ObjectMapper JSON = new ObjectMapper();
  private static final String BASE = "/api/rulebases/main-gateway";

  @Inject DemoData demo;

  private String key;

  @BeforeEach
  void enrol() throws Exception {
    demo.restore();
    String code =
        json(given()
                .contentType("application/json")
                .body(Map.of("rulebase", "main-gateway"))
                .put("/api/gateways/quay")
                .asString())
            .get("code")
            .asText();
    key =
        json(given()
                .contentType("application/json")
                .body(Map.of("code", code))
                .post("/api/gateway-protocol/enrol")
                .asString())
            .get("key")
            .asText();
  }

  @AfterEach
  void remove() {
    given().delete("/api/gateways/quay");
  }

  private static JsonNode json(String text) throws Exception {
    return JSON.readTree(text);
  }

  private static JsonNode get(String path) throws Exception {
    return json(given().get(path).then().statusCode(200).extract().asString());
  }

  private JsonNode send(long dropped, List<String> lines) throws Exception {
    return json(
        given()
            .header("Authorization", "Bearer " + key)
            .contentType("application/json")
            .queryParam("dropped", dropped)
            .body(lines)
            .post("/api/gateway-protocol/log")
            .then()
            .statusCode(200)
            .extract()
            .asString());
  }

  private static String decision(String time, String rule, int client) {
    return "<134>1 "
        + time
        + " quay - - - [decision@32473 release=\"3\" verdict=\"deny\" rule=\""
        + rule
        + "\" client=\""
        + client
        + "\"]";
  }

  private static String connection(int client) {
    return "<134>1 2026-12-02T10:00:01Z quay - - - [connection@32473 from=\"10.20.0.40\""
        + " to=\"203.0.113.9\" host=\"page.example\" service=\"tcp/80\" bytesUp=\"1\"]"
        + "[decision@32473 release=\"3\" verdict=\"allow\" client=\""
        + client
        + "\" probe=\"from Offices 10.20.0.40 to Internet page.example using tcp/80\"]";
  }

  private static long times() throws Exception {
    JsonNode tapes = get(BASE + "/hits").get("tapes");
    int at = tapes.findValuesAsText("name").indexOf("gateway quay");
    return at < 0 ? 0 : tapes.get(at).get("times").asLong();
  }

  @Test
  void hitsAddUpAndKnowTheLastAndOnlyWhatIsToldInFullIsOnTheTape() throws Exception {
    JsonNode taken =
        send(
            0,
            List.of(
                decision("2026-12-02T10:00:05Z", "r1", 1),
                decision("2026-12-02T10:00:03Z", "r1", 2),
                connection(3),
                "no line",
                "<134>1 2026-12-02T10:00:05Z q - - - [decision@1 release=\"x\" client=\"1\"]"));
    assertThat(taken.get("refused").asLong()).isEqualTo(2);
    assertThat(taken.get("trouble").asText()).isEmpty();
    send(7, List.of(decision("2026-12-02T09:59:00Z", "r1", 4), connection(5)));
    JsonNode hits = get(BASE + "/decided/hits");
    assertThat(hits).hasSize(2);
    // The default verdict comes first and has no rule.
    assertThat(hits.at("/0/rule").isTextual()).isFalse();
    assertThat(hits.get(0).get("hits").asLong()).isEqualTo(2);
    assertThat(hits.get(1).get("rule").asText()).isEqualTo("r1");
    assertThat(hits.get(1).get("hits").asLong()).isEqualTo(3);
    assertThat(Instant.parse(hits.get(1).get("last").asText()))
        .isEqualTo(Instant.parse("2026-12-02T10:00:05Z"));
    assertThat(times()).isEqualTo(2);
    assertThat(get("/api/gateways").at("/0/dropped").asLong()).isEqualTo(7);

    JsonNode newest = get(BASE + "/decided");
    assertThat(newest.findValuesAsText("probe"))
        .containsExactly(
            "from Offices 10.20.0.40 to Internet page.example using tcp/80",
            "",
            "from Offices 10.20.0.40 to Internet page.example using tcp/80",
            "",
            "");
    long seen = newest.at("/1/number").asLong();
    assertThat(get(BASE + "/decided?after=" + seen)).hasSize(1);
  }

  @Test
  void onlySoManyConnectionsAreKeptInFullAndAllAreCounted() throws Exception {
    send(0, IntStream.range(0, 700).mapToObj(GatewayLogApiTest::connection).toList());
    send(0, IntStream.range(0, 100).mapToObj(GatewayLogApiTest::connection).toList());
    assertThat(get(BASE + "/decided?most=500")).hasSize(500);
    assertThat(get(BASE + "/decided/hits").at("/0/hits").asLong()).isEqualTo(800);
    assertThat(times()).isEqualTo(800);
  }

  /** The tape that somebody put in its place stays, and what comes later is added to that. */
  @Test
  void whoeverReplacesOrRemovesTheTapeMeanwhileLosesNothing() throws Exception {
    send(0, List.of(connection(1), connection(2), connection(3)));
    assertThat(times()).isEqualTo(3);
    given().delete(BASE + "/tapes/gateway quay").then().statusCode(200);
    assertThat(times()).isZero();
    send(0, List.of(connection(4)));
    assertThat(times()).isEqualTo(1);
  }
}
