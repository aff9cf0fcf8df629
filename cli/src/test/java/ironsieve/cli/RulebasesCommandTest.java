package ironsieve.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What each command asks of a server, and what it says of the answer. */
class RulebasesCommandTest {

  @TempDir private Path folder;
  private final List<String> asked = new ArrayList<>();
  private HttpServer server;
  private int status = 200;
  private String answer = "{\"id\": \"annex\", \"unknown\": []}";
  private String out;
  private String err;

  @BeforeEach
  void start() throws IOException {
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.createContext(
        "/",
        exchange -> {
          try (exchange) {
            asked.add(
                exchange.getRequestMethod()
                    + " "
                    + exchange.getRequestURI()
                    + " "
                    + new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8)
                    + " by "
                    + exchange.getRequestHeaders().getFirst("Sieve-Editor"));
            byte[] bytes = answer.getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(status, bytes.length);
            exchange.getResponseBody().write(bytes);
          }
        });
    server.start();
  }

  @AfterEach
  void stop() {
    server.stop(0);
  }

  private int run(String... arguments) {
    StringWriter said = new StringWriter();
    StringWriter complained = new StringWriter();
    int exit =
        Main.run(
            new PrintWriter(said, true),
            new PrintWriter(complained, true),
            Stream.concat(
                    Stream.of("rulebases"),
                    Stream.concat(
                        Stream.of(arguments),
                        Stream.of("--server", "http://127.0.0.1:" + server.getAddress().getPort())))
                .toArray(String[]::new));
    out = said.toString();
    err = complained.toString();
    return exit;
  }

  @Test
  void rulebasesAreMadeCopiedRenamedAndPutAway() {
    assertThat(run("new", "Łódź annex", "--by", "Łucja")).isEqualTo(Main.FINE);
    assertThat(out).isEqualTo("made annex" + System.lineSeparator());
    run("copy", "main-gateway", "Twin");
    run("rename", "twin", "Other");
    run("archive", "twin");
    run("remove", "twin");
    run("restore", "twin");
    assertThat(asked)
        .containsExactly(
            "POST /api/rulebases {\"name\":\"Łódź annex\"} by %C5%81ucja",
            asked.get(1),
            "POST /api/rulebases/twin/standing {\"name\":\"Other\"} by the%20command%20line",
            "POST /api/rulebases/twin/standing {\"standing\":\"archived\"} by the%20command%20line",
            "POST /api/rulebases/twin/standing {\"standing\":\"removed\"} by the%20command%20line",
            "POST /api/rulebases/twin/standing {\"standing\":\"active\"} by the%20command%20line");
    assertThat(asked.get(1)).contains("\"copyOf\":\"main-gateway\"", "\"name\":\"Twin\"");
  }

  @Test
  void aFileIsBroughtInAndWhatStandsForNothingIsListed() throws Exception {
    answer = "{\"id\": \"annex\", \"unknown\": [{\"why\": \"there is no zone \\\"Moon\\\"\"}]}";
    Path file = Files.writeString(folder.resolve("annex.rules"), "rulebase \"Annex\"");
    assertThat(run("import", file.toString())).isEqualTo(Main.WARNINGS);
    assertThat(out).contains("there is no zone \"Moon\"", "made annex");
    assertThat(asked)
        .hasSize(2)
        .allSatisfy(one -> assertThat(one).contains("rulebase \\\"Annex\\\""));
    assertThat(run("import", "nowhere.rules")).isEqualTo(Main.UNREADABLE);
    assertThat(err).contains("nowhere.rules cannot be read");
  }

  @Test
  void oneIsPrintedAsAFileAndAllAreListed() {
    answer = "rulebase \"Annex\"\n";
    assertThat(run("export", "annex", "--to", "json")).isEqualTo(Main.FINE);
    assertThat(out).isEqualTo("rulebase \"Annex\"\n");
    assertThat(asked.get(0)).startsWith("GET /api/rulebases/annex/file?format=json");
    answer =
        "{\"rulebases\": [{\"id\": \"annex\", \"name\": \"Annex\", \"standing\": \"active\", \"rules\": 7}]}";
    run("list");
    assertThat(out).contains("annex", "active", "7 rules  Annex");
  }

  @Test
  void whatTheServerRefusesIsToldInItsWords() {
    status = 404;
    answer = "{\"detail\": \"there is no rulebase \\\"moon\\\"; perhaps main-gateway\"}";
    assertThat(run("remove", "moon")).isEqualTo(Main.UNREADABLE);
    assertThat(err).contains("there is no rulebase \"moon\"; perhaps main-gateway");
    server.stop(0);
    assertThat(run("list")).isEqualTo(Main.UNREADABLE);
    assertThat(err).contains("no server answers at http://127.0.0.1:");
    assertThat(run("copy", "a")).isEqualTo(64);
  }
}
