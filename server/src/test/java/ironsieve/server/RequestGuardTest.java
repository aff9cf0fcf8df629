package ironsieve.server;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.common.http.TestHTTPResource;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.response.Response;
import jakarta.inject.Inject;
import java.io.IOException;
import java.io.InputStream;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Who is let in, and what a browser may do with what it gets. */
@QuarkusTest
class RequestGuardTest {

  private static final String BASE = "/api/rulebases/main-gateway";
  private static final String EDIT =
      "{\"revision\": 0, \"what\": \"forged\", \"steps\": [{\"op\": \"REMOVE_RULE\", \"id\": \"gw-admin\"}]}";

  @Inject DemoData demo;
  @Inject ObjectMapper json;

  @TestHTTPResource("/")
  URI address;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  private static long revision() {
    return given().get(BASE).jsonPath().getLong("revision");
  }

  /** A request as its bytes, for no client sends what a hostile page makes of it. */
  private String raw(String head, String body) throws IOException {
    try (Socket socket = new Socket(address.getHost(), address.getPort())) {
      byte[] bytes = body.getBytes(StandardCharsets.UTF_8);
      socket
          .getOutputStream()
          .write(
              (head.replace("\n", "\r\n")
                      + "Content-Length: "
                      + bytes.length
                      + "\r\nConnection: close\r\n\r\n")
                  .getBytes(StandardCharsets.ISO_8859_1));
      socket.getOutputStream().write(bytes);
      socket.getOutputStream().flush();
      return new String(socket.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    }
  }

  private String own() {
    return address.getHost() + ":" + address.getPort();
  }

  @Test
  void aBodyThatDoesNotSayWhatItIsIsRefused() throws Exception {
    String answer = raw("POST " + BASE + "/edits HTTP/1.1\nHost: " + own() + "\n", EDIT);
    assertThat(answer).startsWith("HTTP/1.1 415").contains("application/problem+json");
    for (String type :
        List.of("text/plain", "application/x-www-form-urlencoded", "multipart/form-data")) {
      assertThat(
              raw(
                  "POST "
                      + BASE
                      + "/edits HTTP/1.1\nHost: "
                      + own()
                      + "\nContent-Type: "
                      + type
                      + "\n",
                  EDIT))
          .startsWith("HTTP/1.1 415");
    }
    assertThat(revision()).isZero();
  }

  @ParameterizedTest
  @CsvSource({
    "Origin: http://elsewhere.example, 403",
    "Origin: null, 403",
    "Origin: http://127.0.0.1:1, 403",
    "Sec-Fetch-Site: cross-site, 403",
    "Sec-Fetch-Site: same-site, 403",
    "Sec-Fetch-Site: same-origin, 200",
    "X-Nothing: special, 200",
  })
  void whatAForeignPageSendsIsRefused(String header, int status) throws Exception {
    String answer =
        raw(
            "POST "
                + BASE
                + "/edits HTTP/1.1\nHost: "
                + own()
                + "\nContent-Type: application/json\n"
                + header
                + "\n",
            EDIT);
    assertThat(answer).startsWith("HTTP/1.1 " + status);
    assertThat(revision()).isEqualTo(status == 200 ? 1 : 0);
    if (status != 200) {
      assertThat(
              raw(
                  "DELETE " + BASE + "/tapes/x HTTP/1.1\nHost: " + own() + "\n" + header + "\n",
                  ""))
          .startsWith("HTTP/1.1 403");
    }
  }

  @ParameterizedTest
  @CsvSource({
    "rebound.example, 421",
    "127.0.0.1.rebound.example, 421",
    "localhost, 200",
    "LOCALHOST, 200",
    "127.0.0.1, 200",
    "[::1], 200",
  })
  void onlyTheServersOwnNamesAreAnswered(String host, int status) throws Exception {
    String answer = raw("GET " + BASE + " HTTP/1.1\nHost: " + host + ":7340\n", "");
    assertThat(answer).startsWith("HTTP/1.1 " + status);
    if (status == 421) {
      assertThat(answer).contains("application/problem+json").doesNotContain("gw-admin");
    }
  }

  @Test
  void answersSayWhatABrowserMayDoWithThem() {
    for (String path : List.of("/", BASE, "/api/nothing")) {
      Response answer = given().get(path);
      assertThat(answer.header("Content-Security-Policy"))
          .contains("default-src 'none'", "script-src 'self';", "frame-ancestors 'none'");
      assertThat(answer.header("X-Content-Type-Options")).isEqualTo("nosniff");
      assertThat(answer.header("Referrer-Policy")).isEqualTo("no-referrer");
      assertThat(answer.header("Cache-Control")).isEqualTo("no-store");
    }
    String page = given().get("/").asString();
    assertThat(page).doesNotContainPattern("<script(?![^>]*\\ssrc=)");
    String asset = page.replaceAll("(?s).*src=\"(/assets/[^\"]+)\".*", "$1");
    assertThat(given().get(asset).header("Cache-Control")).contains("immutable");
    assertThat(given().header("Accept-Encoding", "gzip").get(asset).header("Content-Encoding"))
        .isEqualTo("gzip");
    Response gone = given().get("/assets/index-gone.js");
    assertThat(gone.statusCode()).isEqualTo(404);
    assertThat(gone.header("Cache-Control")).isEqualTo("no-store");
    assertThat(given().get("/history").statusCode()).isEqualTo(200);
  }

  /**
   * What a browser loads before the page is there: the page, and the scripts, styles and fonts it
   * names.
   */
  @Test
  void theFirstLoadIsSmallOnTheWire() throws Exception {
    String page = given().get("/").asString();
    List<String> parts = new ArrayList<>(List.of("/"));
    java.util.regex.Matcher named =
        java.util.regex.Pattern.compile("(?:src|href)=\"(/[^\"]+)\"").matcher(page);
    while (named.find()) {
      parts.add(named.group(1));
    }
    int bytes = 0;
    for (String part : parts) {
      bytes += compressed(part);
    }
    assertThat(parts).hasSizeGreaterThan(2);
    assertThat(bytes).as("%s", parts).isLessThanOrEqualTo(250_000);
  }

  private int compressed(String path) throws IOException {
    try (Socket socket = new Socket(address.getHost(), address.getPort())) {
      socket
          .getOutputStream()
          .write(
              ("GET "
                      + path
                      + " HTTP/1.1\r\nHost: "
                      + own()
                      + "\r\nAccept-Encoding: gzip\r\nConnection: close\r\n\r\n")
                  .getBytes(StandardCharsets.US_ASCII));
      return socket.getInputStream().readAllBytes().length;
    }
  }

  @Test
  void halfSentBodiesKeepNobodyWaiting() throws Exception {
    List<Socket> half = new ArrayList<>();
    try {
      for (int i = 0; i < 200; i++) {
        Socket socket = new Socket(address.getHost(), address.getPort());
        socket
            .getOutputStream()
            .write(
                ("POST "
                        + BASE
                        + "/edits HTTP/1.1\r\nHost: "
                        + own()
                        + "\r\nContent-Type: application/json\r\nContent-Length: 1000\r\n\r\n{\"rev")
                    .getBytes(StandardCharsets.US_ASCII));
        half.add(socket);
      }
      assertThat(
              given()
                  .contentType("application/json")
                  .body(Map.of("text", "from Offices to Internet at tue 10:00"))
                  .post(BASE + "/probe")
                  .statusCode())
          .isEqualTo(200);
      // Answered while all of them were still half sent, and none had been given up.
      for (Socket socket : half) {
        assertThat(socket.getInputStream().available()).isZero();
      }
      Socket one = half.get(0);
      InputStream in = one.getInputStream();
      one.setSoTimeout(60_000);
      assertThat(new String(in.readAllBytes(), StandardCharsets.UTF_8)).startsWith("HTTP/1.1 408");
    } finally {
      for (Socket socket : half) {
        socket.close();
      }
    }
  }

  /**
   * Four who send a byte now and then take nobody's place: whoever sends from elsewhere is
   * received, and they are let go though they are never silent for long.
   */
  @Test
  void uploadsThatTrickleAreLetGoAndKeepNobodyOut() throws Exception {
    List<Socket> slow = new ArrayList<>();
    try {
      for (int i = 0; i < 4; i++) {
        Socket socket = new Socket(address.getHost(), address.getPort());
        slow.add(socket);
        socket
            .getOutputStream()
            .write(
                ("PUT /api/rulebases/main-gateway/tapes/slow"
                        + i
                        + " HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/octet-stream\r\n"
                        + "Content-Length: 1000000\r\n\r\n")
                    .getBytes(StandardCharsets.US_ASCII));
      }
      // The fifth of one address waits; other work is not kept waiting at all.
      given().get("/api/rulebases/main-gateway/hits").then().statusCode(200);
      for (Socket socket : slow) {
        socket.setSoTimeout(500);
        trickle(socket);
      }
    } finally {
      for (Socket socket : slow) {
        socket.close();
      }
    }
    given()
        .contentType("application/octet-stream")
        .body(
            "time,src,dst,proto,dport\n2026-11-02 09:00,10.20.0.7,203.0.113.9,tcp,443\n".getBytes())
        .put("/api/rulebases/main-gateway/tapes/after")
        .then()
        .statusCode(200);
  }

  /** Sends a byte twice a second until the server answers that this is too slow. */
  private static void trickle(Socket socket) throws IOException {
    byte[] answer = new byte[100];
    while (true) {
      try {
        int read = socket.getInputStream().read(answer);
        assertThat(new String(answer, 0, Math.max(0, read), StandardCharsets.US_ASCII))
            .startsWith("HTTP/1.1 408");
        return;
      } catch (SocketTimeoutException e) {
        socket.getOutputStream().write('a');
      }
    }
  }

  @Test
  void aBodyOfNothingIsAnsweredLikeNone() {
    for (String body : new String[] {null, ""}) {
      var request = given().contentType("application/json").header("Sieve-Editor", "ada");
      Response response =
          (body == null ? request : request.body(new byte[0]))
              .post("/api/rulebases/main-gateway/edits");
      assertThat(response.statusCode()).as(response.asString()).isEqualTo(422);
    }
  }

  @Test
  void clientsThatWouldSpeakTheNextVersionOfHttpAreAnsweredInThisOne() throws Exception {
    var answer =
        HttpClient.newBuilder()
            .version(HttpClient.Version.HTTP_2)
            .build()
            .send(
                HttpRequest.newBuilder(address.resolve("/api/rulebases/main-gateway/sentence"))
                    .header("Content-Type", "application/json")
                    .POST(HttpRequest.BodyPublishers.ofString("{\"text\": \"deny to Internet\"}"))
                    .build(),
                HttpResponse.BodyHandlers.ofString());
    assertThat(answer.statusCode()).as(answer.body()).isEqualTo(200);
  }

  @Test
  void theEditorsNameMayHaveAnyLetters() throws Exception {
    Response edited =
        given()
            .header("Sieve-Editor", "%C5%81ukasz%20%E6%B8%AF")
            .contentType("application/json")
            .body(EDIT)
            .post(BASE + "/edits");
    JsonNode entry = json.readTree(edited.asString()).get("entry");
    assertThat(entry.get("who").asText()).isEqualTo("Łukasz 港");
    for (String wrong : List.of("%C5", "%00", "a".repeat(101), "%E2%80%AEx")) {
      Response refused =
          given()
              .header("Sieve-Editor", wrong)
              .contentType("application/json")
              .body(EDIT)
              .post(BASE + "/edits");
      assertThat(refused.statusCode()).as(wrong).isEqualTo(422);
    }
  }
}
