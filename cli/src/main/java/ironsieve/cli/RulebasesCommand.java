package ironsieve.cli;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.cli.Inputs.UnreadableException;
import java.io.IOException;
import java.io.PrintWriter;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** The rulebases of a running server: listed, made, copied, brought in, taken out, put away. */
@Command(
    name = "rulebases",
    description = "The rulebases of a running server.",
    mixinStandardHelpOptions = true)
final class RulebasesCommand {

  private static final ObjectMapper JSON = new ObjectMapper();
  private static final String PATH = "/api/rulebases";

  @Option(
      names = "--server",
      scope = picocli.CommandLine.ScopeType.INHERIT,
      defaultValue = "http://127.0.0.1:7340",
      description = "Where the server is; ${DEFAULT-VALUE} if nothing is said.")
  private String server;

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

  @Spec private CommandSpec spec;

  private PrintWriter out() {
    return spec.commandLine().getOut();
  }

  @Command(name = "list", description = "Prints id, name, standing and number of rules of each.")
  int list() {
    for (JsonNode one : read(send("GET", "/api/workspace", null)).path("rulebases")) {
      out()
          .printf(
              "%-24s %-10s %6d rules  %s%n",
              one.path("id").asText(),
              one.path("standing").asText(),
              one.path("rules").asInt(),
              one.path("name").asText());
    }
    return Main.FINE;
  }

  @Command(name = "new", description = "Makes one with a few rules to begin with.")
  int make(@Parameters(paramLabel = "NAME") String name) {
    return make(Map.of("name", name));
  }

  @Command(name = "copy", description = "Makes one like another.")
  int copy(@Parameters(paramLabel = "ID") String id, @Parameters(paramLabel = "NAME") String name) {
    return make(Map.of("name", name, "copyOf", id));
  }

  @Command(
      name = "import",
      description =
          "Makes one from a file in any format that can be read; names that stand for nothing on the"
              + " server are listed, and match nothing (exit status 1).")
  int bringIn(
      @Parameters(paramLabel = "FILE") Path file,
      @Option(names = "--name", defaultValue = "", description = "Its name; a file may say itself.")
          String name) {
    Map<String, Object> request = new LinkedHashMap<>();
    request.put("name", name);
    try {
      request.put("text", Files.readString(file));
    } catch (IOException e) {
      throw new UnreadableException(file + " cannot be read: " + e.getMessage());
    }
    JsonNode unknown = read(send("POST", PATH + "/prepare", request)).path("unknown");
    for (JsonNode one : unknown) {
      out().println(one.path("why").asText());
    }
    int status = make(request);
    return unknown.isEmpty() ? status : Main.WARNINGS;
  }

  @Command(name = "export", description = "Prints one as a file.")
  int takeOut(
      @Parameters(paramLabel = "ID") String id,
      @Option(
              names = "--to",
              defaultValue = "rules",
              description = "rules, json, csv or acl; ${DEFAULT-VALUE} if nothing is said.")
          String format) {
    out().print(send("GET", one(id) + "/file?format=" + encoded(format), null));
    out().flush();
    return Main.FINE;
  }

  @Command(name = "rename", description = "Gives one another name; its id stays.")
  int rename(
      @Parameters(paramLabel = "ID") String id, @Parameters(paramLabel = "NAME") String name) {
    return stands(id, Map.of("name", name));
  }

  @Command(name = "archive", description = "Puts one away: it is shown, and not edited.")
  int archive(@Parameters(paramLabel = "ID") String id) {
    return stands(id, Map.of("standing", "archived"));
  }

  @Command(name = "remove", description = "Takes one out; it can be brought back.")
  int remove(@Parameters(paramLabel = "ID") String id) {
    return stands(id, Map.of("standing", "removed"));
  }

  @Command(name = "restore", description = "Brings one back that was archived or removed.")
  int restore(@Parameters(paramLabel = "ID") String id) {
    return stands(id, Map.of("standing", "active"));
  }

  private int make(Map<String, ?> request) {
    out().println("made " + read(send("POST", PATH, request)).path("id").asText());
    return Main.FINE;
  }

  private int stands(String id, Map<String, ?> change) {
    send("POST", one(id) + "/standing", change);
    out().println("done");
    return Main.FINE;
  }

  private static String one(String id) {
    return PATH + "/" + encoded(id);
  }

  private static String encoded(String text) {
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
  private String send(String method, String path, Map<String, ?> body) {
    try {
      HttpRequest.Builder request =
          HttpRequest.newBuilder(URI.create(server.replaceAll("/+$", "") + path))
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
          "no server answers at " + server + "; start it with ./sieve start");
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new UnreadableException("given up");
    }
  }
}
