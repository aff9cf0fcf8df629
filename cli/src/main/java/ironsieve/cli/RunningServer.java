package ironsieve.cli;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.cli.Inputs.UnreadableException;
import java.io.IOException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Map;
import picocli.CommandLine.Option;

/** The server that a command is about, and whose changes it makes there. */
final class RunningServer {

  private static final ObjectMapper JSON = new ObjectMapper();

  @Option(
      names = "--server",
      scope = picocli.CommandLine.ScopeType.INHERIT,
      defaultValue = "http://127.0.0.1:7340",
      description = "Where the server is; ${DEFAULT-VALUE} if nothing is said.")
  private String address;

  @Option(
      names = "--by",
      scope = picocli.CommandLine.ScopeType.INHERIT,
      defaultValue = "the command line",
      description = "Whose change it is, for the history.")
  private String by;

  @Option(
      names = "--reason",
      scope = picocli.CommandLine.ScopeType.INHERIT,
      defaultValue = "",
      description = "Why, for the history.")
  private String reason;

  /**
   * What the server answers, as JSON.
   *
   * @throws UnreadableException in the server's words, if it refuses
   */
  JsonNode json(String method, String path, Map<String, ?> body) {
    return read(send(method, path, body));
  }

  /** A part of a path or a query. */
  static String encoded(String text) {
    return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
  }

  private static JsonNode read(String text) {
    try {
      return JSON.readTree(text);
    } catch (IOException e) {
      throw new UnreadableException("what the server answered cannot be read: " + e.getMessage());
    }
  }

  /** The body of an answer; what the server refuses is told in its own words. */
  String send(String method, String path, Map<String, ?> body) {
    try {
      HttpRequest.Builder request =
          HttpRequest.newBuilder(URI.create(address.replaceAll("/+$", "") + path))
              .timeout(Duration.ofMinutes(5))
              .header("Sieve-Editor", encoded(by))
              .header("Sieve-Reason", encoded(reason))
              .header("Content-Type", "application/json");
      HttpRequest.BodyPublisher content =
          body == null
              ? HttpRequest.BodyPublishers.noBody()
              : HttpRequest.BodyPublishers.ofString(JSON.writeValueAsString(body));
      HttpResponse<String> answer =
          HttpClient.newBuilder()
              .connectTimeout(Duration.ofSeconds(5))
              .build()
              .send(request.method(method, content).build(), HttpResponse.BodyHandlers.ofString());
      if (answer.statusCode() / 100 != 2) {
        String detail =
            answer.body().startsWith("{") ? read(answer.body()).path("detail").asText() : "";
        throw new UnreadableException(
            detail.isEmpty() ? "the server answered " + answer.statusCode() : detail);
      }
      return answer.body();
    } catch (IOException | IllegalArgumentException e) {
      throw new UnreadableException(
          "no server answers at " + address + "; start it with ./sieve start");
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new UnreadableException("given up");
    }
  }
}
