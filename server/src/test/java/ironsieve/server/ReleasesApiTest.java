package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.response.Response;
import jakarta.inject.Inject;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What a release would do is said before it is made, and what stands against it stops it. */
@QuarkusTest
class ReleasesApiTest {

  private static final String BASE = "/api/rulebases/main-gateway";
  private static final String PROBE =
      "from Offices 10.20.0.40 as ines.halloran to Internet page.example using tcp/80 HTTP";

  @Inject DemoData demo;
  @Inject ObjectMapper json;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  @AfterEach
  void removeGateway() {
    given().delete("/api/gateways/quay");
  }

  private JsonNode get(String path) throws Exception {
    return json.readTree(given().get(path).then().statusCode(200).extract().asString());
  }

  private long revision() throws Exception {
    return get(BASE).get("revision").asLong();
  }

  private void edit(String reason, Object... steps) throws Exception {
    given()
        .header("Sieve-Editor", "Wanda")
        .header("Sieve-Reason", reason)
        .contentType("application/json")
        .body(Map.of("revision", revision(), "what", "edited", "steps", List.of(steps)))
        .post(BASE + "/edits")
        .then()
        .statusCode(200);
  }

  private static Map<String, Object> change(String rule, String field, Object value) {
    return Map.of("op", "CHANGE_RULE", "id", rule, "rule", Map.of(field, value));
  }

  private JsonNode firstRule() throws Exception {
    return get(BASE).at("/chapters/0/rules/0");
  }

  private Map<String, Object> blockOfPage() throws Exception {
    return Map.of(
        "op",
        "ADD_RULE",
        "place",
        Map.of("before", firstRule().get("id").asText()),
        "rule",
        Map.of(
            "name",
            "No page",
            "verdict",
            "reject",
            "fields",
            Map.of("to.sites", Map.of("sense", "is", "values", List.of("page.example")))));
  }

  private JsonNode preview(long... leftOut) throws Exception {
    StringBuilder query = new StringBuilder();
    for (long revision : leftOut) {
      query.append(query.isEmpty() ? "?" : "&").append("leftOut=").append(revision);
    }
    return get(BASE + "/releases/preview" + query);
  }

  private static Map<String, String> reasons(JsonNode preview) {
    Map<String, String> reasons = new HashMap<>();
    preview.get("stops").forEach(stop -> reasons.put(stop.get("id").asText(), "known since May"));
    return reasons;
  }

  private Response release(JsonNode preview, Map<String, String> reasons, long... leftOut) {
    List<Long> out = new ArrayList<>();
    for (long revision : leftOut) {
      out.add(revision);
    }
    return given()
        .header("Sieve-Editor", "Wanda")
        .contentType("application/json")
        .body(
            Map.of(
                "revision",
                preview.get("revision").asLong(),
                "after",
                preview.get("after").asInt(),
                "leftOut",
                out,
                "title",
                "November",
                "reasons",
                reasons))
        .post(BASE + "/releases");
  }

  private void releaseAsItIs() throws Exception {
    JsonNode preview = preview();
    release(preview, reasons(preview)).then().statusCode(200);
  }

  private static List<String> texts(JsonNode list, String field) {
    return StreamSupport.stream(list.spliterator(), false)
        .map(one -> one.get(field).asText())
        .toList();
  }

  @Test
  void brokenPromisesAndErrorsStopItUntilEachIsOverriddenWithAReasonThatIsKept() throws Exception {
    JsonNode preview = preview();
    assertThat(preview.get("after").asInt()).isZero();
    assertThat(preview.get("beside")).isEmpty();
    List<String> ids = texts(preview.get("stops"), "id");
    assertThat(ids).anyMatch(id -> id.startsWith("promise:"));
    assertThat(ids).anyMatch(id -> id.startsWith("error:"));
    Map<String, String> reasons = reasons(preview);
    String last = ids.get(ids.size() - 1);
    reasons.put(last, " ");
    String refused = release(preview, reasons).then().statusCode(422).extract().asString();
    assertThat(json.readTree(refused).at("/errors")).hasSize(1);
    assertThat(json.readTree(refused).at("/errors/0/field").asText()).isEqualTo(last);
    assertThat(get(BASE + "/releases")).isEmpty();

    reasons.put(last, "the bank asked for it");
    release(preview, reasons).then().statusCode(200);
    JsonNode made = get(BASE + "/releases").get(0);
    assertThat(texts(made.get("overrides"), "stop")).isEqualTo(ids);
    assertThat(texts(made.get("overrides"), "reason")).contains("the bank asked for it");
    // What was overridden is not asked again while it stays, and still told.
    JsonNode next = preview();
    assertThat(next.get("stops")).isEmpty();
    assertThat(texts(next.get("overrides"), "stop")).isEqualTo(ids);
  }

  @Test
  void itSaysWhatItWouldDoAndThatItWouldDoNothing() throws Exception {
    releaseAsItIs();
    JsonNode same = preview().get("beside").get(0);
    assertThat(same.at("/release/number").asInt()).isEqualTo(1);
    assertThat(same.at("/differences/added").asInt()).isZero();
    assertThat(same.at("/differences/others")).isEmpty();
    assertThat(same.at("/impact/kinds")).isEmpty();
    assertThat(same.at("/impact/complete").asBoolean()).isTrue();
    assertThat(preview().get("open")).isEmpty();

    edit("CHG-7", blockOfPage());
    JsonNode differing = preview();
    assertThat(texts(differing.get("open"), "reason")).containsExactly("CHG-7");
    JsonNode beside = differing.at("/beside/0");
    assertThat(beside.at("/differences/added").asInt()).isEqualTo(1);
    assertThat(beside.at("/impact/kinds")).isNotEmpty();
    assertThat(beside.at("/impact/kinds").toString()).contains("page.example", "reject");
  }

  @Test
  void aChangeOfTheSurroundingsIsPartOfWhatItWouldDo() throws Exception {
    releaseAsItIs();
    given()
        .contentType("application/json")
        .body(
            Map.of(
                "version",
                get("/api/workspace").get("version").asLong(),
                "what",
                "renamed",
                "steps",
                List.of(Map.of("op", "RENAME", "kind", "zone", "id", "Offices", "name", "Rooms"))))
        .post("/api/workspace/changes")
        .then()
        .statusCode(200);
    JsonNode beside = preview().at("/beside/0");
    assertThat(beside.at("/differences/others").toString()).contains("zones");
    // A zone by another name is no other connection.
    assertThat(beside.at("/impact/kinds")).isEmpty();
  }

  @Test
  void someOfTheOpenChangesCanBeLeftOutAndStayOpen() throws Exception {
    releaseAsItIs();
    edit("CHG-7", blockOfPage());
    long blocked = revision();
    edit("CHG-8", change("br-press", "state", "off"));
    JsonNode preview = preview(blocked);
    assertThat(preview.at("/beside/0/differences/added").asInt()).isZero();
    assertThat(preview.at("/beside/0/differences/changed").asInt()).isEqualTo(1);
    release(preview, reasons(preview), blocked).then().statusCode(200);
    assertThat(texts(preview().get("open"), "reason")).containsExactly("CHG-7");
    JsonNode inForce = get(BASE + "/releases/in-force");
    assertThat(inForce.at("/release/number").asInt()).isEqualTo(2);
    assertThat(texts(inForce.get("marks"), "mark")).containsExactly("new");

    // What another open change builds on cannot be left out alone, and what is none is refused.
    String rule = firstRule().get("id").asText();
    edit("CHG-9", change(rule, "note", "not from here"));
    assertThat(
            given()
                .get(BASE + "/releases/preview?leftOut=" + blocked)
                .then()
                .statusCode(422)
                .extract()
                .asString())
        .contains("leave out what builds on it too");
    given().get(BASE + "/releases/preview?leftOut=1000").then().statusCode(422);
    assertThat(preview(blocked, revision()).at("/beside/0/differences/added").asInt()).isZero();
  }

  @Test
  void whoIsNotTheFirstIsToldWhatTheFirstReleased() throws Exception {
    JsonNode seen = preview();
    release(seen, reasons(seen)).then().statusCode(200);
    assertThat(release(seen, reasons(seen)).then().statusCode(409).extract().asString())
        .contains("Wanda made release 1", "November");
    JsonNode now = preview();
    edit("CHG-7", change("br-press", "state", "off"));
    release(now, reasons(now)).then().statusCode(409);
    assertThat(get(BASE + "/releases")).hasSize(1);
  }

  private JsonNode askedInForce() throws Exception {
    return json.readTree(
        given()
            .contentType("application/json")
            .body(Map.of("text", PROBE))
            .post(BASE + "/probe/in-force")
            .then()
            .statusCode(200)
            .extract()
            .asString());
  }

  @Test
  void draftAndInForceAreToldApartByRuleAndByProbe() throws Exception {
    given().get(BASE + "/releases/in-force").then().statusCode(204);
    given()
        .contentType("application/json")
        .body(Map.of("text", PROBE))
        .post(BASE + "/probe/in-force")
        .then()
        .statusCode(204);
    releaseAsItIs();
    assertThat(get(BASE + "/releases/in-force").get("count").asInt()).isZero();
    assertThat(askedInForce().get("same").asBoolean()).isTrue();
    String gone = get(BASE).at("/chapters/1/rules/0/id").asText();
    String moved = get(BASE).at("/chapters/0/rules/1/id").asText();
    edit(
        "CHG-7",
        blockOfPage(),
        Map.of("op", "REMOVE_RULE", "id", gone),
        change("br-press", "state", "off"),
        Map.of("op", "MOVE_RULE", "id", moved, "place", Map.of("before", "br-press")),
        Map.of("op", "SET_DEFAULT_VERDICT", "verdict", "reject"));
    JsonNode inForce = get(BASE + "/releases/in-force");
    Map<String, String> marks = new HashMap<>();
    inForce
        .get("marks")
        .forEach(mark -> marks.put(mark.get("rule").asText(), mark.get("mark").asText()));
    assertThat(marks)
        .hasSize(3)
        .containsEntry(firstRule().get("id").asText(), "new")
        .containsEntry("br-press", "changed")
        .containsEntry(moved, "moved");
    assertThat(texts(inForce.get("gone"), "id")).containsExactly(gone);
    assertThat(inForce.get("others").toString()).contains("the default verdict");
    assertThat(inForce.get("count").asInt()).isEqualTo(5);
    JsonNode asked = askedInForce();
    assertThat(asked.get("same").asBoolean()).isFalse();
    assertThat(asked.at("/fall/outcome").asText()).isEqualTo("allow");
  }

  @Test
  void aRulebaseThatAGatewayReadsStays() throws Exception {
    given()
        .contentType("application/json")
        .body(Map.of("rulebase", "main-gateway"))
        .put("/api/gateways/quay")
        .then()
        .statusCode(200);
    for (String standing : List.of("archived", "removed")) {
      assertThat(
              given()
                  .contentType("application/json")
                  .body(Map.of("standing", standing))
                  .post(BASE + "/standing")
                  .then()
                  .statusCode(422)
                  .extract()
                  .asString())
          .contains("quay", "take them out at Releases first");
    }
    assertThat(get(BASE).get("name").asText()).isNotEmpty();
  }
}
