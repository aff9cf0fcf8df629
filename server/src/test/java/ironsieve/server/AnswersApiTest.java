package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.path.json.JsonPath;
import io.restassured.response.ValidatableResponse;
import ironsieve.text.RulebaseReader;
import jakarta.inject.Inject;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What the API answers beyond editing: unfolding, reach, editions, revisions, files. */
@QuarkusTest
class AnswersApiTest {

  private static final String BASE = "/api/rulebases/main-gateway";
  private static final ObjectMapper JSON = new ObjectMapper();

  @Inject DemoData demo;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  private static JsonNode get(String path) throws Exception {
    return JSON.readTree(given().get(path).then().statusCode(200).extract().asString());
  }

  private static JsonNode post(String path, Object body, int status) throws Exception {
    return JSON.readTree(
        given()
            .contentType("application/json")
            .header("Sieve-Editor", "ada")
            .body(body)
            .post(path)
            .then()
            .statusCode(status)
            .extract()
            .asString());
  }

  private static JsonNode edit(long revision, Map<String, Object> step, int status)
      throws Exception {
    return post(
        BASE + "/edits",
        Map.of("revision", revision, "what", "tried", "steps", List.of(step)),
        status);
  }

  private static JsonNode finding(String rule, String kind) throws Exception {
    return Findings.one(BASE, rule, kind);
  }

  @Test
  void aProbeUnfoldsStageByStage() throws Exception {
    String text =
        "from Crew wifi 10.40.200.9 as ines.halloran on crew phone to Internet using Docklens"
            + " at tue 2026-12-01 10:00";
    JsonNode fall = post(BASE + "/probe", Map.of("text", text), 200);
    assertThat(fall.get("caughtBy").asText()).isEqualTo("wf-video");
    assertThat(fall.at("/stages/0/knowledge").asText()).isEqualTo("first packet");
    assertThat(fall.at("/stages/0/status").asText()).isEqualTo("provisional");
    assertThat(fall.at("/stages/0/waiting").toString()).contains("wf-video", "application");
    JsonNode last = fall.get("stages").get(fall.get("stages").size() - 1);
    assertThat(last.get("knowledge").asText()).isEqualTo("identified");
    assertThat(last.get("rule").asText()).isEqualTo("wf-video");
    JsonNode early =
        post(BASE + "/probe", Map.of("text", "from Guest wifi to Berth control at tue 10:00"), 200);
    assertThat(early.at("/stages/0/status").asText()).isEqualTo("decided");
    assertThat(early.get("stages")).hasSize(1);
  }

  @Test
  void thePlantedMistakesOfPracticeAreFoundWithWitnesses() throws Exception {
    assertThat(finding("gw-admin", "lock out").get("sentence").asText())
        .contains("hangs on identities alone");
    assertThat(finding("wk-hull", "missing dependency").at("/evidence/0/witness/probe").asText())
        .contains("Hull Identity");
    assertThat(finding("br-chat", "blind feature").get("severity").asText()).isEqualTo("warning");
    assertThat(finding("wf-ines", "overpromised").get("sentence").asText()).contains("300 Mbit/s");
    assertThat(finding("br-staff", "no limits on what it may use").get("remedies")).isNotEmpty();
    List<String> severities = new java.util.ArrayList<>();
    get(BASE + "/review/rules/br-staff")
        .get("findings")
        .forEach(finding -> severities.add(finding.get("severity").asText()));
    List<String> order = List.of("error", "warning", "note", "quiet");
    assertThat(severities)
        .hasSizeGreaterThan(1)
        .isSortedAccordingTo(java.util.Comparator.comparing(order::indexOf));
  }

  @Test
  void everyRemedyCanBeTriedAndEndsItsFinding() throws Exception {
    int tried = 0;
    for (JsonNode finding : Findings.all(BASE)) {
      for (JsonNode remedy : finding.get("remedies")) {
        JsonNode impact = post(BASE + "/impact", Map.of("steps", remedy.get("steps")), 200);
        boolean quiet = finding.get("severity").asText().equals("quiet");
        boolean ended = quiet;
        for (JsonNode notice : impact.get("ended")) {
          ended |=
              notice.get("rule").equals(finding.get("rule"))
                  && notice.get("kind").equals(finding.get("kind"));
        }
        assertThat(ended).as("%s by %s", finding.get("sentence"), remedy.get("words")).isTrue();
        tried++;
      }
    }
    assertThat(tried).isGreaterThan(30);
  }

  @Test
  void anAcceptedFindingComesBackWhenItsRuleSaysSomethingElse() throws Exception {
    Map<String, Object> acceptance =
        Map.of(
            "op",
            "ACCEPT_FINDING",
            "rule",
            "br-intern",
            "kind",
            "empty",
            "reason",
            "seasonal",
            "who",
            "ada");
    edit(0, acceptance, 200);
    assertThat(finding("br-intern", "empty").at("/accepted/reason").asText()).isEqualTo("seasonal");
    edit(1, Map.of("op", "CHANGE_RULE", "id", "br-intern", "rule", Map.of("name", "New")), 200);
    assertThat(finding("br-intern", "empty").get("accepted").isNull()).isFalse();
    edit(
        2,
        Map.of("op", "CHANGE_RULE", "id", "br-intern", "rule", Map.of("logging", "not logged")),
        200);
    assertThat(finding("br-intern", "empty").get("accepted").isNull()).isTrue();
  }

  @Test
  void sheetsAndDecryptionRulesAreSavedAndUndoneLikeEverythingElse() throws Exception {
    Map<String, Object> sheet =
        Map.of(
            "name", "Tight",
            "lines", List.of(Map.of("about", "category games", "outcome", "deny")),
            "otherwise", "allow in Office web",
            "note", "");
    edit(0, Map.of("op", "SAVE_PART", "partKind", "sheet", "part", sheet), 200);
    JsonNode changed =
        edit(
            1,
            Map.of("op", "CHANGE_RULE", "id", "br-staff", "rule", Map.of("sheet", "Tight")),
            200);
    assertThat(changed.toString()).contains("by usage sheet Tight");
    JsonNode refused =
        edit(2, Map.of("op", "REMOVE_PART", "partKind", "sheet", "id", "Tight"), 422);
    assertThat(refused.get("detail").asText()).contains("there is no usage sheet \"Tight\"");
    post(BASE + "/undo", Map.of("revision", 2), 200);
    post(BASE + "/undo", Map.of("revision", 3), 200);
    assertThat(get(BASE).at("/parts/sheets").toString()).doesNotContain("Tight");
    JsonNode nonsense =
        edit(4, Map.of("op", "SAVE_PART", "partKind", "colour", "part", Map.of()), 400);
    assertThat(nonsense.get("detail").asText())
        .contains("none of decryption rule, lane, notice, sheet");
  }

  @Test
  void reachIsAskedForPeopleApplicationsAndZones() throws Exception {
    Map<String, Object> asked =
        Map.of(
            "people", List.of("group Payroll", "unidentified"),
            "applications", List.of("Payslip Portal", "category peer to peer"),
            "from", List.of("Offices"),
            "to", List.of("Internet"));
    JsonNode reach = post(BASE + "/reach", asked, 200);
    assertThat(reach.at("/rows/0/0/standing").asText()).isEqualTo("depends");
    assertThat(reach.at("/rows/0/0/dependsOn").toString()).contains("the device");
    assertThat(reach.at("/rows/0/1/standing").asText()).isEqualTo("blocked");
    assertThat(reach.at("/rows/1/0/standing").asText()).isEqualTo("blocked");
    JsonNode decider = reach.at("/rows/0/1/deciders/0");
    JsonNode fall = post(BASE + "/probe", Map.of("text", decider.get("probe").asText()), 200);
    assertThat(fall.get("caughtBy")).isEqualTo(decider.get("rule"));
    JsonNode touching = post(BASE + "/reach", Map.of("applications", List.of("Hullmail")), 200);
    assertThat(touching.toString()).contains("wk-hull", "la-all");
    assertThat(
            post(
                    BASE + "/reach",
                    Map.of("people", List.of("livia.quist"), "from", List.of("Moon")),
                    422)
                .get("detail")
                .asText())
        .contains("There is no zone \"Moon\"");
    // Whoever is not there is not told to be blocked.
    for (Map<String, Object> unknown :
        List.<Map<String, Object>>of(
            Map.of("people", List.of("ines"), "applications", List.of("Hullmail")),
            Map.of("people", List.of("ines.halloran"), "applications", List.of("Hulmail")))) {
      post(BASE + "/reach", unknown, 422);
    }
    assertThat(
            post(BASE + "/reach", Map.of("applications", List.of("Hulmail")), 422)
                .get("detail")
                .asText())
        .contains("did you mean Hullmail");
  }

  @Test
  void anEditionIsLookedAtBeforeItIsAdopted() throws Exception {
    JsonNode impact = get(BASE + "/editions/42");
    assertThat(impact.get("changes").toString()).contains("Fenwick Whiteboard", "Meshmole");
    assertThat(impact.at("/kinds/0/before/verdict").asText()).isEqualTo("deny");
    assertThat(impact.at("/kinds/0/after/verdict").asText()).isEqualTo("allow");
    assertThat(impact.get("kinds").toString()).contains("Fenwick Whiteboard");
    assertThat(get("/api/editions").get("inForce").asInt()).isEqualTo(41);
    assertThat(post("/api/editions/42/adopt", Map.of(), 200).get("inForce").asInt()).isEqualTo(42);
    assertThat(get(BASE + "/events").get(0).get("what").asText())
        .isEqualTo("put catalogue edition 42 in force");
    assertThat(get("/api/catalogue").toString()).contains("Fenwick Whiteboard");
    given().get(BASE + "/editions/7").then().statusCode(422);
  }

  @Test
  void undoTakesBackWhatSomebodyDidLastEvenIfThatWasAnEdition() throws Exception {
    edit(0, Map.of("op", "CHANGE_RULE", "id", "li-hidden", "rule", Map.of("note", "why")), 200);
    post("/api/editions/42/adopt", Map.of(), 200);
    String adopted = "put catalogue edition 42 in force";
    assertThat(of("ada").getString("undo")).isEqualTo(adopted);
    assertThat(of("bo").getString("undo")).isNull();
    JsonNode impact =
        JSON.readTree(given().header("Sieve-Editor", "ada").get(BASE + "/impact/undo").asString());
    assertThat(impact.get("kinds").toString()).contains("Fenwick Whiteboard");

    JsonNode undone = post(BASE + "/undo", Map.of("revision", 1), 200);
    assertThat(undone.at("/entry/what").asText()).isEqualTo("undid: " + adopted);
    assertThat(undone.get("revision").asLong()).isEqualTo(1);
    assertThat(undone.get("redo").asText()).isEqualTo(adopted);
    assertThat(get("/api/editions").get("inForce").asInt()).isEqualTo(41);
    assertThat(get(BASE + "/events").get(0).get("what").asText()).isEqualTo("undid: " + adopted);

    post(BASE + "/redo", Map.of("revision", 1), 200);
    assertThat(get("/api/editions").get("inForce").asInt()).isEqualTo(42);
    post(BASE + "/undo", Map.of("revision", 1), 200);
    post(BASE + "/undo", Map.of("revision", 1), 200);
    assertThat(of("ada").getLong("revision")).isEqualTo(2);
    assertThat(get(BASE).toString()).doesNotContain("\"note\":\"why\"");
  }

  @Test
  void anEditionIsNotTakenBackOverWhatSomebodyElseDid() throws Exception {
    post("/api/editions/42/adopt", Map.of(), 200);
    given()
        .contentType("application/json")
        .header("Sieve-Editor", "bo")
        .body("{}")
        .post("/api/editions/41/adopt")
        .then()
        .statusCode(200);
    assertThat(post(BASE + "/undo", Map.of("revision", 0), 422).get("detail").asText())
        .contains("the edition in force has been changed since");
    assertThat(get("/api/editions").get("inForce").asInt()).isEqualTo(41);
  }

  @Test
  void aWitnessIsTheSameAfterAnEditAndItsUndo() throws Exception {
    String before = witnesses();
    JsonNode cut =
        edit(
            0,
            Map.of(
                "op", "CHANGE_RULE",
                "id", "gw-admin",
                "rule",
                    Map.of(
                        "fields",
                        Map.of(
                            "from.networks",
                            Map.of("sense", "is", "values", List.of("10.20.0.0-10.20.0.40"))))),
            200);
    assertThat(witnesses()).isNotEqualTo(before);
    post(BASE + "/undo", Map.of("revision", cut.get("revision").asLong()), 200);
    assertThat(witnesses()).isEqualTo(before);
  }

  /** Every connection that the review of the demo shows anywhere. */
  private static String witnesses() throws Exception {
    StringBuilder all = new StringBuilder();
    List<String> rules = new ArrayList<>();
    get(BASE + "/review").get("rules").fieldNames().forEachRemaining(rules::add);
    for (String rule : rules) {
      JsonNode detail = get(BASE + "/review/rules/" + rule);
      all.append(rule).append(detail.get("findings")).append(detail.get("residue"));
    }
    return all.toString();
  }

  private static JsonPath of(String who) {
    return given().header("Sieve-Editor", who).get(BASE).jsonPath();
  }

  @Test
  void anEditionThatLosesAnApplicationInUseIsToldBeforeAndAfter() throws Exception {
    edit(
        0,
        Map.of(
            "op", "CHANGE_RULE",
            "id", "li-hidden",
            "rule",
                Map.of(
                    "fields",
                    Map.of(
                        "using.applications",
                        Map.of("sense", "is", "values", List.of("Meshmole"))))),
        200);
    assertThat(get(BASE + "/editions/42").get("unknown").toString())
        .contains("the catalogue has no application \\\"Meshmole\\\"");
    post("/api/editions/42/adopt", Map.of(), 200);
    assertThat(get(BASE).get("faults")).isEmpty();
    JsonNode finding = get(BASE + "/review/rules/li-hidden").at("/findings/0");
    assertThat(finding.get("kind").asText()).isEqualTo("unknown name");
    assertThat(finding.get("sentence").asText())
        .isEqualTo("The catalogue has no application \"Meshmole\". Such a name matches nothing.");
    // What was unknown may stay when the rule is edited, but nothing else may become unknown.
    edit(1, Map.of("op", "CHANGE_RULE", "id", "li-hidden", "rule", Map.of("name", "Mole")), 200);
    post(BASE + "/undo", Map.of("revision", 2), 200);
    post(BASE + "/undo", Map.of("revision", 3), 200);
    assertThat(get("/api/editions").get("inForce").asInt()).isEqualTo(41);
    assertThat(get(BASE + "/review/rules/li-hidden").get("findings").toString())
        .doesNotContain("unknown name");
  }

  @Test
  void twoRevisionsAreComparedInEffect() throws Exception {
    edit(0, Map.of("op", "MOVE_RULE", "id", "br-chat", "place", Map.of("before", "br-staff")), 200);
    edit(1, Map.of("op", "CHANGE_RULE", "id", "br-chat", "rule", Map.of("name", "Other")), 200);
    JsonNode impact = get(BASE + "/impact?from=0&to=2");
    assertThat(impact.get("kinds")).isNotEmpty();
    assertThat(impact.at("/kinds/0/after/rules/0").asText()).isEqualTo("br-chat");
    assertThat(get(BASE + "/impact?from=1").get("kinds")).isEmpty();
    given().get(BASE + "/impact?from=9").then().statusCode(422);
  }

  @Test
  void whatTheLastEditDidAndItsUndoingIsToldWithThePromisesItMendsAndBreaks() throws Exception {
    edit(
        0,
        Map.of("op", "MOVE_RULE", "id", "bk-export", "place", Map.of("before", "bk-agents")),
        200);
    JsonNode did = get(BASE + "/impact?from=0&to=1");
    assertThat(did.get("mended")).hasSize(1);
    assertThat(did.get("broken")).isEmpty();
    post(BASE + "/undo", Map.of("revision", 1), 200);
    JsonNode undone = get(BASE + "/impact?from=1&to=2");
    assertThat(undone.get("broken")).isEqualTo(did.get("mended"));
    assertThat(undone.get("mended")).isEmpty();
    assertThat(undone.at("/kinds/0/before")).isEqualTo(did.at("/kinds/0/after"));
    // However far back: the same as from what is kept of the last edit.
    assertThat(get(BASE + "/impact?from=0&to=1")).isEqualTo(did);
  }

  @Test
  void rulesGoOutAsTextAndComeBackSayingWhereTheyAreFrom() throws Exception {
    String text = copied("bk-export", "gw-admin");
    assertThat(text).startsWith("# rule 1 of Main gateway\nrule gw-admin ");
    JsonNode patches = post(BASE + "/rules/pasted", Map.of("text", text), 200);
    assertThat(patches).hasSize(2);
    assertThat(patches.at("/1/note").asText()).startsWith("Pasted: rule 13 of Main gateway. CHG-");
    Map<String, Object> added = Map.of("op", "ADD_RULE", "id", "again", "rule", patches.get(1));
    edit(0, added, 200);
    assertThat(fields("again")).isEqualTo(fields("bk-export")).hasSize(6);
    assertThat(
            post(BASE + "/rules/pasted", Map.of("text", "rule a\n  then: permit"), 422)
                .get("detail")
                .asText())
        .startsWith("line 2, column 9:");
  }

  private static String copied(String... rules) throws Exception {
    return post(BASE + "/rules/copied", rules, 200).get("text").asText();
  }

  /** What a rule claims and decides, as its lines of text. */
  private static List<String> fields(String rule) throws Exception {
    return copied(rule).lines().filter(line -> line.matches("  [a-z ]+: .*")).toList();
  }

  @Test
  void whatAQuestionOfTheReviewMayTakeIsSetForEverybody() throws Exception {
    assertThat(Findings.all(BASE)).noneMatch(AnswersApiTest::isUndetermined);
    int usual = get(BASE + "/review").get("steps").asInt();
    allow(1).statusCode(200);
    assertThat(get(BASE + "/review").get("steps").asInt()).isEqualTo(1);
    assertThat(Findings.all(BASE)).anyMatch(AnswersApiTest::isUndetermined);
    allow(0).statusCode(422);
    allow(usual).statusCode(200);
    assertThat(Findings.all(BASE)).noneMatch(AnswersApiTest::isUndetermined);
  }

  private static boolean isUndetermined(JsonNode finding) {
    return finding.get("kind").asText().equals("undetermined");
  }

  private static ValidatableResponse allow(int steps) {
    return given()
        .contentType("application/json")
        .body(Map.of("steps", steps))
        .put(BASE + "/review/steps")
        .then();
  }

  @Test
  void theRulebaseIsHandedOutInEveryFormat() throws Exception {
    String rules = given().get(BASE + "/file").then().statusCode(200).extract().asString();
    assertThat(RulebaseReader.read(rules).rulebase().rules()).hasSize(60);
    assertThat(get(BASE + "/file?format=json").at("/chapters/0/rules/0/id").asText())
        .isEqualTo("gw-admin");
    assertThat(given().get(BASE + "/file?format=csv").asString().lines()).hasSizeGreaterThan(60);
    assertThat(given().get(BASE + "/file?format=acl").asString())
        .contains("ietf-access-control-list:acls");
    given().get(BASE + "/file?format=pdf").then().statusCode(422);
  }

  @Test
  void aProbeTellsWhichRulesBelowItsCatchMatchToo() throws Exception {
    JsonNode fall =
        post(
            BASE + "/probe",
            Map.of("text", "from Offices as livia.quist to Internet using Chatterbay at tue 10:00"),
            200);
    List<String> below = new ArrayList<>();
    fall.get("below").forEach(one -> below.add(one.get("rule").asText()));
    assertThat(below).isNotEmpty().doesNotContain(fall.get("caughtBy").asText());
    String caught = fall.get("caughtBy").asText();
    edit(0, Map.of("op", "CHANGE_RULE", "id", caught, "rule", Map.of("state", "off")), 200);
    JsonNode without =
        post(
            BASE + "/probe",
            Map.of("text", "from Offices as livia.quist to Internet using Chatterbay at tue 10:00"),
            200);
    // The first that came too late is the one that catches it now, and does what was said.
    assertThat(without.get("caughtBy").asText()).isEqualTo(below.get(0));
    assertThat(without.get("outcome")).isEqualTo(fall.at("/below/0/outcome"));
    assertThat(without.get("below")).hasSize(below.size() - 1);
  }

  @Test
  void anOlderRevisionIsMadeCurrentAgainAsAnEditThatCanBeUndone() throws Exception {
    JsonNode atFirst = get(BASE).get("chapters");
    edit(0, Map.of("op", "REMOVE_RULE", "id", "gw-snmp"), 200);
    edit(1, Map.of("op", "MOVE_RULE", "id", "br-chat", "place", Map.of("before", "br-staff")), 200);
    JsonNode changed = get(BASE).get("chapters");
    JsonNode impact = get(BASE + "/impact?from=2&to=0");
    assertThat(impact.get("kinds")).isNotEmpty();
    JsonNode restored = post(BASE + "/restore", Map.of("revision", 2, "old", 0), 200);
    assertThat(restored.get("revision").asLong()).isEqualTo(3);
    assertThat(restored.at("/entry/what").asText()).isEqualTo("made revision 0 current again");
    assertThat(get(BASE).get("chapters")).isEqualTo(atFirst);
    post(BASE + "/undo", Map.of("revision", 3), 200);
    assertThat(get(BASE).get("chapters")).isEqualTo(changed);
    post(BASE + "/restore", Map.of("revision", 4, "old", 4), 422);
    assertThat(post(BASE + "/restore", Map.of("revision", 4, "old", 9), 422).get("detail").asText())
        .contains("it has revisions 0 to 4");
    post(BASE + "/restore", Map.of("revision", 1, "old", 0), 409);
    // What is left out does not mean the oldest.
    post(BASE + "/restore", Map.of("revision", 4), 400);
  }

  @Test
  void whySomethingWasChangedIsKeptWithIt() throws Exception {
    String body =
        JSON.writeValueAsString(
            Map.of(
                "revision",
                0,
                "what",
                "w",
                "steps",
                List.of(Map.of("op", "REMOVE_RULE", "id", "gw-snmp"))));
    given()
        .contentType("application/json")
        .header("Sieve-Editor", "ada")
        .header("Sieve-Reason", "CHG%2D4711 f%C3%BCr%20%C5%81ukasz")
        .body(body)
        .post(BASE + "/edits")
        .then()
        .statusCode(200);
    assertThat(get(BASE + "/journal").at("/0/reason").asText()).isEqualTo("CHG-4711 für Łukasz");
    post(BASE + "/undo", Map.of("revision", 1), 200);
    assertThat(get(BASE + "/journal").at("/0/reason").asText()).isEmpty();
  }

  @Test
  void aCsvForASpreadsheetBeginsWithTheMarkThatSpreadsheetsWant() {
    String plain = given().get(BASE + "/file?format=csv").then().extract().asString();
    byte[] marked = given().get(BASE + "/file?format=csv&mark=true").then().extract().asByteArray();
    assertThat(new String(marked, StandardCharsets.UTF_8)).isEqualTo("\uFEFF" + plain);
    byte[] promises = given().get(BASE + "/promises/csv?mark=true").then().extract().asByteArray();
    assertThat(promises).startsWith(0xEF, 0xBB, 0xBF);
    assertThat(given().get(BASE + "/file?format=rules&mark=true").then().extract().asString())
        .startsWith("rulebase");
  }

  @Test
  void anExceptionInsideACategoryIsOneValueOfOneRule() throws Exception {
    String typed = "category games but not card";
    JsonNode choices = get(BASE + "/choices?kind=application&text=" + typed);
    assertThat(choices.get(0).get("value").asText())
        .isEqualTo("category games but not Cardsharp Cove");
    JsonNode more =
        get(
            BASE
                + "/choices?kind=application&text="
                + typed.replace("card", "Cardsharp Cove nor "));
    assertThat(more.toString()).contains("category games but not Cardsharp Cove nor Dragonmere");

    String sentence = "deny from Offices to Internet using category games but not Cardsharp Cove";
    JsonNode rule = post(BASE + "/sentence", Map.of("text", sentence), 200);
    JsonNode added =
        edit(0, Map.of("op", "ADD_RULE", "place", Map.of("before", "gw-admin"), "rule", rule), 200);
    assertThat(added.get("revision").asLong()).isEqualTo(1);
    String probe = "from Offices 10.20.12.40 to Internet at mon 10:00 using ";
    JsonNode stopped = post(BASE + "/probe", Map.of("text", probe + "Dragonmere/play"), 200);
    assertThat(stopped.get("verdict").asText()).isEqualTo("deny");
    JsonNode left = post(BASE + "/probe", Map.of("text", probe + "Cardsharp Cove/play"), 200);
    assertThat(left.get("caughtBy").asText()).isNotEqualTo(stopped.get("caughtBy").asText());

    // A wrong name would leave out nothing, so it is none.
    JsonNode wrong =
        post(
            BASE + "/sentence",
            Map.of("text", sentence.replace("Cardsharp Cove", "Cardsharp")),
            422);
    assertThat(wrong.get("detail").asText())
        .contains("which application of the category games is left out", "Cardsharp Cove");
  }
}
