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

/** A name that is changed, or changed back, never leaves anything that names what is not there. */
@QuarkusTest
class RenamesApiTest {

  private static final ObjectMapper JSON = new ObjectMapper();
  private static final String MAIN = "/api/rulebases/main-gateway";

  @Inject DemoData demo;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  private static JsonNode ask(String who, String method, String path, Object body, int status)
      throws Exception {
    var request = given().header("Sieve-Editor", who).contentType("application/json");
    String answer =
        (body == null ? request : request.body(body))
            .request(method, path)
            .then()
            .statusCode(status)
            .extract()
            .asString();
    return JSON.readTree(answer);
  }

  private static JsonNode get(String path) throws Exception {
    return ask("ada", "GET", path, null, 200);
  }

  private static JsonNode edit(String who, int status, Object... steps) throws Exception {
    return ask(
        who,
        "POST",
        MAIN + "/edits",
        Map.of(
            "revision", get(MAIN).get("revision").asLong(),
            "what", "tested",
            "steps", List.of(steps)),
        status);
  }

  private static JsonNode change(String who, Object... steps) throws Exception {
    return ask(
        who,
        "POST",
        "/api/workspace/changes",
        Map.of(
            "version", get("/api/workspace").get("version").asLong(),
            "what", "tested",
            "steps", List.of(steps)),
        200);
  }

  private static Map<String, Object> rename(String kind, String id, String name) {
    return Map.of("op", "RENAME", "kind", kind, "id", id, "name", name);
  }

  private static Map<String, Object> ruleTo(String zone) {
    return Map.of(
        "op", "ADD_RULE",
        "place", Map.of(),
        "rule",
            Map.of(
                "name", "Added",
                "verdict", "deny",
                "fields", Map.of("to.zones", Map.of("sense", "is", "values", List.of(zone)))));
  }

  private static boolean namesUnknown() throws Exception {
    return Findings.all(MAIN).stream()
        .anyMatch(finding -> finding.get("kind").asText().equals("unknown name"));
  }

  @Test
  void aSetOfTheRulebaseIsRenamedInDecryptionToo() throws Exception {
    JsonNode set = null;
    for (JsonNode one : get(MAIN).get("sets")) {
      if (one.get("name").asText().equals("Booking servers")) {
        set = one;
      }
    }
    assertThat(set).isNotNull();
    Map<String, Object> named =
        Map.of(
            "kind",
            set.get("kind").asText(),
            "name",
            "Booking hosts",
            "values",
            set.get("values"),
            "note",
            "");
    edit("ada", 200, Map.of("op", "SAVE_SET", "set", named, "oldName", "Booking servers"));
    assertThat(get(MAIN).toString())
        .doesNotContain("set Booking servers")
        .contains("Booking hosts");
    assertThat(namesUnknown()).isFalse();
  }

  @Test
  void whoUsesASetNamesDecryptionRules() throws Exception {
    JsonNode uses = get("/api/workspace/uses?kind=zone&id=Booking DMZ");
    assertThat(uses.toString()).contains("decryption rule");
  }

  /** Somebody else began to use the new name before the old one came back. */
  @Test
  void undoneARenameIsFollowedByWhatBeganToUseTheNewName() throws Exception {
    change("ada", rename("zone", "Partners", "Associates"));
    edit("ben", 200, ruleTo("Associates"));
    assertThat(get(MAIN).toString()).contains("Associates").doesNotContain("\"Partners\"");
    ask(
        "ada",
        "POST",
        "/api/workspace/undo",
        Map.of("version", get("/api/workspace").get("version").asLong()),
        200);
    assertThat(get(MAIN).toString()).doesNotContain("Associates");
    assertThat(namesUnknown()).isFalse();
    ask(
        "ada",
        "POST",
        "/api/workspace/redo",
        Map.of("version", get("/api/workspace").get("version").asLong()),
        200);
    assertThat(get(MAIN).toString()).contains("Associates").doesNotContain("\"Partners\"");
    assertThat(namesUnknown()).isFalse();
  }

  @Test
  void anUndoThatWouldLeaveRulesNamingNothingIsRefusedAndSaysWhich() throws Exception {
    Map<String, Object> set =
        Map.of("kind", "network", "name", "Desks", "values", List.of("10.20.9.0/24"), "note", "");
    edit("ada", 200, Map.of("op", "SAVE_SET", "set", set));
    edit(
        "ben",
        200,
        Map.of(
            "op", "ADD_RULE",
            "place", Map.of(),
            "rule",
                Map.of(
                    "name", "Uses it",
                    "verdict", "deny",
                    "fields",
                        Map.of(
                            "from.networks",
                            Map.of("sense", "is", "values", List.of("set Desks"))))));
    JsonNode refused =
        ask(
            "ada",
            "POST",
            MAIN + "/undo",
            Map.of("revision", get(MAIN).get("revision").asLong()),
            422);
    assertThat(refused.get("detail").asText()).contains("names set Desks, which would be gone");
    assertThat(namesUnknown()).isFalse();
  }

  /** Edits that name a zone race with its renames; at the end everything is known. */
  @Test
  void aRaceOfEditsAndRenamesLeavesNoUnknownName() throws Exception {
    for (int round = 0; round < 8; round++) {
      String from = round % 2 == 0 ? "Partners" : "Associates";
      String to = round % 2 == 0 ? "Associates" : "Partners";
      long version = get("/api/workspace").get("version").asLong();
      long revision = get(MAIN).get("revision").asLong();
      Thread editing =
          new Thread(
              () ->
                  given()
                      .header("Sieve-Editor", "ben")
                      .contentType("application/json")
                      .body(
                          Map.of(
                              "revision",
                              revision,
                              "what",
                              "raced",
                              "steps",
                              List.of(ruleTo(from))))
                      .post(MAIN + "/edits"));
      editing.start();
      given()
          .header("Sieve-Editor", "ada")
          .contentType("application/json")
          .body(
              Map.of(
                  "version", version, "what", "raced", "steps", List.of(rename("zone", from, to))))
          .post("/api/workspace/changes")
          .then()
          .statusCode(200);
      editing.join();
      assertThat(namesUnknown()).as("round %d", round).isFalse();
    }
  }

  @Test
  void whoElseHasARuleOpenIsTold() throws Exception {
    String rule = MAIN + "/open-rules/bk-web?window=";
    assertThat(ask("ada", "PUT", rule + "one", null, 200).get("others")).isEmpty();
    assertThat(ask("ben", "PUT", rule + "two", null, 200).at("/others/0").asText())
        .isEqualTo("ada");
    given().delete(rule + "one").then().statusCode(204);
    assertThat(ask("ben", "PUT", rule + "two", null, 200).get("others")).isEmpty();
    ask("ben", "PUT", rule, null, 422);
    ask("ben", "PUT", MAIN + "/open-rules/none?window=two", null, 404);
  }

  @Test
  void aLaneThatAloneIsMoreThanTheLinkIsToldWhereItIsEdited() throws Exception {
    Map<String, Object> lane =
        Map.of(
            "name",
            "Callers",
            "scope",
            "client",
            "ceiling",
            Map.of("up", 0, "down", 0),
            "guarantee",
            Map.of("up", 50_000, "down", 50_000),
            "clients",
            6_000,
            "note",
            "");
    JsonNode impact =
        ask(
            "ada",
            "POST",
            MAIN + "/impact",
            Map.of("steps", List.of(Map.of("op", "SAVE_PART", "partKind", "lane", "part", lane))),
            200);
    assertThat(impact.get("oversubscribed").toString())
        .contains("Lane Callers for 6000 clients guarantees 300 Gbit/s");
  }
}
