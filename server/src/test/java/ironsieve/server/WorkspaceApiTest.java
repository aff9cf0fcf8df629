package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.junit.QuarkusTest;
import ironsieve.Cases;
import ironsieve.files.Archive;
import jakarta.inject.Inject;
import java.io.ByteArrayInputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.SortedMap;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What all rulebases are read against is changed with its impact first, and taken back. */
@QuarkusTest
class WorkspaceApiTest {

  private static final ObjectMapper JSON = new ObjectMapper();
  private static final String MAIN = "/api/rulebases/main-gateway";

  @Inject DemoData demo;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  private static JsonNode get(String path) throws Exception {
    return JSON.readTree(
        given()
            .header("Sieve-Editor", "ada")
            .get(path)
            .then()
            .statusCode(200)
            .extract()
            .asString());
  }

  private static JsonNode post(String path, Object body, int status) throws Exception {
    return JSON.readTree(
        given()
            .header("Sieve-Editor", "ada")
            .contentType("application/json")
            .body(body)
            .post(path)
            .then()
            .statusCode(status)
            .extract()
            .asString());
  }

  private static Map<String, Object> put(String kind, Map<String, Object> doc) {
    return Map.of("op", "PUT", "kind", kind, "doc", doc);
  }

  private static Map<String, Object> remove(String kind, String id) {
    return Map.of("op", "REMOVE", "kind", kind, "id", id);
  }

  private static JsonNode impact(Object... steps) throws Exception {
    return post("/api/workspace/impact", Map.of("steps", List.of(steps)), 200);
  }

  private static long version() throws Exception {
    return get("/api/workspace").get("version").asLong();
  }

  private static JsonNode change(int status, Object... steps) throws Exception {
    return post(
        "/api/workspace/changes",
        Map.of("version", version(), "what", "tested", "steps", List.of(steps)),
        status);
  }

  private static String verdict(String probe) throws Exception {
    return post(MAIN + "/probe", Map.of("text", probe), 200).get("verdict").asText();
  }

  private static JsonNode onMain(JsonNode impact) {
    for (JsonNode rulebase : impact.get("rulebases")) {
      if (rulebase.get("id").asText().equals("main-gateway")) {
        return rulebase;
      }
    }
    throw new AssertionError("nothing changes for the main gateway: " + impact);
  }

  @Test
  void aNetworkMovesToAnotherZoneWithItsImpactFirst() throws Exception {
    Map<String, Object> wifi =
        put(
            "zone",
            Map.of(
                "name", "Crew wifi",
                "side", "inside",
                "networks", List.of("10.40.0.0/16", "2001:db8:40::/48", "10.20.77.0/24")));
    Map<String, Object> offices =
        put(
            "zone",
            Map.of(
                "name", "Offices",
                "side", "inside",
                "networks",
                    List.of(
                        "10.20.0.0-10.20.76.255", "10.20.78.0-10.20.255.255", "2001:db8:20::/48")));
    JsonNode main = onMain(impact(wifi, offices));
    assertThat(main.get("kinds").toString()).contains("Offices → Crew wifi");
    JsonNode kind = main.get("kinds").get(0);
    String probe = kind.get("probe").asText();
    assertThat(verdict(probe)).isEqualTo(kind.at("/before/verdict").asText());

    change(200, wifi, offices);
    assertThat(verdict(probe.replace("from Offices", "from Crew wifi")))
        .isEqualTo(kind.at("/after/verdict").asText());
    JsonNode line = get("/api/workspace/zones").get("line");
    assertThat(line.findValuesAsText("from")).contains("10.20.77.0");
    assertThat(get(MAIN + "/events").get(0).get("what").asText()).isEqualTo("tested");
    assertThat(get(MAIN).get("undo").asText()).isEqualTo("tested");
    post(MAIN + "/undo", Map.of("revision", 0), 200);
    assertThat(verdict(probe)).isEqualTo(kind.at("/before/verdict").asText());
  }

  @Test
  void whatIsRemovedWhileItIsInUseIsAFindingAndNothingBreaks() throws Exception {
    JsonNode main = onMain(impact(remove("zone", "Partners")));
    assertThat(main.get("unknown").toString()).contains("there is no zone \\\"Partners\\\"");
    assertThat(main.get("begun").toString()).contains("unknown name");
    change(200, remove("zone", "Partners"));
    assertThat(get(MAIN).get("faults")).isEmpty();
    assertThat(get(MAIN + "/review").toString()).contains("unknown name");
    JsonNode undone = post("/api/workspace/undo", Map.of("version", version()), 200);
    assertThat(undone.get("version").asLong()).isEqualTo(version());
    assertThat(get(MAIN + "/review").toString()).doesNotContain("unknown name");
    assertThat(get("/api/workspace").get("redo").asText()).isEqualTo("tested");
  }

  @Test
  void aPersonWhoLeavesIsTakenOutOfWhatTheyCould() throws Exception {
    JsonNode people = get("/api/workspace/directory?text=livia.quist");
    assertThat(people.get("matching").asInt()).isEqualTo(1);
    JsonNode uses = get("/api/workspace/uses?kind=group&id=Staff");
    assertThat(uses.get(0).get("rulebase").asText()).isEqualTo("main-gateway");
    assertThat(uses.get(0).get("rules")).isNotEmpty();
    JsonNode main = onMain(impact(remove("person", "livia.quist")));
    assertThat(main.get("kinds").toString()).contains("livia.quist");
    assertThat(main.at("/kinds/0/probe").asText()).contains("livia.quist");
    change(200, remove("person", "livia.quist"));
    assertThat(get("/api/workspace/directory?text=livia.quist").get("matching").asInt()).isZero();
  }

  @Test
  void aGroupThatIsRenamedOrRemovedTakesItsMembersAlong() throws Exception {
    int members = members("Staff");
    change(200, Map.of("op", "RENAME", "kind", "group", "id", "Staff", "name", "Crew and staff"));
    assertThat(members("Crew and staff")).isEqualTo(members);
    change(200, remove("group", "Crew and staff"));
    assertThat(get("/api/workspace/directory").toString()).doesNotContain("Crew and staff");
    post("/api/workspace/undo", Map.of("version", version()), 200);
    assertThat(members("Crew and staff")).isEqualTo(members);
  }

  @Test
  void aNewNameIsTakenOnEverywhereAndTakenBackEverywhere() throws Exception {
    String id =
        post("/api/rulebases", Map.of("name", "Old one", "copyOf", "main-gateway"), 200)
            .get("id")
            .asText();
    post("/api/rulebases/" + id + "/standing", Map.of("standing", "archived"), 200);
    Map<String, Object> zone =
        Map.of("op", "RENAME", "kind", "zone", "id", "Crew wifi", "name", "Crew network");
    Map<String, Object> set =
        Map.of("op", "RENAME", "kind", "set", "id", "network:Name servers", "name", "Resolvers");
    Map<String, Object> group =
        Map.of("op", "RENAME", "kind", "group", "id", "Booking agents", "name", "Agents");
    JsonNode told = impact(zone, set, group);
    assertThat(told.get("rulebases")).as("%s", told).isEmpty();
    List<String> before = outcomes();
    change(200, zone, set, group);
    for (String rulebase : List.of("main-gateway", "northquay-terminal", "saltmere-rose", id)) {
      JsonNode now = get("/api/rulebases/" + rulebase);
      assertThat(now.get("faults")).isEmpty();
      assertThat(now.get("chapters").toString())
          .doesNotContain("\"Crew wifi\"", "set Name servers", "group Booking agents");
      assertThat(get("/api/rulebases/" + rulebase + "/review").toString())
          .doesNotContain("unknown name");
    }
    assertThat(get(MAIN).get("chapters").toString())
        .contains("Crew network", "set Resolvers", "group Agents");
    assertThat(outcomes()).isEqualTo(before);
    assertThat(get(MAIN + "/hits").get("impossible").asLong()).isZero();
    assertThat(get(MAIN + "/journal").get(0).get("who").asText()).isEqualTo("ada (everywhere)");
    // Undo in the rulebase takes all of it back, and not what was done there alone.
    assertThat(get(MAIN).get("undo").asText()).isEqualTo("tested");
    post(MAIN + "/undo", Map.of("revision", 1), 200);
    for (String rulebase : List.of("main-gateway", "saltmere-rose", id)) {
      assertThat(get("/api/rulebases/" + rulebase + "/review").toString())
          .doesNotContain("unknown name");
    }
    assertThat(get(MAIN).get("chapters").toString()).contains("\"Crew wifi\"", "set Name servers");
    assertThat(outcomes()).isEqualTo(before);
    assertThat(get(MAIN + "/hits").get("impossible").asLong()).isZero();
  }

  /** What became of every promise. */
  private static List<String> outcomes() throws Exception {
    List<String> outcomes = new ArrayList<>();
    for (JsonNode promise : get(MAIN + "/promises")) {
      outcomes.add(
          promise.get("name")
              + " "
              + promise.get("kept")
              + " "
              + promise.get("caughtBy")
              + promise.get("trouble"));
    }
    return outcomes;
  }

  private static int members(String group) throws Exception {
    for (JsonNode one : get("/api/workspace/directory").get("groups")) {
      if (one.get("name").asText().equals(group)) {
        return one.get("members").asInt();
      }
    }
    throw new AssertionError(group);
  }

  @Test
  void anOwnApplicationIsUsedInRulesLikeAnyOther() throws Exception {
    Map<String, Object> own =
        put(
            "application",
            Map.of(
                "name", "Berth planner",
                "category", "business systems",
                "exposure", "slight",
                "workValue", "core",
                "usualPorts", List.of("tcp/8443"),
                "ridesOn", List.of("TLS"),
                "features", List.of("view", "change")));
    change(200, own);
    assertThat(get("/api/catalogue").toString()).contains("Berth planner");
    post(
        MAIN + "/edits",
        Map.of(
            "revision",
            0,
            "what",
            "allowed the planner",
            "steps",
            List.of(
                Map.of(
                    "op",
                    "ADD_RULE",
                    "rule",
                    Map.of(
                        "fields",
                        Map.of(
                            "using.applications",
                            Map.of("values", List.of("Berth planner/view"))))))),
        200);
    Map<String, Object> clash =
        put(
            "application",
            Map.of(
                "name", "Hullmail", "category", "mail", "exposure", "slight", "workValue", "core"));
    assertThat(change(422, clash).get("detail").asText())
        .contains("has an application of this name");
  }

  @Test
  void anEditionComesAsAFileAndIsPutInForceWithItsImpactOnEveryRulebase() throws Exception {
    String columns =
        "name,category,family,provider,exposure,work value,content,usual ports,rides on,needs,"
            + "features,description\n";
    String dns = "DNS,open protocols,,,slight,core,plain,udp/53; tcp/53,,,,Names.\n";
    loaded(43, columns + "DNS,open protocols,,,slight,core,plain,udp/99999,,,,Names.\n", 422);
    loaded(42, columns + dns, 422);
    loaded(0, columns + dns, 422);
    assertThat(loaded(43, columns + dns, 200).get("editions").toString()).contains("43");
    Map<String, Object> inForce = put("edition", Map.of("number", 43));
    JsonNode told = impact(inForce);
    assertThat(told.get("rulebases")).hasSize(3);
    assertThat(onMain(told).get("unknown").toString()).contains("Passagebook");
    change(200, inForce);
    assertThat(get("/api/catalogue").get("applications")).hasSize(1);
    assertThat(get(MAIN).get("faults")).isEmpty();
    post("/api/workspace/undo", Map.of("version", version()), 200);
    assertThat(get("/api/editions").get("inForce").asInt()).isEqualTo(41);
  }

  private static JsonNode loaded(int edition, String csv, int status) throws Exception {
    return JSON.readTree(
        given()
            .contentType("text/csv")
            .body(csv)
            .put("/api/editions/" + edition)
            .then()
            .statusCode(status)
            .extract()
            .asString());
  }

  @Test
  void whatCannotBeIsToldAndNothingIsChanged() throws Exception {
    long version = version();
    Map<String, Map<String, Object>> wrong =
        Map.of(
            "10.0.0.0/33", put("zone", zone("Annex", "inside", "10.0.0.0/33")),
            "is none of inside, outside, gateway",
                put("zone", zone("Annex", "beside", "10.1.0.0/16")),
            "there is no group \"Pirates\"",
                put("person", Map.of("login", "ann", "groups", List.of("Pirates"))),
            "a login has no spaces", put("person", Map.of("login", "ann b")),
            "two capital letters", put("country", Map.of("code", "xa", "networks", List.of())),
            "there is none of this name", remove("zone", "Annex"),
            "kinds are", Map.of("op", "REMOVE", "kind", "planet", "id", "x"),
            "has a meaning of its own",
                put("device kind", Map.of("name", "unknown", "position", 1)),
            "no such edition", put("edition", Map.of("number", 7)));
    for (Map.Entry<String, Map<String, Object>> one : wrong.entrySet()) {
      String answer =
          given()
              .contentType("application/json")
              .body(Map.of("version", version, "what", "x", "steps", List.of(one.getValue())))
              .post("/api/workspace/changes")
              .asString();
      assertThat(JSON.readTree(answer).get("status").asInt())
          .as("%s: %s", one.getKey(), answer)
          .isEqualTo(422);
      assertThat(JSON.readTree(answer).get("detail").asText()).contains(one.getKey());
    }
    assertThat(version()).isEqualTo(version);
  }

  private static Map<String, Object> zone(String name, String side, String network) {
    return Map.of("name", name, "side", side, "networks", List.of(network));
  }

  @Test
  void aChangeMadeOnAnOldVersionIsRefusedWithWhatHappenedSince() throws Exception {
    long seen = version();
    change(200, put("zone", zone("Annex", "inside", "10.99.0.0/16")));
    JsonNode refused =
        post(
            "/api/workspace/changes",
            Map.of(
                "version",
                seen,
                "what",
                "late",
                "steps",
                List.of(put("zone", zone("Annex", "outside", "10.98.0.0/16")))),
            409);
    assertThat(refused.get("since").toString()).contains("tested");
    assertThat(get("/api/workspace/zones").toString()).contains("10.99.0.0/16");
  }

  @Test
  void aRandomRowOfChangesWithUndoEndsWhereItBegan() throws Exception {
    SortedMap<String, String> before = files();
    for (long seed = 11; seed < 11 + Cases.rounds(3); seed++) {
      Random random = new Random(seed);
      List<Object> made = new ArrayList<>();
      while (made.size() < 12) {
        List<Object> steps = new ArrayList<>();
        for (int i = random.nextInt(2); i >= 0; i--) {
          steps.add(randomStep(random));
        }
        int status =
            given()
                .header("Sieve-Editor", "ada")
                .contentType("application/json")
                .body(Map.of("version", version(), "what", "tested", "steps", steps))
                .post("/api/workspace/changes")
                .statusCode();
        // What cannot be, such as a second record of a name, is refused and leaves nothing.
        assertThat(status).as(steps.toString()).isIn(200, 422);
        if (status == 200) {
          made.add(steps);
        }
      }
      assertThat(files()).as("after %s", made).isNotEqualTo(before);
      for (int i = 0; i < made.size(); i++) {
        post("/api/workspace/undo", Map.of("version", version()), 200);
      }
      assertThat(files()).as("after %s and undo", made).isEqualTo(before);
    }
  }

  /** Everything there is: the workspace, its rulebases and their traffic. */
  private static SortedMap<String, String> files() {
    return Archive.read(new ByteArrayInputStream(archive()));
  }

  private static Map<String, Object> randomStep(Random random) throws Exception {
    String named = "N" + random.nextInt(1_000);
    String network = "10." + (100 + random.nextInt(100)) + "." + random.nextInt(200) + ".0/24";
    return switch (random.nextInt(16)) {
      case 0 -> put("zone", zone(named, "inside", network));
      case 1 -> put("zone", zone(any(random, "zone"), "outside", network));
      case 2 -> rename("zone", any(random, "zone"), named);
      case 3 -> remove("zone", any(random, "zone"));
      case 4 -> put("person", Map.of("login", named, "groups", List.of(any(random, "group"))));
      case 5 -> rename("person", any(random, "person"), named);
      case 6 -> remove("person", any(random, "person"));
      case 7 -> rename("group", any(random, "group"), named);
      case 8 -> remove("group", any(random, "group"));
      case 9 -> put("address list", Map.of("name", named, "addresses", List.of(network)));
      case 10 -> remove("address list", any(random, "address list"));
      case 11 ->
          put("host", Map.of("host", named + ".example", "addresses", List.of("203.0.113.9")));
      case 12 ->
          put(
              "country",
              Map.of(
                  "code", "Z" + (char) ('A' + random.nextInt(26)), "networks", List.of(network)));
      case 13 -> put("site", Map.of("names", named + ".example", "category", "news and reading"));
      case 14 ->
          put(
              "set",
              Map.of("kind", "network", "name", named, "values", List.of(network), "note", ""));
      default -> put("organisation", Map.of("name", named));
    };
  }

  private static Map<String, Object> rename(String kind, String id, String name) {
    return Map.of("op", "RENAME", "kind", kind, "id", id, "name", name);
  }

  private static String any(Random random, String kind) throws Exception {
    List<String> ids = new ArrayList<>();
    switch (kind) {
      case "zone" -> get("/api/workspace/zones").get("zones").forEach(one -> ids.add(name(one)));
      case "group" ->
          get("/api/workspace/directory").get("groups").forEach(one -> ids.add(name(one)));
      case "person" ->
          get("/api/workspace/directory")
              .get("shown")
              .forEach(one -> ids.add(one.get("login").asText()));
      default ->
          get("/api/workspace/records?text=&kind=" + kind)
              .get("shown")
              .forEach(one -> ids.add(one.get("id").asText()));
    }
    return ids.get(random.nextInt(ids.size()));
  }

  private static String name(JsonNode one) {
    return one.get("name").asText();
  }

  @Test
  void aRulebaseIsMadeCopiedRenamedArchivedRemovedAndBroughtBack() throws Exception {
    String made = post("/api/rulebases", Map.of("name", "Łódź Depot"), 200).get("id").asText();
    assertThat(made).isEqualTo("łodz-depot");
    JsonNode empty = get("/api/rulebases/" + made);
    assertThat(empty.get("defaultVerdict").asText()).isEqualTo("deny");
    assertThat(empty.at("/chapters/0/rules/0/name").asText())
        .isEqualTo("Administration of the gateway");
    assertThat(empty.at("/chapters/0/rules/0/state").asText()).isEqualTo("off");

    String copy =
        post("/api/rulebases", Map.of("name", "Twin", "copyOf", "main-gateway"), 200)
            .get("id")
            .asText();
    assertThat(get("/api/rulebases/" + copy).get("chapters")).isEqualTo(get(MAIN).get("chapters"));
    assertThat(get("/api/rulebases/" + copy + "/promises")).hasSameSizeAs(get(MAIN + "/promises"));

    post("/api/rulebases/" + copy + "/standing", Map.of("name", "Second"), 200);
    assertThat(get("/api/rulebases").toString()).contains("Second").doesNotContain("Twin");
    post("/api/rulebases/" + copy + "/standing", Map.of("standing", "archived"), 200);
    Map<String, Object> step =
        Map.of("op", "REMOVE_RULE", "id", get(MAIN).at("/chapters/0/rules/0/id").asText());
    assertThat(
            post(
                    "/api/rulebases/" + copy + "/edits",
                    Map.of("revision", 0, "what", "x", "steps", List.of(step)),
                    422)
                .get("detail")
                .asText())
        .contains("it is retired");
    post("/api/rulebases/" + copy + "/standing", Map.of("standing", "removed"), 200);
    given().get("/api/rulebases/" + copy).then().statusCode(404);
    assertThat(get("/api/rulebases").toString()).doesNotContain("Second");
    post("/api/workspace/undo", Map.of("version", version()), 200);
    assertThat(get("/api/rulebases").toString()).contains("Second");
    post("/api/rulebases/" + copy + "/standing", Map.of("standing", "active"), 200);
    post(
        "/api/rulebases/" + copy + "/edits",
        Map.of("revision", 0, "what", "x", "steps", List.of(step)),
        200);
    // The other is what it was.
    assertThat(get(MAIN).get("revision").asLong()).isZero();
  }

  private static final String FOREIGN =
      """
      rulebase "Annex"
        default verdict deny

      chapter a "All"
      rule web "Browsing"
        from zones: Office
        from people: group Clerks; livia.quist
        using services: tcp/443
        then: allow
      rule gone "Old"
        to zones: Moon
        then: deny
      """;

  @Test
  void aFileThatNamesWhatIsNotHereIsBroughtInWithAChoiceForEachName() throws Exception {
    JsonNode prepared = post("/api/rulebases/prepare", Map.of("text", FOREIGN), 200);
    assertThat(prepared.get("format").asText()).isEqualTo("rules");
    assertThat(prepared.get("rules").asInt()).isEqualTo(2);
    assertThat(prepared.get("unknown").findValuesAsText("value"))
        .containsExactly("Office", "group Clerks", "Moon");
    assertThat(prepared.at("/unknown/0/near/0").asText()).isEqualTo("Offices");
    assertThat(prepared.at("/unknown/0/places/0").asText()).isEqualTo("rule 1 Browsing");
    assertThat(prepared.get("findings").toString()).contains("unknown name");

    List<Object> choices =
        List.of(
            Map.of("kind", "zone", "value", "Office", "other", "Offices"),
            Map.of("kind", "person", "value", "group Clerks"),
            Map.of("kind", "zone", "value", "Moon"));
    JsonNode chosen =
        post("/api/rulebases/prepare", Map.of("text", FOREIGN, "choices", choices), 200);
    assertThat(chosen.get("unknown")).isEmpty();
    String id =
        post("/api/rulebases", Map.of("text", FOREIGN, "choices", choices), 200).get("id").asText();
    JsonNode rules = get("/api/rulebases/" + id).at("/chapters/0/rules");
    assertThat(rules.get(0).get("fields").toString())
        .contains("Offices", "livia.quist")
        .doesNotContain("Clerks");
    assertThat(rules.get(1).get("state").asText()).isEqualTo("off");
    assertThat(rules.get(1).get("note").asText()).contains("Switched off");

    // As it is, each of them is a finding, and everything else works.
    String whole = post("/api/rulebases", Map.of("text", FOREIGN), 200).get("id").asText();
    assertThat(whole).isEqualTo("annex-2");
    assertThat(get("/api/rulebases/" + whole + "/review").toString()).contains("unknown name");
    assertThat(
            post("/api/rulebases/prepare", Map.of("text", "rulebase \"x\"\nrule a"), 422)
                .get("detail")
                .asText())
        .contains("line 2");
  }

  private static byte[] archive() {
    return given().get("/api/workspace/archive").then().statusCode(200).extract().asByteArray();
  }

  private static JsonNode restored(byte[] archive, int status) throws Exception {
    return JSON.readTree(
        given()
            .contentType("application/zip")
            .body(archive)
            .post("/api/workspace/archive")
            .then()
            .statusCode(status)
            .extract()
            .asString());
  }

  @Test
  void anArchiveOfEverythingComesBackOnAnEmptyServerTheSameToTheByte() throws Exception {
    change(200, put("zone", zone("Łódź annex", "inside", "10.99.0.0/16")));
    change(200, remove("person", "livia.quist"));
    String copy =
        post("/api/rulebases", Map.of("name", "Twin", "copyOf", "main-gateway"), 200)
            .get("id")
            .asText();
    post("/api/rulebases/" + copy + "/standing", Map.of("standing", "archived"), 200);
    String tape = get(MAIN + "/hits").at("/tapes/0/name").asText();
    given()
        .contentType("application/json")
        .body(Map.of("days", 3_000))
        .put(MAIN + "/tapes/" + tape + "/keep")
        .then()
        .statusCode(200);
    byte[] archive = archive();
    assertThat(restored(archive, 422).get("detail").asText()).contains("something is here already");
    String review = get(MAIN + "/review").get("rules").toString();

    demo.clear();
    assertThat(get("/api/workspace").get("begun").asBoolean()).isFalse();
    assertThat(restored("<html>no feed</html>".getBytes(), 422).get("detail").asText())
        .contains("no archive of this application");
    assertThat(get("/api/workspace").get("begun").asBoolean()).isFalse();
    assertThat(restored(archive, 200).get("organisation").asText()).isEqualTo("Saltmere Ferries");
    assertThat(archive()).isEqualTo(archive);
    assertThat(get(MAIN + "/hits").at("/tapes/0/keepDays").asInt()).isEqualTo(3_000);
    assertThat(get(MAIN + "/review").get("rules").toString()).isEqualTo(review);
    assertThat(get("/api/rulebases").toString()).contains("Twin", "archived");
    // Of what Livia did only how often is known, for she is gone.
    JsonNode hits = get(MAIN + "/hits");
    assertThat(hits.get("impossible").asLong()).isPositive();
    assertThat(hits.get("times").asLong()).isGreaterThan(hits.get("impossible").asLong());
  }

  /** What the page of traffic would fail on for ever after is not taken in. */
  @Test
  void watchesThatCannotBeLookedAtAreNotRestored() throws Exception {
    SortedMap<String, String> files = Archive.read(new ByteArrayInputStream(archive()));
    demo.clear();
    String path = "tapes/main-gateway.watches.json";
    String watch = "[{\"name\": %s, \"only\": %s, \"measure\": %s, \"threshold\": %d}]";
    String only = "[\"application:DNS\"]";
    for (String bad :
        List.of(
            "no list",
            "[null]",
            watch.formatted("null", only, "\"bytes\"", 1),
            watch.formatted("\"a\"", "[\"colour:red\"]", "\"bytes\"", 1),
            watch.formatted("\"a\"", "[\"red\"]", "\"bytes\"", 1),
            watch.formatted("\"a\"", "[null]", "\"bytes\"", 1),
            watch.formatted("\"a\"", only, "null", 1),
            watch.formatted("\"a\"", only, "\"miles\"", 1),
            watch.formatted("\"a\"", only, "\"bytes\"", -1))) {
      files.put(path, bad);
      assertThat(restored(Archive.write(files), 422).get("detail").asText()).as(bad).contains(path);
    }
    files.put(path, watch.formatted("\"a\"", only, "\"bytes\"", 1));
    restored(Archive.write(files), 200);
    assertThat(given().get(MAIN + "/watches").then().extract().body().asString())
        .contains("application:DNS");
  }

  @Test
  void daysThatAnArchiveKeepsATapeForAreDaysOfATapeThatIsThere() throws Exception {
    SortedMap<String, String> files = Archive.read(new ByteArrayInputStream(archive()));
    demo.clear();
    String path = "tapes/main-gateway.kept-days.json";
    files.put(path, "[{\"tape\": \"autumn weeks\", \"days\": 0}]");
    assertThat(restored(Archive.write(files), 422).get("detail").asText())
        .contains(path, "1 to 3650 days");
    files.put(path, "[{\"tape\": \"spring weeks\", \"days\": 5}]");
    assertThat(restored(Archive.write(files), 422).get("detail").asText())
        .contains(path, "there is no tape \"spring weeks\"");
    for (String none : List.of("no list", "null", "[null]", "[{\"tape\": 3, \"room\": 1}]")) {
      files.put(path, none);
      assertThat(restored(Archive.write(files), 422).get("detail").asText()).contains(path);
    }
    assertThat(get("/api/workspace").get("begun").asBoolean()).isFalse();
  }

  @Test
  void anArchiveWithItsHistoryComesBackWithItAndWhatWasDoneCanBeUndoneThere() throws Exception {
    change(200, put("zone", zone("Annex", "inside", "10.99.0.0/16")));
    long revision = get(MAIN).get("revision").asLong();
    String first = get(MAIN).at("/chapters/0/rules/0/id").asText();
    post(
        MAIN + "/edits",
        Map.of(
            "revision",
            revision,
            "what",
            "switched it off",
            "steps",
            List.of(Map.of("op", "CHANGE_RULE", "id", first, "rule", Map.of("state", "off")))),
        200);
    byte[] archive =
        given().get("/api/workspace/archive?history=true").then().extract().asByteArray();
    String journal = get(MAIN + "/journal").toString();
    assertThat(journal).contains("switched it off");
    demo.clear();
    restored(archive, 200);
    assertThat(get(MAIN).get("revision").asLong()).isEqualTo(revision + 1);
    assertThat(get(MAIN + "/journal").toString()).isEqualTo(journal);
    assertThat(given().get("/api/workspace/archive?history=true").then().extract().asByteArray())
        .isEqualTo(archive);
    post(MAIN + "/undo", Map.of("revision", revision + 1), 200);
    assertThat(get(MAIN).at("/chapters/0/rules/0/state").asText()).isEqualTo("on");
    post("/api/workspace/undo", Map.of("version", version()), 200);
    assertThat(get("/api/workspace/zones").toString()).doesNotContain("Annex");
    change(200, put("zone", zone("Later", "inside", "10.98.0.0/16")));
  }

  @Test
  void aHistoryThatIsNoneLeavesTheServerEmpty() throws Exception {
    byte[] archive =
        given().get("/api/workspace/archive?history=true").then().extract().asByteArray();
    SortedMap<String, String> files = Archive.read(new ByteArrayInputStream(archive));
    for (String bad :
        List.of(
            "{}",
            "[null]",
            "[{\"revision\": 1}]",
            // The next number would be none any more, and every later change refused.
            "[{\"revision\": 9223372036854775807, \"at\": \"2026-11-24T10:15:00Z\", \"who\": \"a\","
                + " \"what\": \"b\", \"action\": \"edit\", \"changes\": []}]",
            "[{\"revision\": 1, \"at\": \"2026-11-24T10:15:00Z\", \"who\": \"a\", \"what\": \"b\","
                + " \"action\": \"undo\", \"changes\": []}]")) {
      files.put("history/rulebases/main-gateway.json", bad);
      demo.clear();
      assertThat(restored(Archive.write(files), 422).get("detail").asText())
          .contains("history/rulebases/main-gateway.json");
      assertThat(get("/api/workspace").get("begun").asBoolean()).isFalse();
    }
  }

  @Test
  void aNewServerBeginsOnce() throws Exception {
    demo.clear();
    assertThat(get("/api/rulebases")).isEmpty();
    assertThat(post("/api/workspace/begin", Map.of("with", "nothing"), 422).get("detail").asText())
        .contains("demo or empty");
    JsonNode begun =
        post("/api/workspace/begin", Map.of("with", "empty", "organisation", "Zürich Ætna"), 200);
    assertThat(begun.get("begun").asBoolean()).isTrue();
    assertThat(begun.get("organisation").asText()).isEqualTo("Zürich Ætna");
    assertThat(post("/api/workspace/begin", Map.of("with", "demo"), 422).get("detail").asText())
        .contains("has begun already");
    // A rulebase without zones, people and applications can be made, reviewed and asked.
    String id = post("/api/rulebases", Map.of("name", "First"), 200).get("id").asText();
    assertThat(get("/api/rulebases/" + id + "/review").get("rules")).isEmpty();
    assertThat(get("/api/workspace/zones").get("line").toString()).contains("\"zones\":[]");
    demo.clear();
    assertThat(post("/api/workspace/begin", Map.of("with", "demo"), 200).get("rulebases"))
        .hasSize(3);
  }

  @Test
  void peopleComeFromAFileAndWhatItDoesIsToldFirst() throws Exception {
    String csv = "user,full name,teams,Department\nann.new,Ann New,Booking agents;Fresh,Quay\n";
    Map<String, Object> load =
        Map.of("op", "LOAD_DIRECTORY", "format", "csv", "people", csv, "others", "keep");
    JsonNode main = onMain(impact(load));
    assertThat(main.get("kinds").toString()).contains("ann.new");
    change(200, load);
    JsonNode found = get("/api/workspace/directory?text=ann.new").get("shown").get(0);
    assertThat(found.get("allGroups").toString()).contains("Everyone", "Fresh");
    assertThat(found.at("/attributes/Department").asText()).isEqualTo("Quay");
    assertThat(get("/api/workspace/directory").get("people").asInt()).isEqualTo(240);

    Map<String, Object> replace =
        Map.of("op", "LOAD_DIRECTORY", "format", "csv", "people", csv, "others", "remove");
    assertThat(onMain(impact(replace)).get("unknown").toString()).contains("no group");
    change(200, replace);
    assertThat(get("/api/workspace/directory").get("people").asInt()).isEqualTo(1);
    assertThat(get(MAIN).get("faults")).isEmpty();
    post("/api/workspace/undo", Map.of("version", version()), 200);
    assertThat(get("/api/workspace/directory").get("people").asInt()).isEqualTo(240);
  }

  @Test
  void whatColumnsOfAListOfPeopleHoldIsShownAndSaidByHand() throws Exception {
    String csv = "Wer;Kürzel\nAnn New;ann.new\n";
    JsonNode look = post("/api/workspace/directory/look", Map.of("people", csv), 200);
    assertThat(look.at("/columns/1/target").asText()).isEqualTo("an attribute");
    assertThat(look.get("targets").toString()).contains("login", "groups", "nothing");
    Map<String, String> columns = Map.of("Wer", "name", "Kürzel", "login");
    JsonNode mapped =
        post("/api/workspace/directory/look", Map.of("people", csv, "columns", columns), 200);
    assertThat(mapped.at("/columns/1/target").asText()).isEqualTo("login");
    assertThat(mapped.at("/samples/0/0").asText()).isEqualTo("Ann New");
    change(200, Map.of("op", "LOAD_DIRECTORY", "format", "csv", "people", csv, "columns", columns));
    assertThat(get("/api/workspace/directory?text=ann.new").at("/shown/0/name").asText())
        .isEqualTo("Ann New");
    columns = Map.of("Wer", "who");
    JsonNode refused =
        post("/api/workspace/directory/look", Map.of("people", csv, "columns", columns), 422);
    assertThat(refused.get("detail").asText()).contains("a column holds one of login", "who");
  }

  @Test
  void aListIsNoticedByWhateverNamesItAndByNothingElse() throws Exception {
    Map<String, Object> watched =
        put("address list", Map.of("name", "Watched", "addresses", List.of("203.0.113.0/25")));
    change(200, watched);
    Map<String, Object> other =
        put("address list", Map.of("name", "Watched", "addresses", List.of("10.20.0.0/16")));
    JsonNode unused = impact(other);
    assertThat(unused.get("checked").asInt()).isEqualTo(3);
    assertThat(unused.get("changes").asInt()).isEqualTo(1);
    assertThat(unused.get("rulebases")).isEmpty();
    // Of one that rules name, only those rulebases notice.
    JsonNode scanners =
        impact(
            put(
                "address list",
                Map.of("name", "Known scanners", "addresses", List.of("203.0.113.9"))));
    assertThat(scanners.get("rulebases").toString()).contains("main-gateway");
    // A shared set that names it is noticed through the set.
    change(
        200,
        put(
            "set",
            Map.of("kind", "network", "name", "All watched", "values", List.of("list Watched"))));
    JsonNode main = get(MAIN);
    Map<String, Object> rule =
        Map.of(
            "name", "Watched stay out",
            "verdict", "deny",
            "fields",
                Map.of(
                    "from.networks", Map.of("sense", "is", "values", List.of("set All watched"))));
    post(
        MAIN + "/edits",
        Map.of(
            "revision",
            main.get("revision").asLong(),
            "what",
            "watched",
            "steps",
            List.of(Map.of("op", "ADD_RULE", "place", Map.of("before", "gw-admin"), "rule", rule))),
        200);
    assertThat(impact(other).get("rulebases").toString()).contains("main-gateway");
  }

  @Test
  void aFileThatIsTooLargeIsRefusedWithHowLargeItMayBe() throws Exception {
    StringBuilder people = new StringBuilder("login,name,groups,attributes\n");
    for (int i = 0; i < 1_000_000; i++) {
      people.append("u").append(i).append(",User ").append(i).append(",,\n");
    }
    JsonNode refused =
        post(
            "/api/workspace/impact",
            Map.of(
                "steps",
                List.of(
                    Map.of(
                        "op", "LOAD_DIRECTORY",
                        "format", "csv",
                        "people", people.toString(),
                        "groups", "",
                        "others", "keep"))),
            400);
    assertThat(refused.get("detail").asText())
        .contains("at most 16,000,000 letters")
        .doesNotContain("ironsieve");
    assertThat(refused.at("/errors/0/field").asText()).isEqualTo("steps[0].people");
  }

  @Test
  void aSharedSetChangesInEveryRulebaseThatUsesIt() throws Exception {
    Map<String, Object> servers =
        put(
            "set",
            Map.of(
                "kind", "network",
                "name", "Name servers",
                "values", List.of("192.0.2.10"),
                "note", ""));
    JsonNode told = impact(servers);
    assertThat(told.get("rulebases").findValuesAsText("id"))
        .containsExactlyInAnyOrder("main-gateway", "northquay-terminal", "saltmere-rose");
    String probe =
        "from Offices 10.20.4.9 to Booking DMZ 192.0.2.11 using udp/53 DNS at tue 2026-12-01 10:00";
    assertThat(verdict(probe)).isEqualTo("allow");
    change(200, servers);
    assertThat(verdict(probe)).isEqualTo("deny");
    JsonNode uses = get("/api/workspace/uses?kind=set&id=network:Name servers");
    assertThat(uses.findValuesAsText("rulebase")).hasSize(3);
    assertThat(get(MAIN + "/choices?kind=network&text=set Name").toString())
        .contains("set Name servers");
  }

  @Test
  void aWholeRulebaseIsPutInPlaceByATextAndOnlyWhatDiffersIsTold() throws Exception {
    String text = given().get(MAIN + "/file?format=rules").asString();
    Map<String, Object> same = Map.of("revision", 0, "text", text);
    JsonNode nothing = post(MAIN + "/replacement", same, 200);
    assertThat(nothing.get("changed")).isEmpty();
    assertThat(nothing.at("/impact/kinds")).isEmpty();
    assertThat(post(MAIN + "/replace", same, 422).get("title").asText())
        .isEqualTo("Nothing to save");

    String moved =
        text.replace("rule gw-snmp \"Monitoring asks the gateway\"", "rule gw-snmp \"Asks\"")
            .replaceFirst("(?s)(rule bk-agents .*?)(rule bk-export .*?)(rule bk-kiosk)", "$2$1$3");
    JsonNode told = post(MAIN + "/replacement", Map.of("revision", 0, "text", moved), 200);
    assertThat(told.get("added")).isEmpty();
    assertThat(told.get("removed")).isEmpty();
    assertThat(told.get("changed")).hasSize(2);
    assertThat(told.at("/impact/kinds/0/before/verdict").asText()).isEqualTo("allow");
    JsonNode edited = post(MAIN + "/replace", Map.of("revision", 0, "text", moved), 200);
    assertThat(edited.get("revision").asLong()).isEqualTo(1);
    assertThat(given().get(MAIN + "/file?format=rules").asString()).isEqualTo(moved);
    assertThat(get(MAIN + "/promises")).isNotEmpty();
    post(MAIN + "/undo", Map.of("revision", 1), 200);
    assertThat(given().get(MAIN + "/file?format=rules").asString()).isEqualTo(text);

    String misspelt = text.replaceFirst("from zones: Offices", "from zones: Ofices");
    assertThat(
            post(MAIN + "/replacement", Map.of("revision", 2, "text", misspelt), 422)
                .get("detail")
                .asText())
        .contains("there is no zone \"Ofices\"");
    post(MAIN + "/replace", Map.of("revision", 0, "text", moved), 409);
  }

  @Test
  void aRulebaseWithoutANameIsRefused() throws Exception {
    assertThat(post("/api/rulebases", Map.of("name", " "), 422).get("detail").asText())
        .contains("name");
  }

  @Test
  void twoSharedSetsBecomeOneEverywhereAndTwoAgainWhenThatIsTakenBack() throws Exception {
    change(
        200,
        put(
            "set",
            Map.of("kind", "service", "name", "Browsing", "values", List.of("tcp/443", "tcp/80"))),
        put(
            "set",
            Map.of("kind", "service", "name", "Pages", "values", List.of("tcp/80", "tcp/443"))));
    JsonNode sets = get("/api/workspace/sets");
    assertThat(sets.get("relations").toString())
        .contains("{\"kind\":\"service\",\"one\":\"Browsing\",\"other\":\"Pages\",\"same\":true}");
    assertThat(get("/api/workspace/sets/unused").toString())
        .contains("service:Browsing", "service:Pages");
    long revision = get(MAIN).get("revision").asLong();
    JsonNode rule = get(MAIN).at("/chapters/0/rules/0");
    post(
        MAIN + "/edits",
        Map.of(
            "revision",
            revision,
            "what",
            "both",
            "steps",
            List.of(
                Map.of(
                    "op",
                    "CHANGE_RULE",
                    "id",
                    rule.get("id").asText(),
                    "rule",
                    Map.of(
                        "fields",
                        Map.of(
                            "using.services",
                            Map.of(
                                "sense", "is", "values", List.of("set Browsing", "set Pages"))))))),
        200);
    post(
        "/api/rulebases/northquay-terminal/edits",
        Map.of(
            "revision",
            get("/api/rulebases/northquay-terminal").get("revision").asLong(),
            "what",
            "one of its own",
            "steps",
            List.of(
                Map.of(
                    "op",
                    "SAVE_SET",
                    "set",
                    Map.of("kind", "service", "name", "Pages", "values", List.of("tcp/8080"))),
                Map.of(
                    "op",
                    "SAVE_SET",
                    "set",
                    Map.of("kind", "service", "name", "More", "values", List.of("set Pages"))))),
        200);
    Map<String, Object> merge =
        Map.of("op", "MERGE_SETS", "id", "service:Pages", "into", "Browsing");
    assertThat(impact(merge).get("rulebases")).isEmpty();
    change(200, merge);
    assertThat(get(MAIN).at("/chapters/0/rules/0").toString())
        .contains("[\"set Browsing\"]")
        .doesNotContain("set Pages");
    // A set of a rulebase's own goes before a shared one, and so it stays what it is.
    assertThat(get("/api/rulebases/northquay-terminal").get("sets").toString())
        .contains("[\"set Pages\"]");
    assertThat(get("/api/workspace/sets").toString()).doesNotContain("Pages");
    post("/api/workspace/undo", Map.of("version", version()), 200);
    assertThat(get(MAIN).at("/chapters/0/rules/0").toString())
        .contains("\"set Browsing\",\"set Pages\"");
    assertThat(
            change(422, Map.of("op", "MERGE_SETS", "id", "service:Browsing", "into", "Nobody"))
                .toString())
        .contains("there is no shared set of this name");
  }

  @Test
  void takingANewNameBackIsForetoldInTheWordsOfBefore() throws Exception {
    change(200, Map.of("op", "RENAME", "kind", "zone", "id", "Partners", "name", "Suppliers"));
    JsonNode foretold = get(MAIN + "/impact/undo");
    assertThat(foretold.get("kinds")).isEmpty();
    assertThat(foretold.toString()).doesNotContain("there is no zone", "unknown name");
    post(MAIN + "/undo", Map.of("revision", get(MAIN).get("revision").asLong()), 200);
    assertThat(get(MAIN + "/impact/redo").get("kinds")).isEmpty();
  }
}
