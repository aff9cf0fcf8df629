package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.response.Response;
import ironsieve.Cases;
import ironsieve.server.store.Sql;
import jakarta.inject.Inject;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What no single request, and no two at once, may do to a rulebase or to others at work on it. */
@QuarkusTest
@QuarkusTestResource(OwnDatabase.class)
class FirmGroundTest {

  private static final String BASE = "/api/rulebases/main-gateway";

  @Inject DemoData demo;
  @Inject Sql sql;
  @Inject ObjectMapper json;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  private JsonNode get(String path) throws Exception {
    Response response = given().get(path);
    assertThat(response.statusCode()).as(response.asString()).isEqualTo(200);
    return json.readTree(response.asString());
  }

  private static Response edit(String who, long revision, Object... steps) {
    return given()
        .header("Sieve-Editor", who)
        .contentType("application/json")
        .body(Map.of("revision", revision, "what", "tested", "steps", List.of(steps)))
        .post(BASE + "/edits");
  }

  private static Response probe(String base) {
    return given()
        .contentType("application/json")
        .body(Map.of("text", "from Offices 10.20.4.9 to Internet using tcp/443 at tue 10:00"))
        .post(base + "/probe");
  }

  private static Map<String, Object> rule(String id, Map<String, Object> says) {
    return Map.of("op", "ADD_RULE", "id", id, "place", Map.of("after", "gw-admin"), "rule", says);
  }

  @Test
  void anEditionThatIsAdoptedUnderARuleThatNeedsTheOtherIsTold() throws Exception {
    // Edition 42 has no more Nightjar Pages; somebody writes a rule about it while 42 is adopted.
    String gone = goneIn42();
    ExecutorService threads = Executors.newFixedThreadPool(2);
    try {
      for (int round = 0; round < 12; round++) {
        demo.restore();
        CompletableFuture<Response> adopted =
            CompletableFuture.supplyAsync(
                () ->
                    given()
                        .contentType("application/json")
                        .body("{}")
                        .post("/api/editions/42/adopt"),
                threads);
        Map<String, Object> says =
            Map.of("fields", Map.of("using.applications", Map.of("values", List.of(gone))));
        Response edited = edit("ada", 0, rule("about-gone", says));
        assertThat(adopted.join().statusCode()).isIn(200, 409);
        assertThat(edited.statusCode()).isIn(200, 409, 422);
        JsonNode rulebase = get(BASE);
        assertThat(rulebase.get("faults")).as("round %d", round).isEmpty();
        boolean isAdopted = get("/api/editions").get("inForce").asInt() == 42;
        boolean isWritten = rulebase.toString().contains("about-gone");
        String review = get(BASE + "/review").toString();
        assertThat(review.contains("unknown name")).isEqualTo(isAdopted && isWritten);
      }
    } finally {
      threads.shutdownNow();
    }
  }

  /** An application that edition 41 has, 42 has not, and no rule of the demo names. */
  private String goneIn42() throws Exception {
    JsonNode impact = get(BASE + "/editions/42");
    assertThat(impact.get("unknown")).isEmpty();
    for (JsonNode change : impact.get("changes")) {
      if (change.get("kind").asText().equals("gone")) {
        return change.get("application").asText();
      }
    }
    throw new AssertionError("the demo's next edition has lost nothing");
  }

  @Test
  void aRulebaseThatCannotBeReadIsShownAndRepaired() throws Exception {
    write(
        "update rule set doc = jsonb_set(doc, '{fields,from.zones}', '{\"sense\":\"is\",\"values\":[\"Moon\"]}') where id = 'br-press'");
    write("update rule set doc = '{\"id\": 7, \"surprise\": [1]}' where id = 'br-intern'");
    write("update rule set doc = jsonb_set(doc, '{verdict}', '\"permit\"') where id = 'bk-export'");
    write("update rule set doc = jsonb_set(doc, '{chapter}', '\"gone\"') where id = 'la-all'");
    write("update workspace_record set doc = '{\"name\": \"Other\"}' where kind = 'organisation'");
    write("update workspace set version = version + 1, records = records + 1");
    JsonNode broken = get(BASE);
    assertThat(broken.get("faults").toString())
        .contains("rule br-intern", "rule bk-export", "permit")
        .doesNotContain("Moon");
    assertThat(get(BASE + "/review/rules/br-press").get("findings").toString())
        .contains("There is no zone \\\"Moon\\\"");
    assertThat(broken.toString()).contains("la-all", "Rules whose chapter is gone");
    assertThat(get(BASE + "/review").get("rules").size()).isGreaterThan(50);
    assertThat(probe(BASE).statusCode()).isEqualTo(200);
    // What has nothing to do with it can be edited meanwhile, but nothing more may break.
    assertThat(edit("ada", 0, change("gw-admin", Map.of("name", "Admin"))).statusCode())
        .isEqualTo(200);
    Response worse =
        edit(
            "ada",
            1,
            change(
                "gw-admin",
                Map.of("fields", Map.of("to.zones", Map.of("values", List.of("Mars"))))));
    assertThat(worse.statusCode()).isEqualTo(422);
    assertThat(worse.asString()).contains("Mars").doesNotContain("Moon");
    assertThat(
            edit(
                    "ada",
                    1,
                    change(
                        "br-press",
                        Map.of(
                            "fields", Map.of("from.zones", Map.of("values", List.of("Offices"))))))
                .statusCode())
        .isEqualTo(200);
    assertThat(edit("ada", 2, change("bk-export", Map.of("verdict", "deny"))).statusCode())
        .isEqualTo(200);
    assertThat(edit("ada", 3, Map.of("op", "REMOVE_RULE", "id", "br-intern")).statusCode())
        .isEqualTo(200);
    assertThat(get(BASE).get("faults")).isEmpty();
    assertThat(get(BASE + "/journal")).hasSize(4);
  }

  private static Map<String, Object> change(String rule, Map<String, Object> says) {
    return Map.of("op", "CHANGE_RULE", "id", rule, "rule", says);
  }

  private void write(String statement) {
    sql.inTransaction(tx -> tx.change(statement));
  }

  @Test
  void seventeenAndMoreRulesBelowOneAreUndoneAndRedone() throws Exception {
    for (int i = 0; i < 24; i++) {
      assertThat(edit("ada", i, rule("n" + i, Map.of("name", "N"))).statusCode()).isEqualTo(200);
    }
    JsonNode whole = get(BASE);
    for (int i = 24; i > 0; i--) {
      takeBack("undo", 48 - i, "ada");
    }
    assertThat(get(BASE).get("chapters")).isEqualTo(untouched().get("chapters"));
    for (int i = 0; i < 24; i++) {
      takeBack("redo", 48 + i, "ada");
    }
    assertThat(get(BASE).get("chapters")).isEqualTo(whole.get("chapters"));
  }

  private JsonNode untouched() throws Exception {
    return get(BASE + "?revision=0");
  }

  private static void takeBack(String which, long revision, String who) {
    Response taken =
        given()
            .header("Sieve-Editor", who)
            .contentType("application/json")
            .body(Map.of("revision", revision))
            .post(BASE + "/" + which);
    assertThat(taken.statusCode()).as(taken.asString()).isEqualTo(200);
  }

  @Test
  void thousandsOfRulesInOnePlaceAreUndoneAndRedone() throws Exception {
    List<Object> steps = new ArrayList<>();
    int rules = Cases.isLong() ? 10_000 : 2_500;
    for (int i = 0; i < rules; i++) {
      String network = "10.20." + i / 256 + "." + i % 256;
      steps.add(
          Map.of(
              "op",
              "ADD_RULE",
              "id",
              "n" + i,
              "place",
              Map.of("after", i == 0 ? "gw-admin" : "n" + (i - 1)),
              "rule",
              Map.of("fields", Map.of("from.networks", Map.of("values", List.of(network))))));
    }
    assertThat(edit("ada", 0, steps.toArray()).statusCode()).isEqualTo(200);
    takeBack("undo", 1, "ada");
    assertThat(get(BASE).get("chapters")).isEqualTo(untouched().get("chapters"));
    takeBack("redo", 2, "ada");
    JsonNode chapter = get(BASE).at("/chapters/0/rules");
    assertThat(chapter.get(1).get("id").asText()).isEqualTo("n0");
    assertThat(chapter.get(rules).get("id").asText()).isEqualTo("n" + (rules - 1));
    // Who came too late is told so in few words, however much it was.
    Response stale = edit("ben", 0, rule("late", Map.of()));
    assertThat(stale.statusCode()).isEqualTo(409);
    assertThat(stale.asString().length()).isLessThan(50_000);
    assertThat(get(BASE + "/journal").toString().length()).isLessThan(50_000);
  }

  @Test
  void setsThatUseEachOtherTwiceAndDeeplyAreNoWork() throws Exception {
    List<Object> steps = new ArrayList<>();
    for (int i = 0; i < 80; i++) {
      List<String> values =
          i == 79 ? List.of("10.20.0.1") : List.of("set s" + (i + 1), "set t" + (i + 1));
      for (String name : List.of("s" + i, "t" + i)) {
        steps.add(
            Map.of(
                "op",
                "SAVE_SET",
                "set",
                Map.of("kind", "network", "name", name, "values", values)));
      }
    }
    Response deep = edit("ada", 0, steps.toArray());
    assertThat(deep.statusCode()).isEqualTo(422);
    assertThat(deep.asString()).contains("at most 50 are allowed");
    assertThat(deep.asString().length()).isLessThan(50_000);
    // The same to the depth that is allowed.
    assertThat(edit("ada", 0, steps.subList(2 * 40, 160).toArray()).statusCode()).isEqualTo(200);
    Map<String, Object> uses =
        Map.of("fields", Map.of("from.networks", Map.of("values", List.of("set s40"))));
    assertThat(edit("ada", 1, rule("uses", uses)).statusCode()).isEqualTo(200);
    List<Object> circle = new ArrayList<>();
    for (int i = 0; i < 3_000; i++) {
      circle.add(
          Map.of(
              "op",
              "SAVE_SET",
              "set",
              Map.of(
                  "kind",
                  "network",
                  "name",
                  "c" + i,
                  "values",
                  List.of("set c" + (i + 1) % 3_000))));
    }
    Response round = edit("ada", 2, circle.toArray());
    assertThat(round.statusCode()).isEqualTo(422);
    assertThat(round.asString()).contains("it holds itself");
  }

  @Test
  void whatIsTooLongIsRefusedWithItsLimit() throws Exception {
    Response note = edit("ada", 0, change("gw-admin", Map.of("note", "x".repeat(20_000))));
    assertThat(note.statusCode()).isEqualTo(422);
    assertThat(note.asString()).contains("at most 10000 characters");
    Response name = edit("ada", 0, change("gw-admin", Map.of("name", " padded ")));
    assertThat(name.asString()).contains("no spaces around it");
    List<String> many = new ArrayList<>();
    for (int i = 0; i < 20_001; i++) {
      many.add("10.20." + i / 250 + "." + i % 250);
    }
    Response values =
        edit(
            "ada",
            0,
            change("gw-admin", Map.of("fields", Map.of("from.networks", Map.of("values", many)))));
    assertThat(values.statusCode()).isEqualTo(422);
    assertThat(values.asString()).contains("at most 20000 values");
  }

  @Test
  void anEditThatChangesNothingIsNoFault() throws Exception {
    JsonNode before = get(BASE);
    Response same = edit("ada", 0, change("gw-admin", Map.of("state", "on")));
    assertThat(same.statusCode()).isEqualTo(422);
    assertThat(same.jsonPath().getString("type")).isEqualTo("/problems/nothing-to-do");
    assertThat(get(BASE)).isEqualTo(before);
  }

  @Test
  void whateverDecidesAReviewGivesItAnotherState() throws Exception {
    String first = get(BASE).get("state").asText();
    assertThat(get(BASE).get("state").asText()).isEqualTo(first);
    given()
        .contentType("application/json")
        .body(Map.of("steps", 77_777))
        .put(BASE + "/review/steps")
        .then()
        .statusCode(200);
    String budget = get(BASE).get("state").asText();
    given()
        .contentType("text/csv")
        .body("times,connection\n1,from Offices to Internet at 2026-11-02 09:30\n")
        .put(BASE + "/tapes/t")
        .then()
        .statusCode(200);
    String taped = get(BASE).get("state").asText();
    given()
        .contentType("application/json")
        .body("{}")
        .post("/api/editions/42/adopt")
        .then()
        .statusCode(200);
    String adopted = get(BASE).get("state").asText();
    assertThat(edit("ada", 0, change("gw-admin", Map.of("name", "A"))).statusCode()).isEqualTo(200);
    String edited = get(BASE).get("state").asText();
    assertThat(List.of(first, budget, taped, adopted, edited)).doesNotHaveDuplicates();
    JsonNode delta = get(BASE + "/review?since=" + first);
    // What belongs to a state that nobody remembers any more is sent whole.
    assertThat(delta.get("since").isNull() || delta.get("rules").size() > 0).isTrue();
    assertThat(delta.get("state").asText()).isEqualTo(edited);
  }
}
