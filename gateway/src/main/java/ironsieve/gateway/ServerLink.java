package ironsieve.gateway;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import ironsieve.gateway.ReleaseFolder.Identity;
import ironsieve.gateway.ReleaseFolder.InForce;
import ironsieve.gateway.ReleaseFolder.ZonePort;
import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;

/** What a gateway asks its server; see docs/gateway-protocol.md. */
final class ServerLink {

  private static final ObjectMapper JSON = new ObjectMapper();
  private static final int WAIT_SECONDS = 20;
  private static final Duration LONGEST = Duration.ofSeconds(WAIT_SECONDS + 20L);
  private static final int LARGEST = 64 << 20;

  private final HttpClient client =
      HttpClient.newBuilder().connectTimeout(Duration.ofSeconds(10)).build();
  private final URI server;

  ServerLink(URI server) {
    this.server = server;
  }

  /** The server does not know the gateway any more, or not its code. */
  static final class RefusedException extends IOException {

    private static final long serialVersionUID = 1L;

    private RefusedException(String message) {
      super(message);
    }
  }

  private HttpRequest.Builder to(String path, String key) {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(server.resolve("/api/gateway-protocol/" + path)).timeout(LONGEST);
    return key.isEmpty() ? request : request.header("Authorization", "Bearer " + key);
  }

  private Optional<String> send(HttpRequest request) throws IOException, InterruptedException {
    HttpResponse<InputStream> answer =
        client.send(request, HttpResponse.BodyHandlers.ofInputStream());
    byte[] body;
    try (InputStream in = answer.body()) {
      body = in.readNBytes(LARGEST + 1);
    }
    if (body.length > LARGEST) {
      throw new IOException(request.uri() + " answered more than " + LARGEST + " bytes");
    }
    String text = new String(body, StandardCharsets.UTF_8);
    if (answer.statusCode() == 401) {
      throw new RefusedException(JSON.readTree(text).path("detail").asText());
    }
    if (answer.statusCode() == 204) {
      return Optional.empty();
    }
    if (answer.statusCode() != 200) {
      throw new IOException(request.uri() + " answered " + answer.statusCode());
    }
    return Optional.of(text);
  }

  private Optional<String> post(String path, String key, JsonNode body)
      throws IOException, InterruptedException {
    return send(
        to(path, key)
            .header("Content-Type", "application/json")
            .POST(HttpRequest.BodyPublishers.ofString(JSON.writeValueAsString(body)))
            .build());
  }

  /** Enrols with a code. */
  Identity enrol(String code) throws IOException, InterruptedException {
    ObjectNode body = JSON.createObjectNode().put("code", code);
    return JSON.readValue(post("enrol", "", body).orElseThrow(), Identity.class);
  }

  /** What the gateway is told that is newer; waits for it, and is empty if nothing comes. */
  Optional<InForce> told(Identity own, long after) throws IOException, InterruptedException {
    Optional<String> answer =
        send(
            to(
                    "delivery?after="
                        + after
                        + "&wait="
                        + WAIT_SECONDS
                        + "&clock="
                        + Instant.now().truncatedTo(ChronoUnit.SECONDS),
                    own.key())
                .GET()
                .build());
    return answer.isEmpty()
        ? Optional.empty()
        : Optional.of(JSON.readValue(answer.get(), InForce.class));
  }

  /** A part of a release. */
  String part(Identity own, String digest) throws IOException, InterruptedException {
    return send(to("parts/" + digest, own.key()).GET().build())
        .orElseThrow(() -> new IOException("part " + digest + " is empty"));
  }

  /**
   * Says what became of a delivery.
   *
   * @param inForce the release that the gateway decides by; nothing for none
   */
  void say(Identity own, long delivery, String state, String why, Optional<Integer> inForce)
      throws IOException, InterruptedException {
    ObjectNode body =
        JSON.createObjectNode().put("delivery", delivery).put("state", state).put("why", why);
    inForce.ifPresent(release -> body.put("inForce", release));
    post("state", own.key(), body);
  }

  /** Says where clients come in. */
  void sayPorts(Identity own, List<ZonePort> ports) throws IOException, InterruptedException {
    ArrayNode body = JSON.createArrayNode();
    ports.forEach(one -> body.addObject().put("zone", one.zone()).put("port", one.port()));
    post("ports", own.key(), body);
  }

  /**
   * Tells of connections, each in a line of syslog; once this returns the server has them for good.
   *
   * @param dropped how many it could not be told of until now
   * @return why none of them is on the tape; else empty
   */
  String log(Identity own, List<String> lines, long dropped)
      throws IOException, InterruptedException {
    ArrayNode body = JSON.createArrayNode();
    lines.forEach(body::add);
    String answer = post("log?dropped=" + dropped, own.key(), body).orElseThrow();
    return JSON.readTree(answer).path("trouble").asText();
  }
}
