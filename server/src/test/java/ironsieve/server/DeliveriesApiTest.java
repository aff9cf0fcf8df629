package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.response.Response;
import jakarta.inject.Inject;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Gateways are told in waves; each of them is one here that only says what becomes of it. */
@QuarkusTest
class DeliveriesApiTest {

  private static final String BASE = "/api/rulebases/main-gateway/releases";

  @Inject DemoData demo;
  @Inject ObjectMapper json;

  private final Map<String, String> keys = new HashMap<>();

  @BeforeEach
  void restore() throws Exception {
    demo.restore();
    add("quay", "north", "south");
  }

  @AfterEach
  void remove() {
    keys.keySet().forEach(name -> given().delete("/api/gateways/" + name));
  }

  private void add(String... names) throws Exception {
    for (String name : names) {
      JsonNode invited =
          sent("PUT", "/api/gateways/" + name, Map.of("rulebase", "main-gateway"), 200);
      JsonNode own =
          sent(
              "POST",
              "/api/gateway-protocol/enrol",
              Map.of("code", invited.get("code").asText()),
              200);
      keys.put(name, own.get("key").asText());
    }
  }

  private JsonNode sent(String method, String path, Object body, int status) throws Exception {
    Response answer =
        given()
            .header("Sieve-Editor", "Wanda")
            .contentType("application/json")
            .body(body)
            .request(method, path);
    assertThat(answer.statusCode()).as(answer.asString()).isEqualTo(status);
    return answer.asString().isEmpty() ? json.nullNode() : json.readTree(answer.asString());
  }

  private JsonNode get(String path) throws Exception {
    return json.readTree(given().get(path).then().statusCode(200).extract().asString());
  }

  private int release(Map<String, Object> order) throws Exception {
    JsonNode preview = get(BASE + "/preview");
    Map<String, String> reasons = new HashMap<>();
    preview.get("stops").forEach(stop -> reasons.put(stop.get("id").asText(), "it was so before"));
    Map<String, Object> request = new HashMap<>();
    request.put("revision", preview.get("revision").asLong());
    request.put("after", preview.get("after").asInt());
    request.put("title", "By and by");
    request.put("reasons", reasons);
    request.put("order", order);
    return sent("POST", BASE, request, 200).get("number").asInt();
  }

  /** The release that each gateway was told, by name; 0 for none. */
  private Map<String, Integer> told() throws Exception {
    Map<String, Integer> told = new HashMap<>();
    get("/api/gateways")
        .forEach(one -> told.put(one.get("name").asText(), one.path("wanted").asInt()));
    told.keySet().retainAll(keys.keySet());
    return told;
  }

  /** Has a gateway fetch what it is told, and say what became of it. */
  private void say(String name, int release, String state, String why) throws Exception {
    String answer =
        given()
            .header("Authorization", "Bearer " + keys.get(name))
            .get("/api/gateway-protocol/delivery?wait=0")
            .then()
            .statusCode(200)
            .extract()
            .asString();
    long delivery =
        json.readTree(json.readTree(answer).get("delivery").asText()).get("delivery").asLong();
    Map<String, Object> said = new HashMap<>();
    said.put("delivery", delivery);
    said.put("state", state);
    said.put("why", why);
    if (state.equals("in force")) {
      said.put("inForce", release);
    }
    given()
        .header("Authorization", "Bearer " + keys.get(name))
        .contentType("application/json")
        .body(said)
        .post("/api/gateway-protocol/state")
        .then()
        .statusCode(204);
  }

  private String state() throws Exception {
    return get(BASE + "/plan").get("state").asText();
  }

  @Test
  void theNextWaveIsToldOnceAllBeforeItHaveTheReleaseInForce() throws Exception {
    int number = release(Map.of("waves", List.of(List.of("quay"), List.of("north")), "minutes", 0));
    assertThat(told()).isEqualTo(Map.of("quay", number, "north", 0, "south", 0));
    assertThat(get(BASE + "/plan").get("waves").toString())
        .isEqualTo("[[\"quay\"],[\"north\"],[\"south\"]]");
    say("quay", number, "fetched", "");
    assertThat(told()).containsEntry("north", 0);
    say("quay", number, "in force", "");
    assertThat(told()).isEqualTo(Map.of("quay", number, "north", number, "south", 0));
    say("north", number, "in force", "");
    assertThat(told()).containsEntry("south", number);
    assertThat(state()).isEqualTo("done");
    sent("POST", BASE + "/plan/pause", Map.of(), 422);
  }

  /** A gateway that cannot take it holds all others back, until somebody says what follows. */
  @Test
  void aGatewayThatFailsHoldsTheOthersBack() throws Exception {
    int number = release(Map.of("waves", List.of(List.of("quay")), "minutes", 0));
    say("quay", number, "failed", "its disk is full");
    assertThat(state()).isEqualTo("held");
    assertThat(get(BASE + "/plan").get("why").asText())
        .isEqualTo("quay could not take it: its disk is full");
    assertThat(told()).isEqualTo(Map.of("quay", number, "north", 0, "south", 0));
    sent("POST", BASE + "/plan/go-on", Map.of(), 200);
    assertThat(told()).isEqualTo(Map.of("quay", number, "north", number, "south", number));
    assertThat(state()).isEqualTo("done");
  }

  @Test
  void aPlanIsPausedGoneOnWithAndStopped() throws Exception {
    int number = release(Map.of("waves", List.of(List.of("quay"), List.of("north")), "minutes", 0));
    sent("POST", BASE + "/plan/pause", Map.of(), 200);
    say("quay", number, "in force", "");
    assertThat(told()).containsEntry("north", 0);
    sent("POST", BASE + "/plan/go-on", Map.of(), 200);
    assertThat(told()).isEqualTo(Map.of("quay", number, "north", number, "south", 0));
    sent("POST", BASE + "/plan/stop", Map.of(), 200);
    say("north", number, "in force", "");
    assertThat(told()).containsEntry("south", 0);
    assertThat(state()).isEqualTo("stopped");
    // Another delivery takes its place, and all are told.
    sent("POST", BASE + "/" + number + "/deliver", Map.of(), 200);
    assertThat(told()).containsEntry("south", number);
    given().get(BASE + "/plan").then().statusCode(204);
  }

  @Test
  void aReleaseWaitsForItsTimeAndForItsMinutes() throws Exception {
    String later = Instant.now().plusSeconds(3_600).toString();
    int number = release(Map.of("begins", later));
    assertThat(told()).isEqualTo(Map.of("quay", 0, "north", 0, "south", 0));
    assertThat(get(BASE + "/plan").get("due").asText()).startsWith(later.substring(0, 19));
    sent("POST", BASE + "/plan/go-on", Map.of(), 200);
    assertThat(told()).isEqualTo(Map.of("quay", number, "north", number, "south", number));

    number = release(Map.of("waves", List.of(List.of("quay")), "minutes", 10));
    say("quay", number, "in force", "");
    assertThat(told()).containsEntry("north", number - 1);
    JsonNode plan = get(BASE + "/plan");
    assertThat(Instant.parse(plan.get("due").asText()))
        .isAfter(Instant.parse(plan.get("at").asText()).plusSeconds(599));
  }

  @Test
  void anOrderThatCannotBeKeptIsRefusedBeforeAnythingIsMade() throws Exception {
    List<Map<String, Object>> wrong = new ArrayList<>();
    wrong.add(Map.of("waves", List.of(List.of("mole"))));
    wrong.add(Map.of("waves", List.of(List.of("quay"), List.of("quay"))));
    wrong.add(Map.of("waves", List.of(List.of())));
    wrong.add(Map.of("minutes", -1));
    release(Map.of());
    for (Map<String, Object> order : wrong) {
      sent("POST", BASE + "/1/deliver", order, 422);
    }
    assertThat(get(BASE)).hasSize(1);
    given().contentType("application/json").post(BASE + "/plan/pause").then().statusCode(404);
  }

  /** A whole fleet is told at once. */
  @Test
  void twoHundredGatewaysAreToldInOneStep() throws Exception {
    String[] names = new String[197];
    for (int i = 0; i < names.length; i++) {
      names[i] = "ship-" + i;
    }
    add(names);
    int number = release(Map.of());
    assertThat(told()).hasSize(200);
    assertThat(told().values()).containsOnly(number);
    for (String name : names) {
      say(name, number, "in force", "");
    }
    long inForce = 0;
    for (JsonNode one : get("/api/gateways")) {
      inForce += one.path("inForce").asInt() == number ? 1 : 0;
    }
    assertThat(inForce).isEqualTo(197);
  }
}
