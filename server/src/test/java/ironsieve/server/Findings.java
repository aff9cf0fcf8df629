package ironsieve.server;

import static io.restassured.RestAssured.given;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.util.ArrayList;
import java.util.List;

/** The findings of a rulebase as the API shows them in full, rule by rule. */
final class Findings {

  private static final ObjectMapper JSON = new ObjectMapper();

  private Findings() {}

  /** All findings about all rules. */
  static List<JsonNode> all(String base) throws Exception {
    List<JsonNode> all = new ArrayList<>();
    for (var rules = get(base + "/review").get("rules").fieldNames(); rules.hasNext(); ) {
      all.addAll(of(base, rules.next()));
    }
    return all;
  }

  /** The one finding of a kind about a rule. */
  static JsonNode one(String base, String rule, String kind) throws Exception {
    return of(base, rule).stream()
        .filter(finding -> finding.get("kind").asText().equals(kind))
        .findFirst()
        .orElseThrow(() -> new AssertionError("no finding " + kind + " about " + rule));
  }

  private static List<JsonNode> of(String base, String rule) throws Exception {
    List<JsonNode> all = new ArrayList<>();
    get(base + "/review/rules/" + rule).get("findings").forEach(all::add);
    return all;
  }

  private static JsonNode get(String path) throws Exception {
    return JSON.readTree(given().get(path).then().statusCode(200).extract().asString());
  }
}
