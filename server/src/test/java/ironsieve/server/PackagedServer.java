package ironsieve.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.File;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.locks.LockSupport;

/** The server as it is shipped, in a process of its own, over one schema of the tests' database. */
public final class PackagedServer implements AutoCloseable {

  private static final ObjectMapper JSON = new ObjectMapper();
  private static final String DATABASE = System.getenv("IRON_SIEVE_TEST_DB_URL");
  private static final String PASSWORD = System.getenv("IRON_SIEVE_TEST_DB_PASSWORD");
  private static final HttpClient CLIENT =
      HttpClient.newBuilder().connectTimeout(Duration.ofSeconds(5)).build();

  private static final Path CLASSES =
      Path.of("target/server-" + ProcessHandle.current().pid() + ".jsa");

  private final String schema;
  private final int port = Ports.free();
  private Process process;

  /** A server over a schema; it runs once {@link #start} has been called. */
  public PackagedServer(String schema) {
    this.schema = schema;
  }

  /** Where it answers. */
  public String address() {
    return "http://127.0.0.1:" + port;
  }

  /** Makes the schema new, so that the server finds it as on the first day. */
  public PackagedServer afresh() throws SQLException {
    try (Connection connection = OwnDatabase.open()) {
      connection.createStatement().execute("drop schema if exists " + schema + " cascade");
    }
    return this;
  }

  /** Starts it, again if need be, and comes back once it is ready to answer. */
  public PackagedServer start(String... options) throws Exception {
    List<String> all = new ArrayList<>(List.of("-XX:+UseSerialGC"));
    all.addAll(List.of(options));
    if (options.length == 0) {
      all.addAll(List.of("-XX:SharedArchiveFile=" + classes(), "-Xlog:disable"));
    }
    return startWith(all);
  }

  /**
   * The server's classes as they lie in memory, which saves a third of each start; made by one that
   * ends by itself.
   */
  private static synchronized Path classes() throws Exception {
    if (!Files.exists(CLASSES)) {
      CLASSES.toFile().deleteOnExit();
      PackagedServer first = new PackagedServer("classes").afresh();
      first.startWith(
          List.of("-XX:+UseSerialGC", "-XX:ArchiveClassesAtExit=" + CLASSES, "-Xlog:disable"));
      first.process.destroy();
      first.process.waitFor();
    }
    return CLASSES;
  }

  private PackagedServer startWith(List<String> options) throws Exception {
    File log = new File("target/" + schema + "-" + port + ".log");
    List<String> command =
        new ArrayList<>(
            List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-XX:TieredStopAtLevel=1",
                "-Dquarkus.http.port=" + port,
                "-Diron-sieve.warm-up=false",
                "-Dquarkus.flyway.schemas=" + schema,
                "-Dquarkus.datasource.jdbc.url=" + DATABASE + "?currentSchema=" + schema,
                "-Dquarkus.datasource.username=ironsieve",
                "-Dquarkus.datasource.password=" + PASSWORD,
                "-jar",
                "target/quarkus-app/quarkus-run.jar"));
    command.addAll(1, options);
    process =
        new ProcessBuilder(command)
            .redirectErrorStream(true)
            .redirectOutput(ProcessBuilder.Redirect.appendTo(log))
            .start();
    while (!isReady()) {
      if (!process.isAlive()) {
        throw new IllegalStateException("the server ended; see " + log);
      }
      LockSupport.parkNanos(50_000_000);
    }
    return this;
  }

  private boolean isReady() throws InterruptedException {
    try {
      return CLIENT
              .send(request("/api/health/ready").build(), HttpResponse.BodyHandlers.discarding())
              .statusCode()
          == 200;
    } catch (IOException e) {
      return false;
    }
  }

  private HttpRequest.Builder request(String path) {
    return HttpRequest.newBuilder(URI.create(address() + path)).timeout(Duration.ofSeconds(60));
  }

  /** Kills it as the system would that has no memory left: it gets no word of it. */
  public void kill() {
    if (process != null) {
      process.destroyForcibly().onExit().join();
    }
  }

  @Override
  public void close() {
    kill();
  }

  /** What it says at an address that answers. */
  public JsonNode get(String path) throws Exception {
    HttpResponse<String> answer =
        CLIENT.send(request(path).build(), HttpResponse.BodyHandlers.ofString());
    if (answer.statusCode() != 200) {
      throw new IllegalStateException(path + ": " + answer.statusCode() + " " + answer.body());
    }
    return JSON.readTree(answer.body());
  }

  /** Sends something; the status, and what it says. */
  public HttpResponse<String> post(String path, String who, Object body)
      throws IOException, InterruptedException {
    return CLIENT.send(
        request(path)
            .header("Content-Type", "application/json")
            .header("Sieve-Editor", who)
            .POST(HttpRequest.BodyPublishers.ofString(JSON.writeValueAsString(body)))
            .build(),
        HttpResponse.BodyHandlers.ofString());
  }

  /** An edit that sets the note on a rule. */
  public static Map<String, Object> noting(long revision, String rule, String note) {
    return Map.of(
        "revision",
        revision,
        "what",
        "noted",
        "steps",
        List.of(Map.of("op", "CHANGE_RULE", "id", rule, "rule", Map.of("note", note))));
  }

  /** The note on a rule, as a rulebase is shown. */
  public static String noteOn(JsonNode rulebase, String rule) {
    for (JsonNode chapter : rulebase.get("chapters")) {
      for (JsonNode one : chapter.get("rules")) {
        if (one.get("id").asText().equals(rule)) {
          return one.path("note").asText();
        }
      }
    }
    throw new IllegalArgumentException("there is no rule " + rule);
  }
}
