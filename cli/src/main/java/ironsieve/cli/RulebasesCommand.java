package ironsieve.cli;

import com.fasterxml.jackson.databind.JsonNode;
import ironsieve.cli.Inputs.UnreadableException;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
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

  private static final String PATH = "/api/rulebases";

  @Mixin private RunningServer server;

  @Spec private CommandSpec spec;

  private PrintWriter out() {
    return spec.commandLine().getOut();
  }

  @Command(name = "list", description = "Prints id, name, standing and number of rules of each.")
  int list() {
    for (JsonNode one : server.json("GET", "/api/workspace", null).path("rulebases")) {
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
    JsonNode unknown = server.json("POST", PATH + "/prepare", request).path("unknown");
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
    out()
        .print(server.send("GET", one(id) + "/file?format=" + RunningServer.encoded(format), null));
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
    out().println("made " + server.json("POST", PATH, request).path("id").asText());
    return Main.FINE;
  }

  private int stands(String id, Map<String, ?> change) {
    server.send("POST", one(id) + "/standing", change);
    out().println("done");
    return Main.FINE;
  }

  private static String one(String id) {
    return PATH + "/" + RunningServer.encoded(id);
  }
}
