package ironsieve.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/**
 * What is asked of a server before something is released, taken back or enrolled, and what is said
 * of it.
 */
class ReleaseCommandTest {

  private static final String EFFECT =
      "\"beside\": [{\"gateways\": [\"quay\"], \"release\": {\"number\": 2}, \"impact\": {"
          + "\"complete\": true, \"broken\": [\"No uploads\"], \"kinds\": [{"
          + "\"before\": {\"outcome\": \"allow\"}, \"after\": {\"outcome\": \"deny\"},"
          + " \"probe\": \"from Offices to Internet\"}]}}, {\"gateways\": [\"pier\"]}]";
  private static final String PREVIEW =
      "{\"revision\": 7, \"after\": 2, \"open\": [{\"revision\": 6, \"who\": \"Wanda\","
          + " \"reason\": \"CHG-7\", \"what\": \"added a rule\"}], "
          + EFFECT
          + ", \"stops\": [{\"id\": \"error:r1:shadowed\", \"words\": \"rule 1: shadowed\"}]}";

  private final List<String> asked = new ArrayList<>();

  /** Answers by method and the beginning of the path. */
  private final Map<String, String> answers = new LinkedHashMap<>();

  private HttpServer server;
  private List<String> out;

  @BeforeEach
  void start() throws IOException {
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.createContext(
        "/",
        exchange -> {
          try (exchange) {
            String what = exchange.getRequestMethod() + " " + exchange.getRequestURI();
            String body =
                new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
            asked.add((what + " " + body).strip());
            byte[] bytes =
                answers.entrySet().stream()
                    .filter(answer -> what.startsWith(answer.getKey()))
                    .map(Map.Entry::getValue)
                    .findFirst()
                    .orElse("{}")
                    .getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(200, bytes.length);
            exchange.getResponseBody().write(bytes);
          }
        });
    server.start();
    answers.put("GET /api/rulebases/main/releases/preview", PREVIEW);
    answers.put("POST /api/rulebases/main/releases", "{\"number\": 3}");
  }

  @AfterEach
  void stop() {
    server.stop(0);
  }

  private int run(String... arguments) {
    StringWriter said = new StringWriter();
    int exit =
        Main.run(
            new PrintWriter(said, true),
            new PrintWriter(said, true),
            Stream.concat(
                    Stream.of(arguments),
                    Stream.of("--server", "http://127.0.0.1:" + server.getAddress().getPort()))
                .toArray(String[]::new));
    out = Arrays.asList(said.toString().split("\\R"));
    return exit;
  }

  @Test
  void withoutATitleItOnlySaysWhatAReleaseWouldDoAndWhatStandsAgainstIt() {
    assertThat(run("release", "main")).isEqualTo(Main.ERRORS);
    assertThat(out)
        .containsExactly(
            "open 6, Wanda, CHG-7: added a rule",
            "quay: since release 2, 1 group of connections with another verdict",
            "  allow -> deny, such as from Offices to Internet",
            "  breaks: No uploads",
            "pier: nothing is in force yet",
            "stands against it: rule 1: shadowed");
    assertThat(asked).containsExactly("GET /api/rulebases/main/releases/preview");
  }

  @Test
  void itIsReleasedWithoutWhatIsLeftOutAndWithAReasonForWhatStandsAgainstIt() {
    assertThat(run("release", "main", "--title", "November")).isEqualTo(Main.ERRORS);
    assertThat(asked).hasSize(1);
    asked.clear();
    assertThat(
            run(
                "release",
                "main",
                "--title",
                "November",
                "--without",
                "6",
                "--override",
                "known since May"))
        .isEqualTo(Main.FINE);
    assertThat(out).contains("left out 6, Wanda, CHG-7: added a rule", "made release 3");
    assertThat(asked)
        .containsExactly(
            "GET /api/rulebases/main/releases/preview?leftOut=6",
            "POST /api/rulebases/main/releases {\"revision\":7,\"after\":2,\"leftOut\":[6],"
                + "\"title\":\"November\",\"reference\":\"\",\"note\":\"\","
                + "\"reasons\":{\"error:r1:shadowed\":\"known since May\"}}");
    asked.clear();
    assertThat(run("release", "main", "--title", "Begin", "--first")).isEqualTo(Main.FINE);
    assertThat(out).containsExactly("release 2 was made before");
    assertThat(asked).hasSize(1);
  }

  @Test
  void anEarlierReleaseIsPutInForceAfterSayingWhatThatDoes() {
    answers.put("GET /api/rulebases/main/releases/1/preview", "{" + EFFECT + "}");
    assertThat(run("rollback", "main", "1", "--look")).isEqualTo(Main.FINE);
    assertThat(out).contains("  allow -> deny, such as from Offices to Internet");
    assertThat(asked).containsExactly("GET /api/rulebases/main/releases/1/preview");
    assertThat(run("rollback", "main", "1")).isEqualTo(Main.FINE);
    assertThat(asked).last().isEqualTo("POST /api/rulebases/main/releases/1/deliver {}");
  }

  @Test
  void gatewaysAreListedEnrolledAndRevoked() {
    answers.put(
        "GET /api/gateways",
        "[{\"name\": \"quay\", \"rulebase\": \"main\", \"inForce\": 2, \"state\": \"in force\","
            + " \"away\": false}]");
    assertThat(run("gateways", "list")).isEqualTo(Main.FINE);
    assertThat(out.get(0)).matches("quay +main +release 2 +in force");
    answers.put(
        "GET /api/gateways",
        "[{\"name\": \"pier\", \"rulebase\": \"main\", \"state\": \"failed\", \"why\": \"no disk\","
            + " \"away\": true, \"said\": \"10:42\"}]");
    assertThat(run("gateways", "list")).isEqualTo(Main.WARNINGS);
    assertThat(out.get(0))
        .matches("pier +main +nothing +failed: no disk, not heard of since 10:42");
    answers.put("PUT /api/gateways/pier", "{\"code\": \"secret\"}");
    assertThat(run("gateways", "enrol", "pier", "main")).isEqualTo(Main.FINE);
    assertThat(out).containsExactly("secret");
    assertThat(asked).last().isEqualTo("PUT /api/gateways/pier {\"rulebase\":\"main\"}");
    assertThat(run("gateways", "revoke", "pier")).isEqualTo(Main.FINE);
    assertThat(asked).last().isEqualTo("DELETE /api/gateways/pier");
  }

  @Test
  void aTrySaysWhatTheClientGotAndFailsWhereThatIsNotWhatWasMeant() {
    answers.put(
        "POST /api/gateways/quay/tries",
        "{\"end\": \"answer\", \"status\": 200, \"decided\": {\"release\": 3, \"verdict\": \"allow\","
            + " \"rule\": \"r1\", \"probe\": \"from Offices to Internet\"}}");
    assertThat(run("try", "quay", "Offices", "http://page.example/", "--as", "ines"))
        .isEqualTo(Main.FINE);
    assertThat(out)
        .containsExactly(
            "the client got: answer 200",
            "quay, release 3: allow by rule r1",
            "  from Offices to Internet");
    assertThat(asked)
        .containsExactly(
            "POST /api/gateways/quay/tries {\"zone\":\"Offices\",\"person\":\"ines\","
                + "\"address\":\"http://page.example/\"}");
    assertThat(run("try", "quay", "Offices", "http://page.example/", "--stopped"))
        .isEqualTo(Main.ERRORS);
    answers.put(
        "POST /api/gateways/quay/tries",
        "{\"end\": \"silence\", \"status\": null, \"decided\": {\"release\": 3,"
            + " \"verdict\": \"deny\", \"rule\": null, \"probe\": \"\"}}");
    assertThat(run("try", "quay", "Offices", "http://page.example/")).isEqualTo(Main.ERRORS);
    assertThat(out)
        .containsExactly("the client got: silence", "quay, release 3: deny by the default verdict");
    assertThat(run("try", "quay", "Offices", "http://page.example/", "--stopped"))
        .isEqualTo(Main.FINE);
    // Who cannot be reached for another reason is not stopped by a rule.
    answers.put("POST /api/gateways/quay/tries", "{\"end\": \"no entry\", \"decided\": null}");
    assertThat(run("try", "quay", "Offices", "http://page.example/", "--stopped"))
        .isEqualTo(Main.ERRORS);
    // A page that a notice shows is an answer, and yet it was stopped.
    answers.put(
        "POST /api/gateways/quay/tries",
        "{\"end\": \"answer\", \"status\": 403, \"decided\": {\"release\": 3,"
            + " \"verdict\": \"stop\", \"rule\": \"r1\", \"probe\": \"\"}}");
    assertThat(run("try", "quay", "Offices", "http://page.example/")).isEqualTo(Main.ERRORS);
  }
}
