package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.common.http.TestHTTPResource;
import io.quarkus.test.junit.QuarkusTest;
import jakarta.inject.Inject;
import java.net.Socket;
import java.net.SocketException;
import java.net.URI;
import java.nio.file.Path;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A release goes to a gateway of its own process, and real clients are let through or refused. */
@QuarkusTest
class GatewayTest {

  private static final ObjectMapper JSON = new ObjectMapper();
  private static final String BASE = "/api/rulebases/main-gateway";
  private static final String PROBE =
      "from Offices 10.20.0.40 as ines.halloran to Internet page.example using tcp/80 HTTP";

  @Inject DemoData demo;

  @TestHTTPResource("/")
  URI address;

  @TempDir Path state;

  private GatewayProcess gateway;

  @BeforeEach
  void begin() throws Exception {
    demo.restore();
    gateway = new GatewayProcess(address, state);
  }

  @AfterEach
  void end() throws Exception {
    gateway.close();
    // What hears of it would go on beside the next test.
    given().delete("/api/gateways/quay");
  }

  private static JsonNode get(String path) throws Exception {
    return JSON.readTree(given().get(path).then().statusCode(200).extract().asString());
  }

  private static JsonNode send(String method, String path, Object body) throws Exception {
    return JSON.readTree(
        given()
            .contentType("application/json")
            .body(body)
            .request(method, path)
            .then()
            .statusCode(200)
            .extract()
            .asString());
  }

  private static JsonNode release(String title) throws Exception {
    long revision = get(BASE).get("revision").asLong();
    JsonNode preview = get(BASE + "/releases/preview");
    Map<String, String> reasons = new HashMap<>();
    preview.get("stops").forEach(stop -> reasons.put(stop.get("id").asText(), "it was so before"));
    return send(
        "POST",
        BASE + "/releases",
        Map.of(
            "revision",
            revision,
            "after",
            preview.get("after").asInt(),
            "title",
            title,
            "reasons",
            reasons));
  }

  /** Puts a rule above all others that stops everybody's way to a host. */
  private static void block(String host) throws Exception {
    Map<String, Object> rule =
        Map.of(
            "name",
            "No page",
            "verdict",
            "reject",
            "fields",
            Map.of("to.sites", Map.of("sense", "is", "values", List.of(host))));
    send(
        "POST",
        BASE + "/edits",
        Map.of(
            "revision",
            get(BASE).get("revision").asLong(),
            "what",
            "no page",
            "steps",
            List.of(
                Map.of(
                    "op",
                    "ADD_RULE",
                    "place",
                    Map.of("before", get(BASE).at("/chapters/0/rules/0/id").asText()),
                    "rule",
                    rule))));
  }

  private static void awaitInForce(int release) {
    await()
        .atMost(Duration.ofMinutes(1))
        .until(
            () -> get("/api/gateways").get(0),
            one ->
                one.path("inForce").asInt() == release
                    && one.get("state").asText().equals("in force"));
  }

  private static String onPaper() throws Exception {
    return send("POST", BASE + "/probe", Map.of("text", PROBE)).get("verdict").asText();
  }

  @Test
  void aRuleThatIsReleasedRefusesARealClientAndLetsItThroughOnceItIsTakenBack() throws Exception {
    assertThat(onPaper()).isEqualTo("allow");
    String code =
        send("PUT", "/api/gateways/quay", Map.of("rulebase", "main-gateway")).get("code").asText();
    assertThat(get("/api/gateways").toString()).contains("not enrolled").doesNotContain(code);
    assertThat(release("As it was").get("number").asInt()).isEqualTo(1);
    gateway.start("--code", code);
    awaitInForce(1);
    assertThat(gateway.curl()).isEqualTo("0 the page");

    block("page.example");
    assertThat(onPaper()).isEqualTo("reject");
    // What was drafted is not in force before it is released.
    assertThat(gateway.curl()).isEqualTo("0 the page");
    assertThat(release("No page").get("number").asInt()).isEqualTo(2);
    awaitInForce(2);
    assertThat(gateway.curl()).startsWith("56 ");

    JsonNode lines =
        await()
            .atMost(Duration.ofMinutes(1))
            .until(
                () ->
                    JSON.readTree(
                            given()
                                .queryParam("only", "tape:gateway quay")
                                .get(BASE + "/traffic/connections")
                                .asString())
                        .path("lines"),
                some -> some.size() > 0 && some.toString().contains("page.example"));
    JsonNode top = get(BASE).at("/chapters/0/rules/0");
    assertThat(top.get("name").asText()).isEqualTo("No page");
    assertThat(lines.at("/0/rules/0").asText()).isEqualTo(top.get("id").asText());
    assertThat(lines.at("/0/probe").asText())
        .contains("from Offices 10.20.0.40 as ines.halloran", "page.example using tcp/80 HTTP");

    given()
        .contentType("application/json")
        .post(BASE + "/releases/1/deliver")
        .then()
        .statusCode(200);
    awaitInForce(1);
    assertThat(gateway.curl()).isEqualTo("0 the page");

    // It goes on by itself where nobody tells it anything, and the code is used up.
    gateway.kill();
    given()
        .contentType("application/json")
        .body(Map.of("code", code))
        .post("/api/gateway-protocol/enrol")
        .then()
        .statusCode(401);
    gateway.start();
    assertThat(gateway.curl()).isEqualTo("0 the page");
    assertThat(get(BASE + "/releases").findValuesAsText("title"))
        .containsExactly("No page", "As it was");
  }

  /**
   * Each zone of the release has its port, which is the same after a restart; people say who they
   * are.
   */
  @Test
  void everyZoneHasAPortAndItsClientsSayWhoTheyAre() throws Exception {
    String code =
        send("PUT", "/api/gateways/quay", Map.of("rulebase", "main-gateway")).get("code").asText();
    release("As it was");
    int first = Ports.free();
    gateway.start("--code", code, "--ports", String.valueOf(first));
    awaitInForce(1);
    JsonNode ports =
        await()
            .atMost(Duration.ofMinutes(1))
            .until(() -> get("/api/gateways").at("/0/ports"), some -> some.size() > 0);
    List<String> zones = ports.findValuesAsText("zone");
    assertThat(zones).contains("Offices", "Guest wifi", "Internet").doesNotContain("Gateway");
    String offices = ports.get(zones.indexOf("Offices")).get("port").asText();
    assertThat(gateway.curl("ines.halloran:any@127.0.0.1:" + offices)).isEqualTo("0 the page");
    String guests = ports.get(zones.indexOf("Guest wifi")).get("port").asText();
    String probe =
        JSON.readTree(
                given()
                    .contentType("application/json")
                    .body(
                        Map.of(
                            "text", "from Guest wifi to Internet page.example using tcp/80 HTTP"))
                    .post(BASE + "/probe")
                    .asString())
            .get("verdict")
            .asText();
    assertThat(gateway.curl("127.0.0.1:" + guests).startsWith("0 "))
        .isEqualTo(probe.equals("allow"));

    gateway.kill();
    gateway.start("--ports", String.valueOf(first));
    assertThat(gateway.curl("ines.halloran:any@127.0.0.1:" + offices)).isEqualTo("0 the page");
  }

  private static JsonNode tried(String zone, String person, String to) throws Exception {
    return send(
        "POST", "/api/gateways/quay/tries", Map.of("zone", zone, "person", person, "address", to));
  }

  /** What the desk opens goes through the gateway, which says what it made of it. */
  @Test
  void theDeskOpensRealConnectionsAndTheGatewaySaysWhichRuleCaughtThem() throws Exception {
    String code =
        send("PUT", "/api/gateways/quay", Map.of("rulebase", "main-gateway")).get("code").asText();
    release("As it was");
    gateway.start("--code", code, "--ports", String.valueOf(Ports.free()));
    awaitInForce(1);
    await()
        .atMost(Duration.ofMinutes(1))
        .until(() -> get("/api/gateways").at("/0/ports"), some -> some.size() > 0);

    JsonNode page = tried("Offices", "ines.halloran", "http://page.example/");
    assertThat(page.get("end").asText()).isEqualTo("answer");
    assertThat(page.get("status").asInt()).isEqualTo(200);
    assertThat(page.get("body").asText()).isEqualTo(GatewayProcess.PAGE);
    JsonNode decided = page.get("decided");
    assertThat(decided.get("verdict").asText()).isEqualTo("allow");
    assertThat(decided.get("release").asInt()).isEqualTo(1);
    JsonNode paper = send("POST", BASE + "/probe", Map.of("text", decided.get("probe").asText()));
    assertThat(decided.get("probe").asText()).contains("as ines.halloran", "page.example");
    assertThat(decided.get("rule").asText()).isEqualTo(paper.get("caughtBy").asText());

    assertThat(tried("Offices", "nobody.known", "http://page.example/").get("end").asText())
        .isEqualTo("no entry");
    block("page.example");
    release("No page");
    awaitInForce(2);
    JsonNode refused = tried("Offices", "ines.halloran", "http://page.example/");
    String top = get(BASE).at("/chapters/0/rules/0/id").asText();
    assertThat(refused.get("end").asText()).isEqualTo("cut");
    assertThat(refused.at("/decided/verdict").asText()).isEqualTo("reject");
    assertThat(refused.at("/decided/rule").asText()).isEqualTo(top);
    assertThat(refused.at("/decided/release").asInt()).isEqualTo(2);
    // Who asks for nothing yet is let in, for what it asks for may be another host's page.
    JsonNode bare = tried("Offices", "ines.halloran", "tcp://page.example:80");
    assertThat(bare.get("end").asText()).isEqualTo("answer");
    assertThat(bare.at("/decided/release").asInt()).isEqualTo(2);
    assertThat(bare.at("/decided/verdict").isTextual()).isFalse();

    JsonNode hits = get(BASE + "/decided/hits");
    int at = hits.findValuesAsText("rule").indexOf(top);
    assertThat(hits.get(at).get("hits").asInt()).isEqualTo(1);
    assertThat(get(BASE + "/decided?most=2").at("/1/rule").asText()).isEqualTo(top);
    // Where the gateway is gone, nobody says that a rule stopped it.
    gateway.kill();
    JsonNode nobody = tried("Offices", "ines.halloran", "http://page.example/");
    assertThat(nobody.get("end").asText()).isEqualTo("no gateway");
    assertThat(nobody.get("decided").isObject()).isFalse();
    // Somebody from a zone that has no port, and what is no address.
    for (Map<String, String> bad :
        List.of(
            Map.of("zone", "Nowhere", "address", "http://page.example/"),
            Map.of("zone", "Offices", "address", "tcp://page.example"),
            Map.of("zone", "Offices", "address", "ftp://page.example/"),
            Map.of("zone", "Offices", "address", "http://a b/"))) {
      given()
          .contentType("application/json")
          .body(bad)
          .post("/api/gateways/quay/tries")
          .then()
          .statusCode(422);
    }
  }

  /** What stays open is decided again when a release comes into force. */
  @Test
  void anOpenConnectionDoesNotOutliveTheReleaseThatLetItThrough() throws Exception {
    String code =
        send("PUT", "/api/gateways/quay", Map.of("rulebase", "main-gateway")).get("code").asText();
    release("As it was");
    gateway.start("--code", code);
    awaitInForce(1);
    try (Socket open = gateway.open("page.example", 80);
        Socket other = gateway.open("other.example", 80)) {
      assertThat(GatewayProcess.asked(open, "page.example")).isEqualTo("the page");
      assertThat(GatewayProcess.asked(other, "other.example")).isEqualTo("the page");
      assertThat(GatewayProcess.asked(open, "page.example")).isEqualTo("the page");
      block("page.example");
      release("No page");
      awaitInForce(2);
      assertThat(get("/api/gateways").at("/0/why").asText())
          .isEqualTo("1 of 2 open connections were cut");
      assertThat(GatewayProcess.asked(open, "page.example")).isEqualTo("cut");
      assertThat(GatewayProcess.asked(other, "other.example")).isEqualTo("the page");
      // Each request is decided by itself, whatever the connection was let through for.
      assertThat(GatewayProcess.asked(other, "page.example")).isEqualTo("cut");
    }
    // Nobody comes in under a login that the directory does not have.
    assertThatThrownBy(() -> gateway.open("other.example", 80, "nobody.known"))
        .isInstanceOf(SocketException.class)
        .hasMessageContaining("authentication failed");
  }

  @Test
  void whoHasNoKeyIsToldNothing() throws Exception {
    send("PUT", "/api/gateways/quay", Map.of("rulebase", "main-gateway"));
    release("As it was");
    for (String path : List.of("delivery", "parts/" + "0".repeat(64), "self")) {
      given().get("/api/gateway-protocol/" + path).then().statusCode(401);
      given()
          .header("Authorization", "Bearer guessed")
          .get("/api/gateway-protocol/" + path)
          .then()
          .statusCode(401);
    }
    given()
        .contentType("application/json")
        .body(Map.of("revision", 999, "after", 1, "title", "Ahead"))
        .post(BASE + "/releases")
        .then()
        .statusCode(409);
    // A name that another rulebase has is not taken over.
    given()
        .contentType("application/json")
        .body(Map.of("rulebase", "saltmere-rose"))
        .put("/api/gateways/quay")
        .then()
        .statusCode(422);
    assertThat(get("/api/gateways").get(0).get("rulebase").asText()).isEqualTo("main-gateway");
    given().delete("/api/gateways/mole").then().statusCode(404);
    given().delete("/api/gateways/quay").then().statusCode(200);
    assertThat(get("/api/gateways")).isEmpty();
  }
}
