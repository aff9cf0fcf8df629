package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;

import io.quarkus.test.junit.QuarkusTest;
import io.restassured.response.Response;
import ironsieve.server.demo.DemoLoader;
import jakarta.inject.Inject;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Supplier;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/**
 * While somebody's heavy edit is worked out others are answered, on the same rulebase and on another
 * one. How quickly is reported; what is asserted is that nobody waits for the edit.
 */
@QuarkusTest
class HeavyEditsTest {

  private static final String BASE = "/api/rulebases/main-gateway";
  private static final String OTHER = "/api/rulebases/generated-1000";

  @Inject DemoData demo;
  @Inject DemoLoader loader;

  @BeforeEach
  void restore() {
    demo.restore();
    loader.generate(1_000);
    for (String base : List.of(BASE, OTHER)) {
      assertThat(probe(base).statusCode()).isEqualTo(200);
    }
  }

  private static Response probe(String base) {
    return given()
        .contentType("application/json")
        .body(Map.of("text", "from Offices 10.20.4.9 to Internet using tcp/443 at tue 10:00"))
        .post(base + "/probe");
  }

  private static Response edit(String who, List<Object> steps) {
    return given()
        .header("Sieve-Editor", who)
        .contentType("application/json")
        .body(Map.of("revision", 0, "what", "tested", "steps", steps))
        .post(BASE + "/edits");
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
    WIDE_RULES {
      @Override
      Response send() {
        List<Object> steps = new ArrayList<>();
        for (int i = 0; i < 200; i++) {
          steps.add(
              added(
                  i,
                  Map.of(
                      "from.zones", field("is", List.of("Offices", "Terminals", "Crew wifi")),
                      "from.networks", field("is not", addresses(40, i)),
                      "from.people", field("is not", List.of("ines.halloran", "livia.quist")),
                      "from.devices", field("is not", List.of("crew phone")),
                      "to.zones", field("is", List.of("Internet")),
                      "to.sites", field("is not", List.of("site" + i + ".example")),
                      "using.services", field("is not", List.of("tcp/" + (2_000 + i))),
                      "when.times", field("is", List.of("mon-fri 0" + i % 9 + ":00-19:00")))));
        }
        return edit("wide", steps);
      }
    },
    NEGATED_NETWORKS {
      @Override
      Response send() {
        List<Object> steps = new ArrayList<>();
        for (int i = 0; i < 60; i++) {
          steps.add(added(i, Map.of("from.networks", field("is not", addresses(2_000, i)))));
        }
        return edit("negated", steps);
      }
    },
    LARGE_SET {
      @Override
      Response send() {
        List<Object> steps = new ArrayList<>();
        steps.add(
            Map.of(
                "op",
                "SAVE_SET",
                "set",
                Map.of(
                    "set",
                    Map.of(
                        "kind", "network", "name", "Many", "values", addresses(10_000, 0), "note",
                        ""))));
        for (int i = 0; i < 20; i++) {
          steps.add(
              added(
                  i,
                  Map.of(
                      "from.networks", field("is", List.of("set Many")),
                      "using.services", field("is", List.of("tcp/" + (3_000 + i))))));
        }
        return edit("set", steps);
      }
    },
    LONG_TAPE {
      @Override
      Response send() {
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
        return given()
            .header("Sieve-Editor", "tape")
            .contentType("text/csv")
            .body(csv.toString())
            .put(BASE + "/tapes/long");
      }
    };

    abstract Response send();
  }

  @ParameterizedTest
  @EnumSource(Heavy.class)
  void nobodyWaitsForIt(Heavy heavy) {
    long begun = System.nanoTime();
    CompletableFuture<Response> sent = CompletableFuture.supplyAsync(heavy::send);
    List<Long> waits = beside(sent::isDone);
    long took = System.nanoTime() - begun;
    Response answer = sent.join();
    assertThat(answer.statusCode()).as(answer.asString()).isEqualTo(200);
    report(heavy.name(), took, waits);
    // Whoever waits for the edit waits as long as it takes.
    assertThat(at95(waits)).as("of %d", took).isLessThan(took / 2);
  }

  @Test
  void nobodyWaitsForTwelveAtOnceOfWhichOneIsKept() {
    ExecutorService threads = Executors.newFixedThreadPool(12);
    try {
      long begun = System.nanoTime();
      List<CompletableFuture<Response>> sent =
          IntStream.range(0, 12)
              .mapToObj(i -> CompletableFuture.supplyAsync(Heavy.NEGATED_NETWORKS::send, threads))
              .toList();
      List<Long> waits = beside(() -> sent.stream().allMatch(CompletableFuture::isDone));
      long took = System.nanoTime() - begun;
      report("twelve at once", took, waits);
      List<Integer> statuses = sent.stream().map(one -> one.join().statusCode()).toList();
      assertThat(Collections.frequency(statuses, 200)).as("%s", statuses).isEqualTo(1);
      assertThat(Collections.frequency(statuses, 409)).as("%s", statuses).isEqualTo(11);
      assertThat(at95(waits)).as("of %d", took).isLessThan(took / 2);
    } finally {
      threads.shutdownNow();
    }
  }

  /** How long each probe takes that is asked until something is done; at least one. */
  private static List<Long> beside(Supplier<Boolean> isDone) {
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

  private static void report(String what, long took, List<Long> waits) {
    System.out.printf(
        "[heavy edits] %s: %d ms; others' probes: %d, 95th percentile %d ms, slowest %d ms%n",
        what,
        took / 1_000_000,
        waits.size(),
        at95(waits) / 1_000_000,
        Collections.max(waits) / 1_000_000);
  }
}
