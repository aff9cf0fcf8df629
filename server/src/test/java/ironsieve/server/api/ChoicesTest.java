package ironsieve.server.api;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;

import io.quarkus.test.junit.QuarkusTest;
import ironsieve.server.DemoData;
import jakarta.inject.Inject;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What the value pickers offer, and what a value is said to stand for, on the demo company. */
@QuarkusTest
class ChoicesTest {

  private static final String BASE = "/api/rulebases/main-gateway";

  @Inject DemoData demo;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  private static List<String> choices(String kind, String text) {
    return given()
        .queryParam("kind", kind)
        .queryParam("text", text)
        .get(BASE + "/choices")
        .jsonPath()
        .getList("value");
  }

  @ParameterizedTest
  @CsvSource({
    "zone, crew, Crew wifi",
    "person, halloran, ines.halloran",
    "person, deck, group Deck crew",
    "person, uniden, unidentified",
    "device, laptop, company laptop",
    "device, 'laptop, un', 'company laptop, unhealthy'",
    "application, chatterbay, Chatterbay",
    "application, Chatterbay/up, Chatterbay/upload",
    "application, fenwick, family Fenwick",
    "application, games, category games",
    "network, 10.20.0.0/16, 10.20.0.0/16",
    "network, booking, set Booking servers",
    "network, 2001:DB8::1, 2001:db8::1",
    "service, tcp/8443, tcp/8443",
    "service, web, set Web",
    "time, mon 08:00-09:00, mon 08:00-09:00",
    "time, office, set Office hours"
  })
  void theClosestChoiceComesFirst(String kind, String typed, String first) {
    assertThat(choices(kind, typed)).first().isEqualTo(first);
  }

  @Test
  void whatSpellsNothingOutOffersOnlyWhatThereIs() {
    assertThat(choices("network", "10.20.0.7/16")).isEmpty();
    assertThat(choices("person", "zzz")).isEmpty();
    assertThat(choices("application", "")).noneMatch(value -> value.contains("/"));
  }

  private static List<String> about(String kind, String value) {
    return given()
        .queryParam("kind", kind)
        .queryParam("value", value)
        .get(BASE + "/about")
        .jsonPath()
        .getList("lines");
  }

  @Test
  void aValueSaysWhatItStandsFor() {
    assertThat(about("zone", "Berth control")).contains("10.80.0.0/16");
    assertThat(about("zone", "Internet")).contains("everything behind no other zone");
    assertThat(about("person", "group Interns")).contains("0 people");
    assertThat(about("person", "group Masters")).contains("5 people", "anselm.penhale");
    assertThat(about("person", "ines.halloran")).contains("Ines Halloran");
    assertThat(about("network", "set Database servers")).contains("192.0.2.64/28");
    assertThat(about("application", "Chatterbay/upload")).contains("needs Chatter Identity");
    assertThat(about("application", "family Fenwick")).contains("6 applications");
    assertThat(about("application", "category games")).contains("… and 3 more");
  }

  @Test
  void aKindThatDoesNotExistIsRefused() {
    given().queryParam("kind", "colour").get(BASE + "/choices").then().statusCode(422);
  }
}
