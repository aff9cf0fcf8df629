package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.response.ValidatableResponse;
import jakarta.inject.Inject;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/**
 * Captures made into tapes, looked at by what they consist of, and recognised anew by signatures.
 */
@QuarkusTest
class TrafficApiTest {

  private static final String BASE = "/api/rulebases/main-gateway";
  private static final ObjectMapper JSON = new ObjectMapper();

  @Inject DemoData demo;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  private static JsonNode get(String path, Object... query) throws Exception {
    var request = given();
    for (int i = 0; i < query.length; i += 2) {
      request = request.queryParam((String) query[i], query[i + 1]);
    }
    return JSON.readTree(request.get(path).then().statusCode(200).extract().asString());
  }

  private static ValidatableResponse load(String name, byte[] file, String keysLength) {
    return load(name, file, keysLength, false);
  }

  private static ValidatableResponse load(
      String name, byte[] file, String keysLength, boolean keepsOpened) {
    return given()
        .contentType("application/octet-stream")
        .header("Sieve-Editor", "ada")
        .header("Sieve-Keys-Length", keysLength)
        .header("Sieve-Keep-Opened", keepsOpened)
        .body(file)
        .put(BASE + "/tapes/" + name)
        .then();
  }

  private static long times(JsonNode chart, String value) {
    return StreamSupport.stream(chart.get("bars").spliterator(), false)
        .filter(bar -> bar.get("value").asText().equals(value))
        .mapToLong(bar -> bar.at("/sum/times").asLong())
        .sum();
  }

  @Test
  void aCaptureBecomesATapeThatFallsThroughTheRules() throws Exception {
    byte[] capture = Captures.of(Captures.opened("dropnet.example", "PUT", "/upload/x"), 5);
    JsonNode hits = JSON.readTree(load("lunch", capture, "0").statusCode(200).extract().asString());
    JsonNode tape = hits.get("tapes").get(1);
    assertThat(tape.get("name").asText()).isEqualTo("lunch");
    assertThat(tape.get("times").asLong()).isEqualTo(5);
    assertThat(tape.at("/told/0").asText()).contains("5 connections");
    JsonNode answer =
        get(BASE + "/traffic", "by", "feature", "by", "recognised", "only", "tape:lunch");
    assertThat(answer.at("/total/times").asLong()).isEqualTo(5);
    assertThat(answer.at("/total/up").asLong()).isPositive();
    assertThat(times(answer.get("charts").get(0), "Dropnet/upload")).isEqualTo(5);
    assertThat(times(answer.get("charts").get(1), "recognised")).isEqualTo(5);
    // Nobody knows who it was, so where rules ask for people it depends.
    JsonNode line = get(BASE + "/traffic/connections", "only", "tape:lunch").at("/lines/0");
    assertThat(line.get("unsaid").toString()).contains("person", "device");
    assertThat(line.get("probe").asText()).contains("using tcp/443 Dropnet/upload over TLS");
    assertThat(hits.get("depending").asLong()).isEqualTo(5);
    String csv = given().get(BASE + "/tapes/lunch").then().statusCode(200).extract().asString();
    assertThat(csv).startsWith("times,connection,up,down,unsaid").contains("Dropnet/upload");
  }

  @Test
  void aKeyLogBeforeTheCaptureOpensIt() throws Exception {
    Captures.Sealed sealed = Captures.sealed("dropnet.example", "PUT", "/upload/x");
    load("shut", sealed.capture(), "0").statusCode(200);
    load("open", sealed.keysAndCapture(), String.valueOf(sealed.keysLength())).statusCode(200);
    JsonNode shut = get(BASE + "/traffic", "by", "feature", "only", "tape:shut");
    JsonNode open = get(BASE + "/traffic", "by", "feature", "only", "tape:open");
    assertThat(times(shut.at("/charts/0"), "Dropnet/upload")).isZero();
    assertThat(times(open.at("/charts/0"), "Dropnet/upload")).isEqualTo(1);
  }

  /** The paths, headers and hosts inside stay with whoever has the keys. */
  @Test
  void whatKeysOpenedIsKeptOnlyWhereSomebodyAsksForIt() throws Exception {
    Captures.Sealed sealed = Captures.sealed("app.seaweed.example", "GET", "/private/path-7");
    byte[] file = sealed.keysAndCapture();
    load("open", file, String.valueOf(sealed.keysLength())).statusCode(200);
    String samples = get(BASE + "/traffic/unrecognised").toString();
    assertThat(samples).contains("app.seaweed.example").doesNotContain("path-7");
    byte[] archive = given().get("/api/workspace/archive").then().extract().asByteArray();
    assertThat(Archives.text(archive)).contains("app.seaweed.example").doesNotContain("path-7");
    load("asked for", file, String.valueOf(sealed.keysLength()), true).statusCode(200);
    assertThat(get(BASE + "/traffic/unrecognised").toString()).contains("path-7");
  }

  @Test
  void whatNobodyRecognisedIsRecognisedOnceThereIsASignatureAndNotBefore() throws Exception {
    long before = get(BASE + "/traffic/unrecognised").at("/sum/times").asLong();
    byte[] capture = Captures.of(Captures.opened("app.seaweed.example", "GET", "/feed/1"), 7);
    load("odd", capture, "0", true).statusCode(200);
    JsonNode unknown = get(BASE + "/traffic/unrecognised");
    assertThat(unknown.at("/sum/times").asLong()).isEqualTo(before + 7);
    JsonNode sample =
        StreamSupport.stream(unknown.get("samples").spliterator(), false)
            .filter(one -> one.get("tape").asText().equals("odd"))
            .findFirst()
            .orElseThrow();
    assertThat(sample.get("host").asText()).isEqualTo("app.seaweed.example");
    JsonNode proposals =
        get(BASE + "/tapes/odd/samples/" + sample.get("number").asInt() + "/proposals");
    assertThat(proposals.toString()).contains("server name under seaweed.example");

    Map<String, Object> asked =
        Map.of(
            "application",
            "Seaweed",
            "features",
            List.of("feed"),
            "ridesOn",
            List.of("TLS"),
            "signatures",
            List.of("server name under seaweed.example", "feature feed: path starts /feed"));
    JsonNode tried = post(BASE + "/signatures/try", asked, 200);
    assertThat(tried.get("times").asLong()).isEqualTo(7);
    assertThat(tried.at("/taken/0/application").asText()).isEqualTo("TLS");
    assertThat(get(BASE + "/traffic/unrecognised").at("/sum/times").asLong()).isEqualTo(before + 7);

    long version = get("/api/workspace").get("version").asLong();
    Map<String, Object> doc = new java.util.HashMap<>(asked);
    doc.remove("application");
    doc.putAll(Map.of("name", "Seaweed", "category", "social", "usualPorts", List.of("tcp/443")));
    Map<String, Object> change =
        Map.of(
            "version",
            version,
            "what",
            "wrote a signature",
            "steps",
            List.of(Map.of("op", "PUT", "kind", "application", "doc", doc)));
    post("/api/workspace/changes", change, 200);
    assertThat(get(BASE + "/traffic/unrecognised").at("/sum/times").asLong()).isEqualTo(before);
    JsonNode answer = get(BASE + "/traffic", "by", "feature", "only", "tape:odd");
    assertThat(times(answer.at("/charts/0"), "Seaweed/feed")).isEqualTo(7);
    assertThat(get("/api/signatures", "find", "cdn.seaweed.example/feed").toString())
        .contains("\"application\":\"Seaweed\",\"feature\":\"feed\"");
  }

  @Test
  void aSignatureThatCannotBeReadIsRefusedWithItsColumn() throws Exception {
    long version = get("/api/workspace").get("version").asLong();
    Map<String, Object> doc =
        Map.of("name", "Bad", "category", "x", "signatures", List.of("server nam under a.example"));
    JsonNode refused =
        post(
            "/api/workspace/changes",
            Map.of(
                "version",
                version,
                "what",
                "w",
                "steps",
                List.of(Map.of("op", "PUT", "kind", "application", "doc", doc))),
            422);
    assertThat(refused.toString()).contains("signature 1, column 1", "server name");
  }

  @Test
  void whatIsNoCaptureIsRefusedAndNothingChanges() throws Exception {
    load("bad", "no capture".getBytes(), "0").statusCode(422);
    byte[] cut = Captures.of(Captures.opened("dropnet.example", "GET", "/"), 1);
    cut[300] = (byte) 0xFF;
    cut[301] = (byte) 0xFF;
    int status = load("bad", java.util.Arrays.copyOf(cut, 40), "0").extract().statusCode();
    assertThat(status).isEqualTo(422);
    assertThat(get(BASE + "/hits").get("tapes")).hasSize(1);
  }

  @Test
  void aTableOfForeignColumnsIsATapeByItsMapping() throws Exception {
    String table =
        "Start;Source IP;Where;dport;Proto;User;App;Sent\n"
            + "2026-11-03 09:30:00;10.20.12.40;203.0.113.44;443;TCP;HARBOUR\\ines.halloran;Dropnet;100\n"
            + "2026-11-03 09:31:00;10.20.12.40;203.0.113.44;443;TCP;stranger;;200\n"
            + "yesterday;10.20.12.40;203.0.113.44;443;TCP;;;1\n";
    JsonNode look =
        JSON.readTree(
            given()
                .contentType("application/octet-stream")
                .body(table.getBytes())
                .post(BASE + "/tapes/look")
                .then()
                .statusCode(200)
                .extract()
                .asString());
    assertThat(look.at("/guessed/from").asText()).isEqualTo("Source IP");
    assertThat(look.get("guessed").has("to")).isFalse();
    assertThat(look.at("/lines/0/User").asText()).isEqualTo("HARBOUR\\ines.halloran");
    String refused = load("table", table.getBytes(), "0").statusCode(422).extract().asString();
    assertThat(refused).contains("no column says to", "Where");
    java.util.Map<String, String> mapping = new java.util.HashMap<>();
    look.get("guessed")
        .properties()
        .forEach(one -> mapping.put(one.getKey(), one.getValue().asText()));
    mapping.put("to", "Where");
    JsonNode hits =
        JSON.readTree(
            given()
                .contentType("application/octet-stream")
                .header(
                    "Sieve-Mapping",
                    java.net.URLEncoder.encode(
                        JSON.writeValueAsString(mapping), java.nio.charset.StandardCharsets.UTF_8))
                .body(table.getBytes())
                .put(BASE + "/tapes/table")
                .then()
                .statusCode(200)
                .extract()
                .asString());
    JsonNode tape = hits.get("tapes").get(1);
    assertThat(tape.get("times").asLong()).isEqualTo(2);
    assertThat(tape.get("told").toString())
        .contains("1 lines cannot be read", "yesterday", "person stranger");
    JsonNode lines = get(BASE + "/traffic/connections", "only", "tape:table").get("lines");
    assertThat(lines.toString()).contains("as ines.halloran", "Dropnet over TLS");
    JsonNode unsaid =
        get(BASE + "/traffic/connections", "only", "tape:table", "only", "person:not said");
    assertThat(unsaid.at("/lines/0/unsaid").toString()).contains("person", "application", "host");
  }

  private static final String LIVE =
      "<134>1 %sT09:30:00Z gate sieve - - [connection@32473 from=\"10.20.12.40\""
          + " to=\"203.0.113.44\" service=\"tcp/443\" person=\"ines.halloran\" application=\"Dropnet\"]";

  /** Switches a listener on, sends messages, and switches it off once all have come in. */
  private static void hear(String transport, String tape, List<String> messages) throws Exception {
    JsonNode listening =
        JSON.readTree(
            given()
                .contentType("application/json")
                .body(Map.of("kind", "syslog", "transport", transport, "port", 0))
                .put(BASE + "/listeners/" + tape)
                .then()
                .statusCode(200)
                .extract()
                .asString());
    for (String message : messages) {
      send(transport, listening.get("port").asInt(), message);
    }
    // What came in is counted as it comes, and what cannot be read once somebody has tried.
    long odd = messages.stream().filter(message -> !message.startsWith("<")).count();
    JsonNode state =
        await()
            .until(
                () -> listener(tape),
                now ->
                    now.get("received").asLong() >= messages.size()
                        && now.get("refused").asLong() >= odd);
    assertThat(state.get("received").asLong()).isEqualTo(messages.size());
    assertThat(state.get("refused").asLong()).isEqualTo(odd);
    given().delete(BASE + "/listeners/" + tape).then().statusCode(200);
  }

  /** What listens for a tape; others may listen beside it. */
  private static JsonNode listener(String tape) throws Exception {
    return StreamSupport.stream(get(BASE + "/listeners").spliterator(), false)
        .filter(one -> one.get("tape").asText().equals(tape))
        .findFirst()
        .orElseThrow();
  }

  /** Twenty bytes as an exporter begins them, of a version that is not read. */
  private static byte[] netFlow(int version) {
    return new byte[] {0, (byte) version, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1};
  }

  @Test
  void flowRecordsOfAnotherKindAreRefusedInWordsAsAFileAndLive() throws Exception {
    assertThat(load("old flows", netFlow(9), "0").statusCode(422).extract().asString())
        .contains("NetFlow version 9", "only IPFIX");
    assertThat(load("older", netFlow(5), "0").statusCode(422).extract().asString())
        .contains("NetFlow version 5");
    for (String transport : List.of("udp", "tcp")) {
      JsonNode listening =
          JSON.readTree(
              given()
                  .contentType("application/json")
                  .body(Map.of("kind", "ipfix", "transport", transport, "port", 0))
                  .put(BASE + "/listeners/old " + transport)
                  .then()
                  .statusCode(200)
                  .extract()
                  .asString());
      send(transport, listening.get("port").asInt(), netFlow(5));
      JsonNode state =
          await()
              .until(
                  () -> listener("old " + transport),
                  now -> !now.get("trouble").asText().isEmpty());
      assertThat(state.get("trouble").asText())
          .startsWith("NetFlow version 5 comes in, and only IPFIX");
      assertThat(state.get("refused").asLong()).isEqualTo(1);
      given().delete(BASE + "/listeners/old " + transport).then().statusCode(200);
    }
  }

  @Test
  void liveTrafficComesInOverUdpAndTcpOnceSomebodySwitchesItOn() throws Exception {
    for (String transport : List.of("udp", "tcp")) {
      String tape = "live " + transport;
      hear(transport, tape, List.of(String.format(LIVE, "2026-11-03"), "no message"));
      JsonNode lines = get(BASE + "/traffic/connections", "only", "tape:" + tape).get("lines");
      assertThat(lines).hasSize(1);
      assertThat(lines.at("/0/probe").asText()).contains("as ines.halloran", "Dropnet");
    }
    given().delete(BASE + "/listeners/live udp").then().statusCode(404);
  }

  /** A zone that gets another name while somebody listens does not come back under its old one. */
  @Test
  void whatIsRenamedMeanwhileIsHeardUnderItsNewName() throws Exception {
    int port =
        JSON.readTree(
                given()
                    .contentType("application/json")
                    .body(Map.of("kind", "syslog", "transport", "tcp", "port", 0))
                    .put(BASE + "/listeners/live")
                    .then()
                    .statusCode(200)
                    .extract()
                    .asString())
            .get("port")
            .asInt();
    send("tcp", port, String.format(LIVE, "2026-11-03"));
    await()
        .until(
            () -> get(BASE + "/hits").get("tapes"), tapes -> tapes.toString().contains("\"live\""));
    given()
        .contentType("application/json")
        .body(
            Map.of(
                "version", get("/api/workspace").get("version").asLong(),
                "what", "renamed",
                "steps",
                    List.of(
                        Map.of("op", "RENAME", "kind", "zone", "id", "Offices", "name", "Rooms"))))
        .post("/api/workspace/changes")
        .then()
        .statusCode(200);
    send("tcp", port, String.format(LIVE, "2026-11-20"));
    await().until(() -> listener("live"), now -> now.get("received").asLong() == 2);
    given().delete(BASE + "/listeners/live").then().statusCode(200);
    JsonNode lines = get(BASE + "/traffic/connections", "only", "tape:live").get("lines");
    assertThat(days("live")).containsExactlyInAnyOrder("2026-11-03", "2026-11-20");
    assertThat(lines.toString()).contains("Rooms").doesNotContain("Offices");
    assertThat(get(BASE + "/hits").get("tapes").toString()).doesNotContain("cannot be read");
  }

  @Test
  void whoListensForATapeAgainAddsToItAndKeepsWhatIsKept() throws Exception {
    hear("tcp", "live", List.of(String.format(LIVE, "2026-11-03")));
    hear("tcp", "live", List.of(String.format(LIVE, "2026-11-20")));
    assertThat(days("live")).containsExactlyInAnyOrder("2026-11-03", "2026-11-20");
    // It is 2026-11-24; of ten days the 15th is the first.
    given()
        .contentType("application/json")
        .body(Map.of("days", 10))
        .put(BASE + "/tapes/live/keep")
        .then()
        .statusCode(200);
    assertThat(days("live")).containsExactly("2026-11-20");
    hear(
        "tcp",
        "live",
        List.of(String.format(LIVE, "2026-11-04"), String.format(LIVE, "2026-11-21")));
    assertThat(days("live")).containsExactlyInAnyOrder("2026-11-20", "2026-11-21");
  }

  private static List<String> days(String tape) throws Exception {
    List<String> days = new java.util.ArrayList<>();
    for (JsonNode line : get(BASE + "/traffic/connections", "only", "tape:" + tape).get("lines")) {
      days.add(line.get("probe").asText().replaceAll(".*(\\d{4}-\\d\\d-\\d\\d).*", "$1"));
    }
    return days;
  }

  private static void send(String transport, int port, String message) throws Exception {
    byte[] bytes = message.getBytes(java.nio.charset.StandardCharsets.UTF_8);
    byte[] framed =
        (bytes.length + " " + message).getBytes(java.nio.charset.StandardCharsets.UTF_8);
    send(transport, port, transport.equals("udp") ? bytes : framed);
  }

  private static void send(String transport, int port, byte[] bytes) throws Exception {
    java.net.InetAddress here = java.net.InetAddress.getLoopbackAddress();
    if (transport.equals("udp")) {
      try (java.net.DatagramSocket socket = new java.net.DatagramSocket()) {
        socket.send(new java.net.DatagramPacket(bytes, bytes.length, here, port));
      }
      return;
    }
    try (java.net.Socket socket = new java.net.Socket(here, port)) {
      socket.getOutputStream().write(bytes);
      socket.getOutputStream().flush();
    }
  }

  @Test
  void aWatchIsAboveWhereAStepHasMoreThanItsThreshold() throws Exception {
    JsonNode all = get(BASE + "/traffic", "only", "application:DNS");
    long most = 0;
    for (JsonNode step : all.get("steps")) {
      most = Math.max(most, step.at("/sum/times").asLong());
    }
    for (long threshold : new long[] {most - 1, most}) {
      given()
          .contentType("application/json")
          .body(
              Map.of(
                  "only",
                  List.of("application:DNS"),
                  "measure",
                  "connections",
                  "threshold",
                  threshold))
          .put(BASE + "/watches/names")
          .then()
          .statusCode(200);
      JsonNode watch = get(BASE + "/watches").get(0);
      assertThat(watch.get("largest").asLong()).isEqualTo(most);
      assertThat(watch.get("above").asBoolean()).isEqualTo(threshold < most);
    }
    given().delete(BASE + "/watches/names").then().statusCode(200);
    given().delete(BASE + "/watches/names").then().statusCode(404);
  }

  @Test
  void anImpactSaysHowManyRecordedConnectionsGetAnotherVerdictAndWhose() throws Exception {
    JsonNode caught = get(BASE + "/hits/rules/la-all");
    long before = get(BASE + "/hits").at("/rules/la-all/times").asLong();
    assertThat(caught.get("lines")).isNotEmpty();
    Map<String, Object> deny =
        Map.of("op", "CHANGE_RULE", "id", "la-all", "rule", Map.of("verdict", "deny"));
    JsonNode was = get(BASE + "");
    String verdict = rule(was, "la-all").get("verdict").asText();
    Map<String, Object> other =
        Map.of(
            "op",
            "CHANGE_RULE",
            "id",
            "la-all",
            "rule",
            Map.of("verdict", verdict.equals("deny") ? "allow" : "deny"));
    JsonNode impact = post(BASE + "/impact", Map.of("steps", List.of(other)), 200);
    assertThat(impact.at("/recorded/times").asLong()).isEqualTo(before);
    JsonNode none =
        post(
            BASE + "/impact", Map.of("steps", List.of(verdict.equals("deny") ? deny : other)), 200);
    assertThat(none.at("/recorded/times").asLong()).isEqualTo(verdict.equals("deny") ? 0 : before);
  }

  private static JsonNode rule(JsonNode rulebase, String id) {
    List<JsonNode> all = new ArrayList<>();
    rulebase.get("chapters").forEach(chapter -> chapter.get("rules").forEach(all::add));
    return all.stream()
        .filter(rule -> rule.get("id").asText().equals(id))
        .findFirst()
        .orElseThrow();
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
}
