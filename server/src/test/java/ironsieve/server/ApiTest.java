package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.response.Response;
import jakarta.inject.Inject;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** The API as the front end and others use it. */
@QuarkusTest
class ApiTest {

  private static final String BASE = "/api/rulebases/main-gateway";

  @Inject DemoData demo;
  @Inject ObjectMapper json;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  private JsonNode tree(Response response, int status) throws Exception {
    assertThat(response.statusCode()).as(response.asString()).isEqualTo(status);
    return json.readTree(response.asString());
  }

  private JsonNode get(String path) throws Exception {
    return tree(given().get(path), 200);
  }

  private Response post(String path, String who, Object body) {
    return given()
        .header("Sieve-Editor", who)
        .contentType("application/json")
        .body(body)
        .post(path);
  }

  private Response edit(String who, long revision, Map<?, ?>... steps) {
    return post(
        BASE + "/edits",
        who,
        Map.of("revision", revision, "what", "tested", "steps", List.of(steps)));
  }

  private static Map<String, Object> rename(String rule, String name) {
    return Map.of("op", "CHANGE_RULE", "id", rule, "rule", Map.of("name", name));
  }

  private JsonNode rule(String id) throws Exception {
    return rule(get(BASE), id);
  }

  private static JsonNode rule(JsonNode rulebase, String id) {
    for (JsonNode chapter : rulebase.get("chapters")) {
      for (JsonNode rule : chapter.get("rules")) {
        if (rule.get("id").asText().equals(id)) {
          return rule;
        }
      }
    }
    throw new AssertionError("no rule " + id);
  }

  private JsonNode finding(String rule, String kind) throws Exception {
    return Findings.one(BASE, rule, kind);
  }

  @Test
  void theDemoHasItsPlantedMistakesAndTheReviewFindsThem() throws Exception {
    assertThat(finding("bk-export", "shadowed").get("evidence")).hasSize(1);
    assertThat(finding("br-chat", "shadowed").at("/evidence/0/rule").asText())
        .isEqualTo("br-staff");
    assertThat(finding("bc-all", "shadowed").get("evidence")).hasSize(3);
    assertThat(finding("la-tollbar", "shadowed").at("/evidence/0/rule").asText())
        .isEqualTo("la-all");
    assertThat(finding("bc-old", "empty").get("sentence").asText()).contains("2025-09-30");
    assertThat(finding("br-intern", "empty").at("/fields/0").asText()).isEqualTo("from.people");
    assertThat(finding("wk-print", "empty").get("fields")).hasSize(2);
    assertThat(finding("wk-fenup", "partly shadowed").at("/evidence/0/rule").asText())
        .isEqualTo("wk-fen");
    assertThat(get("/api/catalogue").get("applications").size()).isGreaterThanOrEqualTo(300);
  }

  @Test
  void everyWitnessOfTheReviewIsCaughtByTheRuleItNames() throws Exception {
    int dropped = 0;
    for (JsonNode finding : Findings.all(BASE)) {
      for (JsonNode evidence : finding.get("evidence")) {
        JsonNode witness = evidence.get("witness");
        JsonNode fall =
            tree(post(BASE + "/probe", "t", Map.of("text", witness.get("probe").asText())), 200);
        assertThat(fall.get("caughtBy")).isEqualTo(witness.get("caughtBy"));
        assertThat(fall.get("text")).isEqualTo(witness.get("probe"));
        dropped++;
      }
    }
    assertThat(dropped).isGreaterThan(40);
  }

  @Test
  void anEditMakesARevisionAndAJournalEntry() throws Exception {
    JsonNode edited = tree(edit("ada", 0, rename("gw-admin", "Admin")), 200);
    assertThat(edited.get("revision").asLong()).isEqualTo(1);
    assertThat(edited.get("rules")).hasSize(1);
    assertThat(edited.at("/rules/0/name").asText()).isEqualTo("Admin");
    assertThat(edited.get("order").isNull()).isTrue();
    assertThat(rule("gw-admin").get("name").asText()).isEqualTo("Admin");
    JsonNode entry = get(BASE + "/journal").get(0);
    assertThat(entry.get("who").asText()).isEqualTo("ada");
    assertThat(entry.at("/touched/0").asText()).isEqualTo("rule:gw-admin");
  }

  @Test
  void anEditOnAnOldRevisionIsRefusedWithWhatHasChangedSince() throws Exception {
    tree(edit("ada", 0, rename("gw-admin", "Hers")), 200);
    JsonNode problem = tree(edit("ben", 0, rename("gw-admin", "His")), 409);
    assertThat(problem.get("type").asText()).isEqualTo("/problems/stale-revision");
    assertThat(problem.get("revision").asLong()).isEqualTo(1);
    assertThat(problem.at("/since/0/who").asText()).isEqualTo("ada");
    assertThat(rule("gw-admin").get("name").asText()).isEqualTo("Hers");
  }

  @Test
  void aStepThatCannotBeIsRefusedWithWhatWouldBeRight() throws Exception {
    JsonNode problem =
        tree(edit("ada", 0, Map.of("op", "ADD_RULE", "id", "a b", "rule", Map.of())), 422);
    assertThat(problem.get("detail").asText()).contains("an id is 1 to 100 characters");
    assertThat(tree(edit("ada", 0, Map.of("op", "MOVE_RULE")), 422).get("detail").asText())
        .contains("needs \"id\"");
  }

  @Test
  void whatCannotBeReadIsRefusedByFieldAndLeavesNoTrace() throws Exception {
    Map<String, Object> fields = Map.of("from.networks", Map.of("values", List.of("10.20.0.7/16")));
    JsonNode problem =
        tree(
            edit(
                "ada",
                0,
                rename("gw-snmp", "Lost"),
                Map.of("op", "CHANGE_RULE", "id", "gw-admin", "rule", Map.of("fields", fields))),
            422);
    assertThat(problem.at("/errors/0/field").asText()).isEqualTo("from.networks");
    assertThat(problem.at("/errors/0/place").asText()).isEqualTo("rule gw-admin");
    assertThat(problem.at("/errors/0/message").asText()).contains("10.20.0.0/16");
    assertThat(get(BASE).get("revision").asLong()).isZero();
    assertThat(rule("gw-snmp").get("name").asText()).isNotEqualTo("Lost");
  }

  @Test
  void aSetThatIsUsedCannotBeRemovedAndOneThatHoldsItselfCannotBeSaved() throws Exception {
    JsonNode used =
        tree(edit("ada", 0, Map.of("op", "REMOVE_SET", "kind", "service", "name", "Web")), 422);
    assertThat(used.get("detail").asText()).contains("no set of kind service called \"Web\"");
    Map<String, Object> loop =
        Map.of("kind", "service", "name", "Web", "values", List.of("set Web 2"));
    Map<String, Object> back =
        Map.of("kind", "service", "name", "Web 2", "values", List.of("set Web"));
    JsonNode cycle =
        tree(
            edit(
                "ada",
                0,
                Map.of("op", "SAVE_SET", "set", loop),
                Map.of("op", "SAVE_SET", "set", back)),
            422);
    assertThat(cycle.get("detail").asText()).contains("Web → Web 2 → Web");
  }

  @Test
  void renamingASetRenamesItWhereverItIsUsed() throws Exception {
    Map<String, Object> set =
        Map.of("kind", "service", "name", "Browsing", "values", List.of("tcp/80", "tcp/443"));
    tree(edit("ada", 0, Map.of("op", "SAVE_SET", "set", set, "oldName", "Web")), 200);
    JsonNode values = rule("br-staff").at("/fields/using.services/values");
    assertThat(values.get(0).asText()).isEqualTo("set Browsing");
  }

  /** Edits and reviews come as differences; put together they must be what is sent whole. */
  @Test
  void differencesAddUpToTheWhole() throws Exception {
    Map<String, JsonNode> rules = new HashMap<>();
    JsonNode whole = get(BASE);
    whole.get("chapters").forEach(c -> c.get("rules").forEach(r -> rules.put(id(r), r)));
    Map<String, List<String>> order = order(whole.get("chapters"));
    Map<String, JsonNode> review = new HashMap<>();
    JsonNode first = get(BASE + "/review");
    first.get("rules").properties().forEach(e -> review.put(e.getKey(), e.getValue()));
    List<Map<String, Object>> steps =
        List.of(
            Map.of("op", "MOVE_RULE", "id", "br-chat", "place", Map.of("before", "br-staff")),
            Map.of("op", "CHANGE_RULE", "id", "br-staff", "rule", Map.of("state", "off")),
            Map.of("op", "REMOVE_RULE", "id", "gw-snmp"),
            Map.of("op", "CHANGE_RULE", "id", "br-staff", "rule", Map.of("state", "on")),
            Map.of("op", "ADD_RULE", "rule", Map.of("name", "new", "verdict", "deny")),
            Map.of(
                "op",
                "ACCEPT_FINDING",
                "rule",
                "br-intern",
                "kind",
                "empty",
                "reason",
                "back in June"),
            // An acceptance ends when its rule says something else, though the review says the
            // same.
            Map.of("op", "CHANGE_RULE", "id", "br-intern", "rule", Map.of("logging", "not logged")),
            Map.of(
                "op",
                "SAVE_SET",
                "set",
                Map.of("kind", "service", "name", "Web", "values", List.of("tcp/80"))));
    long revision = 0;
    String state = get(BASE).get("state").asText();
    for (Map<String, Object> step : steps) {
      JsonNode edited = tree(edit("ada", revision, step), 200);
      assertThat(edited.get("since").asLong()).isEqualTo(revision);
      edited.get("removed").forEach(gone -> rules.remove(gone.asText()));
      edited.get("rules").forEach(r -> rules.put(id(r), r));
      order = edited.get("order").isNull() ? order : spliced(order, edited.get("order"));
      JsonNode told = get(BASE + "/review?since=" + state);
      assertThat(told.get("since").asText()).isEqualTo(state);
      state = told.get("state").asText();
      assertThat(state).isEqualTo(edited.get("state").asText());
      told.get("rules").properties().forEach(e -> review.put(e.getKey(), e.getValue()));
      review.keySet().retainAll(rules.keySet());
      revision = edited.get("revision").asLong();

      JsonNode now = get(BASE);
      assertThat(order(now.get("chapters"))).isEqualTo(order);
      now.get("chapters").forEach(c -> c.get("rules").forEach(r -> agree(r, rules)));
      assertThat(order.values().stream().flatMap(List::stream))
          .containsExactlyInAnyOrderElementsOf(rules.keySet());
      Map<String, JsonNode> scratch = new HashMap<>();
      get(BASE + "/review")
          .get("rules")
          .properties()
          .forEach(e -> scratch.put(e.getKey(), e.getValue()));
      assertThat(review).isEqualTo(scratch);
    }
  }

  private static String id(JsonNode rule) {
    return rule.get("id").asText();
  }

  private static Map<String, List<String>> order(JsonNode chapters) {
    Map<String, List<String>> ids = new LinkedHashMap<>();
    for (JsonNode chapter : chapters) {
      ids.put(id(chapter), new ArrayList<>());
      chapter.get("rules").forEach(rule -> ids.get(id(chapter)).add(id(rule)));
    }
    return ids;
  }

  /** Each chapter's rules: so many of the first it had, some told by id, so many of the last. */
  private static Map<String, List<String>> spliced(
      Map<String, List<String>> known, JsonNode order) {
    Map<String, List<String>> next = new LinkedHashMap<>();
    for (JsonNode chapter : order) {
      List<String> was = known.getOrDefault(id(chapter), List.of());
      List<String> ids = new ArrayList<>(was.subList(0, chapter.get("first").asInt()));
      chapter.get("rules").forEach(told -> ids.add(told.asText()));
      ids.addAll(was.subList(was.size() - chapter.get("last").asInt(), was.size()));
      next.put(id(chapter), ids);
    }
    return next;
  }

  /** But for its number, which the reader counts. */
  private static void agree(JsonNode rule, Map<String, JsonNode> known) {
    ObjectNode one = rule.deepCopy();
    ObjectNode other = known.get(id(rule)).deepCopy();
    one.remove("number");
    other.remove("number");
    assertThat(other).isEqualTo(one);
  }

  @Test
  void undoAndRedoAreEachEditorsOwn() throws Exception {
    String before = rule("gw-admin").get("name").asText();
    tree(edit("ada", 0, rename("gw-admin", "Hers")), 200);
    tree(edit("ben", 1, rename("gw-snmp", "His")), 200);
    JsonNode undone = tree(post(BASE + "/undo", "ada", Map.of("revision", 2)), 200);
    assertThat(undone.at("/rules/0/name").asText()).isEqualTo(before);
    assertThat(rule("gw-admin").get("name").asText()).isEqualTo(before);
    assertThat(rule("gw-snmp").get("name").asText()).isEqualTo("His");
    tree(post(BASE + "/redo", "ada", Map.of("revision", 3)), 200);
    assertThat(rule("gw-admin").get("name").asText()).isEqualTo("Hers");
    JsonNode nothing = tree(post(BASE + "/undo", "cy", Map.of("revision", 4)), 422);
    assertThat(nothing.get("detail").asText()).isEqualTo("there is nothing to undo");
  }

  @Test
  void whatUndoAndRedoWouldChangeIsAskedBeforeThem() throws Exception {
    Map<String, Object> off =
        Map.of("op", "CHANGE_RULE", "id", "bk-agents", "rule", Map.of("state", "off"));
    tree(edit("ada", 0, off), 200);
    JsonNode back = wouldChange("undo", "ada", 200);
    assertThat(back.get("kinds")).isNotEmpty();
    back.get("kinds")
        .forEach(kind -> assertThat(kind.at("/after/rules").toString()).contains("bk-agents"));
    assertThat(wouldChange("redo", "ada", 422).get("detail").asText())
        .isEqualTo("there is nothing to redo");
    assertThat(wouldChange("undo", "ben", 422).get("detail").asText())
        .isEqualTo("there is nothing to undo");
    tree(post(BASE + "/undo", "ada", Map.of("revision", 1)), 200);
    JsonNode again = wouldChange("redo", "ada", 200);
    assertThat(again.get("kinds")).hasSameSizeAs(back.get("kinds"));
    again
        .get("kinds")
        .forEach(kind -> assertThat(kind.at("/before/rules").toString()).contains("bk-agents"));
  }

  private JsonNode wouldChange(String action, String who, int status) throws Exception {
    return tree(given().header("Sieve-Editor", who).get(BASE + "/impact/" + action), status);
  }

  @Test
  void anUndoThatWouldLoseAnothersWorkIsRefused() throws Exception {
    tree(edit("ada", 0, rename("gw-admin", "Hers")), 200);
    tree(edit("ben", 1, rename("gw-admin", "His")), 200);
    JsonNode problem = tree(post(BASE + "/undo", "ada", Map.of("revision", 2)), 422);
    assertThat(problem.get("detail").asText()).contains("has been changed since");
    assertThat(rule("gw-admin").get("name").asText()).isEqualTo("His");
  }

  @Test
  void rulesMoveBetweenAndIntoChaptersAnyNumberOfTimes() throws Exception {
    long revision = 0;
    for (int i = 0; i < 30; i++) {
      String moving = i % 2 == 0 ? "gw-admin" : "gw-snmp";
      tree(
          edit(
              "ada",
              revision++,
              Map.of("op", "MOVE_RULE", "id", moving, "place", Map.of("before", "gw-dns"))),
          200);
    }
    JsonNode chapter = get(BASE).at("/chapters/0/rules");
    assertThat(chapter.get(0).get("id").asText()).isEqualTo("gw-admin");
    assertThat(chapter.get(1).get("id").asText()).isEqualTo("gw-snmp");
    tree(
        edit(
            "ada",
            revision,
            Map.of("op", "MOVE_RULE", "id", "gw-admin", "place", Map.of("chapter", "web"))),
        200);
    assertThat(get(BASE).at("/chapters/0/rules")).hasSize(chapter.size() - 1);
  }

  @Test
  void aProbeSaysWhatItFilledInAndWhyEachRuleWasPassed() throws Exception {
    String text =
        "from 10.40.3.7 as ines.halloran to Internet using Chatterbay/upload at 2026-11-24 09:30";
    JsonNode fall = tree(post(BASE + "/probe", "t", Map.of("text", text)), 200);
    assertThat(fall.at("/parts/0/value").asText()).isEqualTo("Crew wifi");
    assertThat(fall.at("/parts/0/filledIn").asBoolean()).isTrue();
    assertThat(fall.at("/parts/1/filledIn").asBoolean()).isFalse();
    assertThat(fall.get("caughtBy").asText()).isEqualTo("wf-ines");
    for (JsonNode pass : fall.get("passed")) {
      assertThat(pass.get("misses")).as(pass.toString()).isNotEmpty();
    }
  }

  @Test
  void aProbeThatCannotBeReadSaysWhere() throws Exception {
    JsonNode problem =
        tree(
            post(BASE + "/probe", "t", Map.of("text", "from Crew wifi as nobody.here to Internet")),
            422);
    assertThat(problem.at("/errors/0/position").asInt()).isEqualTo(18);
    JsonNode spoofed =
        tree(post(BASE + "/probe", "t", Map.of("text", "from Offices 10.40.3.7 to Internet")), 422);
    assertThat(spoofed.get("detail").asText())
        .isEqualTo("10.40.3.7 does not lie behind zone Offices");
  }

  @Test
  void theImpactOfARemedyIsKnownBeforeItIsApplied() throws Exception {
    JsonNode remedy = finding("br-chat", "shadowed").at("/remedies/0");
    assertThat(remedy.get("words").asText()).isEqualTo("Move it above rule 49");
    JsonNode impact = tree(post(BASE + "/impact", "t", Map.of("steps", remedy.get("steps"))), 200);
    assertThat(impact.get("complete").asBoolean()).isTrue();
    assertThat(impact.get("kinds")).hasSize(1);
    JsonNode kind = impact.at("/kinds/0");
    assertThat(kind.at("/before/verdict").asText()).isEqualTo("allow");
    assertThat(kind.at("/after/verdict").asText()).isEqualTo("deny");
    assertThat(kind.at("/after/rules/0").asText()).isEqualTo("br-chat");
    assertThat(kind.get("words").toString())
        .contains("Chatterbay/upload", "Offices", "category banking");
    assertThat(impact.get("ended").toString()).contains("br-chat");
    assertThat(get(BASE).get("revision").asLong()).isZero();

    Map<String, Object> body =
        Map.of("revision", 0, "what", "remedied", "steps", remedy.get("steps"));
    tree(post(BASE + "/edits", "t", body), 200);
    JsonNode fall =
        tree(post(BASE + "/probe", "t", Map.of("text", kind.get("probe").asText())), 200);
    assertThat(fall.get("verdict").asText()).isEqualTo("deny");
  }

  @Test
  void promisesRunAfterEveryEditAndAreNamedByTheImpactThatWouldBreakThem() throws Exception {
    assertThat(broken())
        .containsExactlyInAnyOrder(
            "Agents cannot export passenger lists", "Chatterbay takes no uploads from the offices");
    Map<String, Object> off =
        Map.of("op", "CHANGE_RULE", "id", "bk-pay", "rule", Map.of("state", "off"));
    JsonNode impact = tree(post(BASE + "/impact", "t", Map.of("steps", List.of(off))), 200);
    assertThat(impact.get("broken").toString()).isEqualTo("[\"Card payments go out\"]");
    tree(edit("ada", 0, off), 200);
    assertThat(broken()).hasSize(3).contains("Card payments go out");
    tree(post(BASE + "/undo", "ada", Map.of("revision", 1)), 200);
    assertThat(broken()).hasSize(2);
  }

  private List<String> broken() throws Exception {
    List<String> names = new ArrayList<>();
    for (JsonNode promise : get(BASE + "/promises")) {
      if (!promise.get("kept").asBoolean()) {
        names.add(promise.get("name").asText());
      }
    }
    return names;
  }

  @Test
  void promisesGoOutAndComeBackAsCsv() throws Exception {
    String csv = given().get(BASE + "/promises/csv").asString();
    assertThat(csv.lines().findFirst()).contains("id,group,name,probe,verdict,catcher");
    tree(edit("ada", 0, Map.of("op", "REMOVE_PROMISE", "id", "p1")), 200);
    assertThat(given().get(BASE + "/promises/csv").asString()).isNotEqualTo(csv);
    tree(load(csv, 1), 200);
    assertThat(given().get(BASE + "/promises/csv").asString()).isEqualTo(csv);
    JsonNode problem =
        tree(
            load("name,probe,verdict\r\nA,from Moon to Internet at 2026-12-01 10:00,allow\r\n", 2),
            422);
    assertThat(problem.at("/errors/0/place").asText()).isEqualTo("promise A");
    JsonNode dayless =
        tree(load("name,probe,verdict\r\nB,from Offices to Internet,allow\r\n", 2), 422);
    assertThat(dayless.get("detail").asText()).contains("on which day");
  }

  private Response load(String csv, long revision) {
    return given()
        .contentType("text/csv")
        .body(csv)
        .post(BASE + "/promises/csv?revision=" + revision);
  }

  @Test
  void whatIsNotTheJsonExpectedIsRefusedWithThePlace() throws Exception {
    JsonNode wrong =
        tree(post(BASE + "/edits", "t", "{\"revision\": 0, \"steps\": [{\"op\": \"FLY\"}]}"), 400);
    assertThat(wrong.at("/errors/0/field").asText()).isEqualTo("steps[0]");
    assertThat(wrong.get("detail").asText()).contains("\"FLY\" is none of").contains("MOVE_RULE");
    JsonNode nonsense = tree(post(BASE + "/probe", "t", "{nonsense"), 400);
    assertThat(nonsense.get("status").asInt()).isEqualTo(400);
    JsonNode unknown = tree(given().get("/api/rulebases/nope"), 404);
    assertThat(unknown.get("detail").asText()).contains("nope");
  }

  @Test
  void theDescriptionOfTheApiIsTheOneTheFrontEndsTypesWereMadeFrom() throws Exception {
    JsonNode served = json.readTree(given().get("/api/openapi?format=json").asString());
    JsonNode kept = json.readTree(Files.readString(Path.of("../docs/openapi.json")));
    assertThat(served.get("paths")).isEqualTo(kept.get("paths"));
    assertThat(served.get("components")).isEqualTo(kept.get("components"));
  }
}
