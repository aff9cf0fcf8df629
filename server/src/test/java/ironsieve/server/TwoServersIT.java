package ironsieve.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.http.HttpResponse;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Two servers over one database: whoever asks either is told the same, and nothing is lost. */
class TwoServersIT {

  private static final String BASE = "/api/rulebases/main-gateway";
  private static PackagedServer one;
  private static PackagedServer other;

  @BeforeAll
  static void start() throws Exception {
    one = new PackagedServer("shared").afresh().start();
    other = new PackagedServer("shared").start();
  }

  @AfterAll
  static void stop() throws Exception {
    one.kill();
    other.kill();
  }

  /** Edits again and again on what is newest, until it has been kept so many times. */
  private static List<String> edits(PackagedServer server, String rule, int times) {
    List<String> kept = new ArrayList<>();
    try {
      while (kept.size() < times) {
        long revision = server.get(BASE).get("revision").asLong();
        String note = rule + " " + kept.size();
        HttpResponse<String> answer =
            server.post(BASE + "/edits", rule, PackagedServer.noting(revision, rule, note));
        assertThat(answer.statusCode()).as(answer.body()).isIn(200, 409);
        if (answer.statusCode() == 200) {
          kept.add(note);
        }
      }
    } catch (Exception e) {
      throw new AssertionError(e);
    }
    return kept;
  }

  @Test
  void whatIsEditedOnEitherIsThereOnBoth() throws Exception {
    long before = one.get(BASE).get("revision").asLong();
    List<String> rules = List.of("br-press", "br-chat", "br-intern", "br-staff");
    List<CompletableFuture<List<String>>> work = new ArrayList<>();
    for (int i = 0; i < rules.size(); i++) {
      PackagedServer server = i % 2 == 0 ? one : other;
      String rule = rules.get(i);
      work.add(CompletableFuture.supplyAsync(() -> edits(server, rule, 15)));
    }
    work.forEach(CompletableFuture::join);
    JsonNode here = one.get(BASE);
    JsonNode there = other.get(BASE);
    assertThat(here.get("revision").asLong()).isEqualTo(before + 60);
    assertThat(there.get("revision")).isEqualTo(here.get("revision"));
    assertThat(there.get("state")).isEqualTo(here.get("state"));
    assertThat(there.get("chapters")).isEqualTo(here.get("chapters"));
    for (String rule : rules) {
      assertThat(PackagedServer.noteOn(there, rule)).isEqualTo(rule + " 14");
    }
    assertThat(other.get(BASE + "/review").get("rules"))
        .isEqualTo(one.get(BASE + "/review").get("rules"));
  }

  @Test
  void anEditIsSeenOnTheOtherAtOnceWithItsReview() throws Exception {
    for (int round = 0; round < 10; round++) {
      PackagedServer here = round % 2 == 0 ? one : other;
      PackagedServer there = round % 2 == 0 ? other : one;
      long revision = here.get(BASE).get("revision").asLong();
      String state = round % 2 == 0 ? "off" : "on";
      HttpResponse<String> answer =
          here.post(
              BASE + "/edits",
              "ada",
              Map.of(
                  "revision",
                  revision,
                  "what",
                  "switched",
                  "steps",
                  List.of(
                      Map.of(
                          "op", "CHANGE_RULE", "id", "wf-crew", "rule", Map.of("state", state)))));
      assertThat(answer.statusCode()).as(answer.body()).isEqualTo(200);
      JsonNode review = there.get(BASE + "/review");
      assertThat(review.get("revision").asLong()).isEqualTo(revision + 1);
      // A rule that is off takes no part, so nothing is left of it.
      assertThat(
              review.at("/rules/wf-crew/residue").isMissingNode()
                  || review.at("/rules/wf-crew/residue").isNull())
          .isEqualTo(round % 2 == 0);
    }
  }

  @Test
  void anEditionAdoptedOnOneIsInForceOnTheOther() throws Exception {
    other.get(BASE + "/review");
    HttpResponse<String> adopted = one.post("/api/editions/42/adopt", "ada", Map.of());
    assertThat(adopted.statusCode()).as(adopted.body()).isEqualTo(200);
    assertThat(other.get("/api/editions").get("inForce").asInt()).isEqualTo(42);
    assertThat(other.get(BASE).get("state")).isEqualTo(one.get(BASE).get("state"));
    assertThat(other.get(BASE + "/review").get("rules"))
        .isEqualTo(one.get(BASE + "/review").get("rules"));
    assertThat(other.get(BASE).get("faults")).isEmpty();
  }
}
