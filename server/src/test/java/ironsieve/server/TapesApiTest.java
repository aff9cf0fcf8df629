package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.junit.QuarkusTest;
import ironsieve.server.store.Sql;
import ironsieve.server.store.TapeStore;
import ironsieve.server.tapes.Retention;
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
  @Inject javax.sql.DataSource source;
  @Inject TapeStore tapes;
  @Inject Retention retention;
  @Inject Sql sql;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  private static JsonNode get(String path) throws Exception {
    return JSON.readTree(given().get(BASE + path).then().statusCode(200).extract().asString());
  }

  private static JsonNode load(String name, String csv, int status) throws Exception {
    return load(name, csv, "beside", status);
  }

  private static JsonNode load(String name, String csv, String existing, int status)
      throws Exception {
    return JSON.readTree(
        given()
            .contentType("text/csv")
            .header("Sieve-Editor", "ada")
            .header("Sieve-Existing", existing)
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

  /** Whoever loads a file of the same name has not asked for the loss of what was there. */
  @Test
  void aTapeOfANameThatIsThereStandsBesideItUnlessItIsToBeReplacedAndThenItCanBeBroughtBack()
      throws Exception {
    String demo = get("/hits").at("/tapes/0/name").asText();
    long times = get("/hits").at("/tapes/0/times").asLong();
    String csv = given().get(BASE + "/tapes/" + demo).asString();
    String two = csv.lines().limit(2).collect(java.util.stream.Collectors.joining("\n")) + "\n";
    JsonNode beside = load(demo, two, 200);
    assertThat(beside.get("tapes")).hasSize(2);
    assertThat(beside.toString()).contains(demo + " 2");
    assertThat(of(beside, demo).get("times").asLong()).isEqualTo(times);

    JsonNode replaced = load(demo, two, "replace", 200);
    assertThat(of(replaced, demo).get("times").asLong()).isLessThan(times);
    JsonNode gone = get("/tapes-gone");
    assertThat(gone).hasSize(1);
    JsonNode back =
        JSON.readTree(
            given()
                .contentType("application/json")
                .post(BASE + "/tapes-gone/" + gone.get(0).get("number").asInt())
                .then()
                .statusCode(200)
                .extract()
                .asString());
    assertThat(of(back, demo + " 3").get("times").asLong()).isEqualTo(times);
    assertThat(given().get(BASE + "/tapes/" + demo + " 3").asString()).isEqualTo(csv);
    assertThat(get("/tapes-gone")).isEmpty();
    given().contentType("application/json").post(BASE + "/tapes-gone/1").then().statusCode(404);
  }

  private static JsonNode of(JsonNode hits, String tape) {
    for (JsonNode one : hits.get("tapes")) {
      if (one.get("name").asText().equals(tape)) {
        return one;
      }
    }
    throw new AssertionError("there is no tape " + tape + " among " + hits.get("tapes"));
  }

  /** Minutes that no number holds once made every later question fail, after a restart too. */
  @Test
  void aTimeFarOffIsRefusedAndNothingOfItStays() throws Exception {
    String seen = "from Offices as ines.halloran to Internet using tcp/443 at 9999-12-31 23:59";
    JsonNode refused = load("far", "times,connection\n3,\"" + seen + "\"\n", 422);
    assertThat(refused.get("detail").asText()).contains("between 1970 and 2999");
    String table = "time,src,dst,proto,dport\n9999-12-31T23:59:00Z,10.20.0.7,203.0.113.9,tcp,443\n";
    assertThat(load("far", table, 422).get("detail").asText()).contains("between 1970 and 2999");
    assertThat(get("/hits").get("tapes")).hasSize(1);
    // The farthest times there can be are counted like any others.
    String ends =
        "time,src,dst,proto,dport\n1970-01-01T00:00:00,10.20.0.7,203.0.113.9,tcp,443\n"
            + "2999-12-31T23:59:00,10.20.0.7,203.0.113.9,tcp,443\n";
    JsonNode hits = load("ends", ends, 200);
    assertThat(of(hits, "ends").get("to").asText()).startsWith("2999-12-31T23:59");
    for (String path : List.of("/hits", "/review", "/traffic?tape=ends")) {
      given().get(BASE + path).then().statusCode(org.hamcrest.Matchers.lessThan(500));
    }
  }

  @Test
  void aListOfSignInsBeforeTheTrafficSaysWhoWasThere() throws Exception {
    String people =
        "time,ip,user,event\n2026-11-02 08:00:00,10.20.12.10,NORTH\\ines.halloran,logon\n"
            + "2026-11-02 12:00:00,10.20.12.10,,logoff\n";
    String traffic =
        "time,src,dst,proto,dport\n2026-11-02 09:00:00,10.20.12.10,203.0.113.12,tcp,443\n"
            + "2026-11-02 13:00:00,10.20.12.10,203.0.113.12,tcp,443\n";
    JsonNode hits =
        JSON.readTree(
            given()
                .contentType("application/octet-stream")
                .header("Sieve-Editor", "ada")
                .header("Sieve-Sign-Ins-Length", people.length())
                .header("Sieve-Sign-Ins-Hours", 6)
                .body((people + traffic).getBytes(java.nio.charset.StandardCharsets.UTF_8))
                .put(BASE + "/tapes/who")
                .then()
                .statusCode(200)
                .extract()
                .asString());
    assertThat(hits.toString()).contains("2 sign-ins say who was there for 1 connections");
    String csv = given().get(BASE + "/tapes/who").asString();
    assertThat(csv.lines().filter(line -> line.contains("as ines.halloran"))).hasSize(1);
    assertThat(csv.lines().filter(line -> line.contains("at mon 2026-11-02 13:00")))
        .singleElement()
        .satisfies(line -> assertThat(line).doesNotContain("halloran").contains("person"));
    // Hours that nobody can be there for, and lengths beyond the body, are refused in words.
    given()
        .contentType("application/octet-stream")
        .header("Sieve-Sign-Ins-Length", 5)
        .header("Sieve-Sign-Ins-Hours", 0)
        .body("hello".getBytes(java.nio.charset.StandardCharsets.UTF_8))
        .put(BASE + "/tapes/who")
        .then()
        .statusCode(422)
        .body("detail", org.hamcrest.Matchers.containsString("1 to 744 hours"));
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

  private static final String LOG =
      "Start,Source,Login,Destination,Protocol,Port,Application,Connections\n"
          + "2026-11-02T09:30:10,10.20.12.40,CORP\\ines.halloran,203.0.113.9,tcp,443,Chatterbay,3\n"
          + "2026-11-02T09:30:50,10.20.12.40,CORP\\ines.halloran,203.0.113.9,tcp,443,Chatterbay,4\n"
          + "2026-11-05T10:00:00,10.30.4.7,unidentified,203.0.113.9,tcp,443,Chatterbay,2\n"
          + "2026-11-09T10:00:00,10.20.12.41,,203.0.113.9,udp,53,DNS,5\n";

  private long parts() throws Exception {
    try (var connection = source.getConnection();
        var rows = connection.createStatement().executeQuery("select count(*) from tape_part")) {
      rows.next();
      return rows.getLong(1);
    }
  }

  private static JsonNode tape(JsonNode hits, String name) {
    for (JsonNode tape : hits.get("tapes")) {
      if (tape.get("name").asText().equals(name)) {
        return tape;
      }
    }
    throw new AssertionError("no tape " + name + " among " + hits.get("tapes"));
  }

  @Test
  void aLogLoadedAgainSaysWhatIsNewAndWhatIsLeftOfTheOldOneIsNothing() throws Exception {
    long none = parts();
    JsonNode first = tape(load("log", LOG, 200), "log");
    // Two of the lines are one conversation in one minute.
    assertThat(first.get("lines").asLong()).isEqualTo(3);
    assertThat(first.get("times").asLong()).isEqualTo(14);
    assertThat(first.get("told").toString()).doesNotContain("loaded before");
    long once = parts();
    assertThat(once).isGreaterThan(none);

    String changed = LOG.replace("10.30.4.7", "10.30.4.8");
    JsonNode again = tape(load("log", changed, "replace", 200), "log");
    assertThat(again.get("told").toString())
        .contains("1 lines are new since the tape was loaded before, 1 that were there are not");
    // What was replaced can be brought back, and has its parts until then.
    assertThat(parts()).isEqualTo(none + 2 * (once - none));
    letGo();
    assertThat(parts()).isEqualTo(once);

    // What cannot be read as a whole leaves everything as it was.
    load("log", "a,b\n1,2\n", 422);
    assertThat(parts()).isEqualTo(once);
    assertThat(tape(get("/hits"), "log").get("told")).isEqualTo(again.get("told"));
    given().delete(BASE + "/tapes/log").then().statusCode(200);
    letGo();
    assertThat(parts()).isEqualTo(none);
  }

  /** As after thirty days. */
  private void letGo() throws Exception {
    try (var connection = source.getConnection()) {
      connection.createStatement().execute("update tape_gone set gone = gone - interval '31 days'");
    }
    tapes.forgetGone();
  }

  @Test
  void whatIsOlderThanADayIsShownAndTakenOff() throws Exception {
    load("log", LOG, 200);
    JsonNode older = get("/tapes/log/older?before=2026-11-06");
    assertThat(older.get("lines").asLong()).isEqualTo(2);
    assertThat(older.get("times").asLong()).isEqualTo(9);
    assertThat(tape(get("/hits"), "log").get("times").asLong()).isEqualTo(14);

    given().delete(BASE + "/tapes/log/older?before=2026-11-06").then().statusCode(200);
    JsonNode left = tape(get("/hits"), "log");
    assertThat(left.get("times").asLong()).isEqualTo(5);
    assertThat(left.get("from").asText()).startsWith("2026-11-09");
    assertThat(given().get(BASE + "/tapes/log").asString())
        .contains("2026-11-09")
        .doesNotContain("2026-11-05");
    given().delete(BASE + "/tapes/log/older?before=2026-12-01").then().statusCode(422);
    given().delete(BASE + "/tapes/log/older?before=yesterday").then().statusCode(422);
    given().get(BASE + "/tapes/nolog/older?before=2026-11-06").then().statusCode(404);
    // The demo's tape came as text out of an archive; it can be cut as well.
    long before = tape(get("/hits"), "autumn weeks").get("times").asLong();
    long cut = get("/tapes/autumn weeks/older?before=2026-11-02").get("times").asLong();
    given().delete(BASE + "/tapes/autumn weeks/older?before=2026-11-02").then().statusCode(200);
    assertThat(tape(get("/hits"), "autumn weeks").get("times").asLong())
        .isEqualTo(before - cut)
        .isLessThan(before);
  }

  private static JsonNode keep(String name, Integer days, int status) throws Exception {
    Map<String, Object> body = new java.util.HashMap<>();
    body.put("days", days);
    return JSON.readTree(
        given()
            .contentType("application/json")
            .body(body)
            .put(BASE + "/tapes/" + name + "/keep")
            .then()
            .statusCode(status)
            .extract()
            .asString());
  }

  @Test
  void onlySomeDaysOfATapeAreKeptOnceThatIsSaid() throws Exception {
    // It is 2026-11-24; the log says something of the 3rd, the 5th and the 9th.
    load("log", LOG, 200);
    JsonNode older = get("/tapes/log/older?days=16");
    assertThat(older.get("before").asText()).isEqualTo("2026-11-09");
    assertThat(older.get("times").asLong()).isEqualTo(9);
    assertThat(older.get("isAll").asBoolean()).isFalse();
    for (int wrong : List.of(0, -1, 4_000)) {
      assertThat(keep("log", wrong, 422).toString()).contains("days are kept");
    }
    keep("nolog", 16, 404);
    assertThat(tape(get("/hits"), "log").get("times").asLong()).isEqualTo(14);

    JsonNode kept = tape(keep("log", 16, 200), "log");
    assertThat(kept.get("times").asLong()).isEqualTo(5);
    assertThat(kept.get("keepDays").asInt()).isEqualTo(16);
    // It stays so when the tape is loaded again, and other tapes are as they were.
    load("log", LOG, "replace", 200);
    retention.look();
    assertThat(tape(get("/hits"), "log").get("times").asLong()).isEqualTo(5);
    assertThat(tape(get("/hits"), "autumn weeks").hasNonNull("keepDays")).isFalse();

    assertThat(tape(keep("log", null, 200), "log").hasNonNull("keepDays")).isFalse();
    load("log", LOG, "replace", 200);
    retention.look();
    assertThat(tape(get("/hits"), "log").get("times").asLong()).isEqualTo(14);

    // Of a tape that is too old as a whole nothing stays, which is said before.
    assertThat(get("/tapes/log/older?days=3").get("isAll").asBoolean()).isTrue();
    assertThat(keep("log", 3, 200).get("tapes").toString()).doesNotContain("\"log\"");
  }

  @Test
  void recordedTrafficFollowsANewNameAndComesBackWithIt() throws Exception {
    load("log", LOG, 200);
    String csv = given().get(BASE + "/tapes/log").asString();
    assertThat(csv).contains("from Offices 10.20.12.40 as ines.halloran");
    long impossible = get("/hits").get("impossible").asLong();
    JsonNode workspace = JSON.readTree(given().get("/api/workspace").asString());
    Map<String, Object> change =
        Map.of(
            "version",
            workspace.get("version").asLong(),
            "what",
            "renamed",
            "steps",
            List.of(
                Map.of("op", "RENAME", "kind", "zone", "id", "Offices", "name", "Bureaus"),
                Map.of(
                    "op",
                    "RENAME",
                    "kind",
                    "person",
                    "id",
                    "ines.halloran",
                    "name",
                    "i.halloran")));
    given()
        .contentType("application/json")
        .header("Sieve-Editor", "ada")
        .body(change)
        .post("/api/workspace/changes")
        .then()
        .statusCode(200);
    assertThat(given().get(BASE + "/tapes/log").asString())
        .isEqualTo(csv.replace("Offices", "Bureaus").replace("ines.halloran", "i.halloran"));
    assertThat(get("/hits").get("impossible").asLong()).isEqualTo(impossible);
  }

  @Test
  void whoeverChangesATapeThatWasReplacedMeanwhileIsRefused() throws Exception {
    load("log", LOG, 200);
    TapeStore.Kept seen = tapes.one("main-gateway", "log").orElseThrow();
    load("log", LOG.replace("10.30.4.7", "10.30.4.8"), "replace", 200);
    long parts = parts();
    assertThatThrownBy(
            () ->
                sql.inTransaction(
                    tx -> {
                      tapes.change(tx, "main-gateway", seen, seen);
                      return seen;
                    }))
        .hasMessageContaining("somebody has replaced it meanwhile");
    assertThat(parts()).isEqualTo(parts);
    assertThat(given().get(BASE + "/tapes/log").asString()).contains("10.30.4.8");
  }
}
