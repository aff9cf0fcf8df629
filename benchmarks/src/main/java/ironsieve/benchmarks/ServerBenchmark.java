package ironsieve.benchmarks;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Iterator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;

/**
 * A running server on which somebody loads a large log of recorded traffic, while others edit,
 * review and probe the same rulebase and another one; and what views of that log take, alone and
 * beside them.
 */
final class ServerBenchmark {

  private static final ObjectMapper JSON = new ObjectMapper();
  private static final long PHASE = TimeUnit.SECONDS.toNanos(25);
  private static final long PAUSE = 200;
  private static final List<String> CHARTS =
      List.of(
          "application",
          "verdict",
          "person",
          "rule",
          "from zone",
          "to zone",
          "category",
          "device",
          "service",
          "source");

  private final HttpClient client =
      HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();
  private final String address;
  private final TreeMap<String, List<Double>> times = new TreeMap<>();
  private volatile String phase = "";
  private volatile boolean isOver;

  private ServerBenchmark(String address) {
    this.address = address;
  }

  /**
   * Prints what things take.
   *
   * @param address of the server, which has a rulebase {@code main-gateway}
   * @param large the id of a large rulebase, for which the log is loaded
   */
  static void run(String address, String large, Path log) throws IOException, InterruptedException {
    new ServerBenchmark(address).run(large, log);
  }

  private void run(String large, Path log) throws IOException, InterruptedException {
    List<Thread> people = new ArrayList<>();
    for (String rulebase : List.of(large, "main-gateway")) {
      people.add(person(rulebase));
    }
    people.forEach(Thread::start);
    // The first ones find nothing compiled yet; they are told apart.
    during("0 at first");
    during("1 nothing else goes on");
    phase = "2 while the log is loaded";
    long begin = System.nanoTime();
    HttpResponse<String> loaded =
        client.send(
            request("/api/rulebases/" + large + "/tapes/month")
                .header("Content-Type", "text/csv")
                .PUT(HttpRequest.BodyPublishers.ofFile(log))
                .build(),
            HttpResponse.BodyHandlers.ofString());
    System.out.printf(
        Locale.ROOT,
        "the log loaded beside two who edit: %.1f s, status %d%n",
        (System.nanoTime() - begin) / 1e9,
        loaded.statusCode());
    Iterator<String> narrowings = narrowings(large).iterator();
    CompletableFuture<Void> views = CompletableFuture.runAsync(() -> views(large, narrowings));
    during("3 while it is looked at");
    views.join();
    isOver = true;
    for (Thread one : people) {
      one.join();
    }
    phase = "4 alone";
    views(large, narrowings);
    print();
  }

  private void during(String name) throws InterruptedException {
    phase = name;
    long end = System.nanoTime() + PHASE;
    while (System.nanoTime() < end) {
      Thread.sleep(PAUSE);
    }
  }

  private Thread person(String rulebase) {
    return new Thread(
        () -> {
          try {
            work(rulebase);
          } catch (IOException | InterruptedException e) {
            throw new IllegalStateException(e);
          }
        },
        rulebase);
  }

  /** Tries an edit, makes it, looks at the review and runs a probe, again and again. */
  private void work(String rulebase) throws IOException, InterruptedException {
    String base = "/api/rulebases/" + rulebase;
    JsonNode read = JSON.readTree(get(base, ""));
    List<String> rules = new ArrayList<>();
    read.get("chapters")
        .forEach(
            chapter -> chapter.get("rules").forEach(rule -> rules.add(rule.get("id").asText())));
    Collections.shuffle(rules, new Random(1));
    long revision = read.get("revision").asLong();
    String state = "";
    for (int i = 0; !isOver; i++) {
      String verdict = i / rules.size() % 2 == 0 ? "reject" : "deny";
      List<Object> steps =
          List.of(
              Map.of(
                  "op",
                  "CHANGE_RULE",
                  "id",
                  rules.get(i % rules.size()),
                  "rule",
                  Map.of("verdict", verdict)));
      post(base + "/impact", Map.of("steps", steps), rulebase + " impact");
      JsonNode edited =
          JSON.readTree(
              post(
                  base + "/edits",
                  Map.of("revision", revision, "what", "try", "steps", steps),
                  rulebase + " edit"));
      revision = edited.has("revision") ? edited.get("revision").asLong() : revision;
      state =
          JSON.readTree(get(base + "/review?since=" + state, rulebase + " review"))
              .path("state")
              .asText();
      post(
          base + "/probe",
          Map.of("text", "from Offices 10.20.12.10 to Internet 203.0.113.9 using tcp/443"),
          rulebase + " probe");
      Thread.sleep(PAUSE);
    }
  }

  /**
   * Two filters of two charts by any two of their longest bars, in a random order and none twice,
   * for an answer is remembered.
   */
  private List<String> narrowings(String rulebase) throws IOException, InterruptedException {
    List<List<String>> filters = new ArrayList<>();
    for (JsonNode chart : JSON.readTree(get(traffic(rulebase), "")).get("charts")) {
      List<String> of = new ArrayList<>();
      for (JsonNode bar : chart.get("bars")) {
        String filter = chart.get("by").asText() + ":" + bar.get("value").asText();
        of.add("&only=" + encoded(filter));
      }
      filters.add(of);
    }
    List<String> pairs = new ArrayList<>();
    for (int i = 0; i < filters.size(); i++) {
      for (List<String> other : filters.subList(0, i)) {
        for (String one : filters.get(i)) {
          other.forEach(two -> pairs.add(one + two));
        }
      }
    }
    Collections.shuffle(pairs, new Random(2));
    return pairs;
  }

  private static String traffic(String rulebase) {
    StringBuilder query = new StringBuilder("/api/rulebases/" + rulebase + "/traffic?most=8");
    CHARTS.forEach(by -> query.append("&by=").append(encoded(by)));
    return query.toString();
  }

  /** Charts narrowed by two filters, other ones each time. */
  private void views(String rulebase, Iterator<String> narrowings) {
    long end = System.nanoTime() + PHASE;
    while (System.nanoTime() < end && narrowings.hasNext()) {
      try {
        get(traffic(rulebase) + narrowings.next(), "ten charts narrowed by two");
      } catch (IOException | InterruptedException e) {
        throw new IllegalStateException(e);
      }
    }
  }

  private static String encoded(String text) {
    return URLEncoder.encode(text, StandardCharsets.UTF_8);
  }

  private HttpRequest.Builder request(String path) {
    return HttpRequest.newBuilder(URI.create(address + path)).header("Sieve-Editor", "bench");
  }

  private String get(String path, String what) throws IOException, InterruptedException {
    return timed(request(path).GET().build(), what);
  }

  private String post(String path, Object body, String what)
      throws IOException, InterruptedException {
    return timed(
        request(path)
            .header("Content-Type", "application/json")
            .POST(HttpRequest.BodyPublishers.ofString(JSON.writeValueAsString(body)))
            .build(),
        what);
  }

  private String timed(HttpRequest request, String what) throws IOException, InterruptedException {
    String during = phase;
    long begin = System.nanoTime();
    HttpResponse<String> answer = client.send(request, HttpResponse.BodyHandlers.ofString());
    double took = (System.nanoTime() - begin) / 1e6;
    if (!what.isEmpty()) {
      String refused = answer.statusCode() == 200 ? "" : " refused with " + answer.statusCode();
      synchronized (times) {
        times.computeIfAbsent(what + refused + ", " + during, any -> new ArrayList<>()).add(took);
      }
    }
    return answer.body();
  }

  private void print() {
    synchronized (times) {
      times.forEach(
          (what, all) -> {
            double[] sorted = all.stream().mapToDouble(one -> one).sorted().toArray();
            System.out.printf(
                Locale.ROOT,
                "%-62s %4d times: median %5.0f, 95th %5.0f, worst %5.0f ms%n",
                what,
                sorted.length,
                sorted[sorted.length / 2],
                sorted[sorted.length * 95 / 100],
                sorted[sorted.length - 1]);
          });
    }
  }
}
