package ironsieve.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.common.http.TestHTTPResource;
import io.quarkus.test.junit.QuarkusTest;
import ironsieve.server.demo.DemoLoader;
import jakarta.inject.Inject;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.function.Supplier;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/**
 * While somebody's heavy edit is worked out others are answered, on the same rulebase and on
 * another one. How quickly is reported; what is asserted is that nobody waits for the edit.
 */
@QuarkusTest
class HeavyEditsTest {

  private static final String BASE = "/api/rulebases/main-gateway";
  private static final String OTHER = "/api/rulebases/generated-1000";

  private static final HttpClient CLIENT = HttpClient.newHttpClient();

  @Inject DemoData demo;
  @Inject DemoLoader loader;
  @Inject ObjectMapper json;

  @TestHTTPResource("/")
  URI address;

  @BeforeEach
  void restore() {
    demo.restore();
    loader.generate(1_000);
    for (String base : List.of(BASE, OTHER)) {
      assertThat(probe(base).statusCode()).isEqualTo(200);
    }
  }

  /** Ready to be sent, so that nothing is counted that its sender has to do. */
  private HttpRequest request(String path, String method, String type, String body) {
    return HttpRequest.newBuilder(address.resolve(path))
        .header("Sieve-Editor", "heavy")
        .header("Content-Type", type)
        .method(method, HttpRequest.BodyPublishers.ofString(body))
        .build();
  }

  private HttpResponse<String> probe(String base) {
    String text = "from Offices 10.20.4.9 to Internet using tcp/443 at tue 10:00";
    try {
      return CLIENT.send(
          request(base + "/probe", "POST", "application/json", "{\"text\": \"" + text + "\"}"),
          HttpResponse.BodyHandlers.ofString());
    } catch (IOException | InterruptedException e) {
      throw new AssertionError(e);
    }
  }

  private HttpRequest edit(List<?> steps) throws JsonProcessingException {
    return request(
        BASE + "/edits",
        "POST",
        "application/json",
        json.writeValueAsString(Map.of("revision", 0, "what", "tested", "steps", steps)));
  }

  private static Map<String, Object> added(int number, Map<String, Object> fields) {
    return Map.of(
        "op",
        "ADD_RULE",
        "id",
        "heavy" + number,
        "place",
        Map.of("after", "gw-admin"),
        "rule",
        Map.of("fields", fields, "verdict", "allow"));
  }

  private static Map<String, Object> field(String sense, List<String> values) {
    return Map.of("sense", sense, "values", values);
  }

  private static List<String> addresses(int count, int seed) {
    return IntStream.range(0, count)
        .mapToObj(n -> "10." + (20 + (n + seed) % 7) + "." + n / 200 % 200 + "." + (n % 200 + 1))
        .distinct()
        .toList();
  }

  /** What one person may send. */
  enum Heavy {
    WIDE_RULES,
    NEGATED_NETWORKS,
    LARGE_SET,
    LONG_TAPE
  }

  private HttpRequest made(Heavy heavy) throws JsonProcessingException {
    return switch (heavy) {
      case WIDE_RULES -> edit(IntStream.range(0, 200).mapToObj(HeavyEditsTest::wide).toList());
      case NEGATED_NETWORKS ->
          edit(
              IntStream.range(0, 60)
                  .mapToObj(
                      i -> added(i, Map.of("from.networks", field("is not", addresses(2_000, i)))))
                  .toList());
      case LARGE_SET -> edit(largeSet());
      case LONG_TAPE -> request(BASE + "/tapes/long", "PUT", "text/csv", longTape());
    };
  }

  private static Object wide(int i) {
    return added(
        i,
        Map.of(
            "from.zones", field("is", List.of("Offices", "Terminals", "Crew wifi")),
            "from.networks", field("is not", addresses(40, i)),
            "from.people", field("is not", List.of("ines.halloran", "livia.quist")),
            "from.devices", field("is not", List.of("crew phone")),
            "to.zones", field("is", List.of("Internet")),
            "to.sites", field("is not", List.of("site" + i + ".example")),
            "using.services", field("is not", List.of("tcp/" + (2_000 + i))),
            "when.times", field("is", List.of("mon-fri 0" + i % 9 + ":00-19:00"))));
  }

  private static List<Object> largeSet() {
    List<Object> steps = new ArrayList<>();
    Map<String, Object> set =
        Map.of("kind", "network", "name", "Many", "values", addresses(10_000, 0), "note", "");
    steps.add(Map.of("op", "SAVE_SET", "set", set));
    for (int i = 0; i < 20; i++) {
      steps.add(
          added(
              i,
              Map.of(
                  "from.networks", field("is", List.of("set Many")),
                  "using.services", field("is", List.of("tcp/" + (3_000 + i))))));
    }
    return steps;
  }

  private static String longTape() {
    StringBuilder csv = new StringBuilder("times,connection\r\n");
    for (int i = 0; i < 100_000; i++) {
      csv.append(1 + i % 9)
          .append(",from Offices 10.20.")
          .append(i / 250 % 250)
          .append('.')
          .append(i % 250 + 1)
          .append(" to Internet using tcp/443 at 2026-11-")
          .append(i % 9 + 10)
          .append(" 10:00\r\n");
    }
    return csv.toString();
  }

  private static CompletableFuture<HttpResponse<String>> sent(HttpRequest request) {
    return CLIENT.sendAsync(request, HttpResponse.BodyHandlers.ofString());
  }

  @ParameterizedTest
  @EnumSource(Heavy.class)
  void nobodyWaitsForIt(Heavy heavy) throws Exception {
    HttpRequest request = made(heavy);
    List<Long> alone = times(20);
    long begun = System.nanoTime();
    CompletableFuture<HttpResponse<String>> sent = sent(request);
    List<Long> waits = beside(sent::isDone);
    long took = System.nanoTime() - begun;
    assertThat(sent.join().statusCode()).as(sent.join().body()).isEqualTo(200);
    report(heavy.name(), took, alone, waits);
    // Whoever waits for the edit waits as long as it takes.
    assertThat(at95(waits)).as("of %d", took).isLessThan(took / 2);
  }

  @Test
  void nobodyWaitsForTwelveAtOnceOfWhichOneIsKept() throws Exception {
    HttpRequest request = made(Heavy.NEGATED_NETWORKS);
    List<Long> alone = times(20);
    long begun = System.nanoTime();
    List<CompletableFuture<HttpResponse<String>>> sent =
        IntStream.range(0, 12).mapToObj(i -> sent(request)).toList();
    List<Long> waits = beside(() -> sent.stream().allMatch(CompletableFuture::isDone));
    long took = System.nanoTime() - begun;
    report("TWELVE AT ONCE", took, alone, waits);
    List<Integer> statuses = sent.stream().map(one -> one.join().statusCode()).toList();
    assertThat(Collections.frequency(statuses, 200)).as("%s", statuses).isEqualTo(1);
    assertThat(Collections.frequency(statuses, 409)).as("%s", statuses).isEqualTo(11);
    assertThat(at95(waits)).as("of %d", took).isLessThan(took / 2);
  }

  private List<Long> times(int count) {
    int[] asked = {0};
    return beside(() -> ++asked[0] == count);
  }

  /** How long each probe takes that is asked until something is done; at least one. */
  private List<Long> beside(Supplier<Boolean> isDone) {
    List<Long> waits = new ArrayList<>();
    do {
      String base = waits.size() % 2 == 0 ? BASE : OTHER;
      long asked = System.nanoTime();
      assertThat(probe(base).statusCode()).isEqualTo(200);
      waits.add(System.nanoTime() - asked);
    } while (!isDone.get());
    return waits;
  }

  private static long at95(List<Long> waits) {
    List<Long> sorted = waits.stream().sorted().toList();
    return sorted.get((sorted.size() - 1) * 95 / 100);
  }

  private static void report(String what, long took, List<Long> alone, List<Long> waits) {
    System.out.printf(
        "[heavy edits] %s: %d ms; a probe alone: 95th percentile %d ms; beside it: %d of them, 95th"
            + " percentile %d ms, slowest took %d milliseconds%n",
        what,
        took / 1_000_000,
        at95(alone) / 1_000_000,
        waits.size(),
        at95(waits) / 1_000_000,
        Collections.max(waits) / 1_000_000);
  }
}
