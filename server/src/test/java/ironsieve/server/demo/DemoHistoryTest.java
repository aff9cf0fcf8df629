package ironsieve.server.demo;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.junit.QuarkusTest;
import ironsieve.server.DemoData;
import jakarta.inject.Inject;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** The demo's main gateway became what it is in six years, one edit after the other. */
@QuarkusTest
class DemoHistoryTest {

  private static final String MAIN = "/api/rulebases/main-gateway";
  private static final ObjectMapper JSON = new ObjectMapper();

  @Inject DemoData demo;

  @BeforeEach
  void restoreWithHistory() {
    demo.restoreWithHistory();
  }

  @AfterEach
  void restore() {
    demo.restore();
  }

  private static JsonNode get(String path) throws Exception {
    return JSON.readTree(given().get(path).then().statusCode(200).extract().asString());
  }

  private static int rules(JsonNode rulebase) {
    int rules = 0;
    for (JsonNode chapter : rulebase.get("chapters")) {
      rules += chapter.get("rules").size();
    }
    return rules;
  }

  @Test
  void everyRevisionOfItCanBeReadAndEachChangedSomething() throws Exception {
    JsonNode now = get(MAIN);
    long newest = now.get("revision").asLong();
    JsonNode journal = get(MAIN + "/journal?most=500");
    assertThat(journal).hasSize((int) newest).hasSizeGreaterThan(60);
    List<Instant> moments = new ArrayList<>();
    journal.forEach(entry -> moments.add(Instant.parse(entry.get("at").asText())));
    assertThat(moments).isSortedAccordingTo((a, b) -> b.compareTo(a));
    assertThat(ChronoUnit.DAYS.between(moments.get(moments.size() - 1), moments.get(0)))
        .isGreaterThan(6 * 365);

    assertThat(rules(get(MAIN + "?revision=0"))).isZero();
    JsonNode last = null;
    for (long revision = newest; revision >= 0; revision -= 4) {
      JsonNode then = get(MAIN + "?revision=" + revision);
      assertThat(then.get("faults")).as("revision %d", revision).isEmpty();
      assertThat(then.get("chapters")).isNotEqualTo(last);
      last = then.get("chapters");
    }
    assertThat(get(MAIN + "?revision=" + newest).get("chapters")).isEqualTo(now.get("chapters"));

    // A rule that is gone by now stood there, and is told to have decided something.
    JsonNode gone =
        JSON.readTree(
            given()
                .get(
                    MAIN
                        + "/impact?from="
                        + (revisionOf(journal, "removed rule") - 1)
                        + "&to="
                        + newest)
                .then()
                .statusCode(200)
                .extract()
                .asString());
    assertThat(gone.toString()).contains("gw-admin");
  }

  @Test
  void theJournalIsReadPageByPageAndByRule() throws Exception {
    JsonNode first = get(MAIN + "/journal?most=10");
    long oldest = first.get(9).get("revision").asLong();
    assertThat(get(MAIN + "/journal?most=10&before=" + oldest).get(0).get("revision").asLong())
        .isEqualTo(oldest - 1);
    // However long ago: nobody is told that a rule was never changed because others were since.
    JsonNode ofRule = get(MAIN + "/journal?rule=gw-desk&most=5");
    assertThat(ofRule).hasSize(2);
    assertThat(ofRule.get(0).get("what").asText())
        .isEqualTo("removed rule Administration from the desks");
    assertThat(get(MAIN + "/journal?rule=none&most=5")).isEmpty();
  }

  private static long revisionOf(JsonNode journal, String what) {
    for (JsonNode entry : journal) {
      if (entry.get("what").asText().startsWith(what)) {
        return entry.get("revision").asLong();
      }
    }
    throw new AssertionError("nobody has " + what);
  }

  @Test
  void itIsEditedAndUndoneAsAlways() throws Exception {
    long newest = get(MAIN).get("revision").asLong();
    String step = "{\"op\":\"CHANGE_RULE\",\"id\":\"wk-print\",\"rule\":{\"state\":\"off\"}}";
    given()
        .contentType("application/json")
        .header("Sieve-Editor", "Wanda Okafor")
        .body("{\"revision\":" + newest + ",\"what\":\"off\",\"steps\":[" + step + "]}")
        .post(MAIN + "/edits")
        .then()
        .statusCode(200);
    given()
        .contentType("application/json")
        .header("Sieve-Editor", "Wanda Okafor")
        .body("{\"revision\":" + (newest + 1) + "}")
        .post(MAIN + "/undo")
        .then()
        .statusCode(200);
    assertThat(get(MAIN).get("revision").asLong()).isEqualTo(newest + 2);
  }
}
