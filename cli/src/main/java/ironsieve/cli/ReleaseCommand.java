package ironsieve.cli;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.PrintWriter;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.StringJoiner;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Says what a release of a rulebase would do, and makes it. */
@Command(
    name = "release",
    description = {
      "Releases a rulebase of a running server to its gateways, after saying what that does.",
      "Without a title it only says that. Exit status 2 if something stands against it."
    },
    mixinStandardHelpOptions = true)
final class ReleaseCommand implements Callable<Integer> {

  @Parameters(paramLabel = "RULEBASE", description = "its id")
  private String rulebase;

  @Option(names = "--title", paramLabel = "WORDS", description = "what it is for")
  private String title;

  @Option(
      names = "--reference",
      paramLabel = "WORDS",
      defaultValue = "",
      description = "a change reference")
  private String reference;

  @Option(names = "--note", paramLabel = "WORDS", defaultValue = "", description = "a note")
  private String note;

  @Option(
      names = "--without",
      paramLabel = "REVISION",
      split = ",",
      description = "open changes that are not to be in it, by revision")
  private List<Long> without = List.of();

  @Option(
      names = "--override",
      paramLabel = "REASON",
      defaultValue = "",
      description = "why all that stands against it is released so")
  private String override;

  @Option(names = "--first", description = "only if nothing of the rulebase was released before")
  private boolean isFirst;

  @Mixin private RunningServer server;

  @Spec private CommandSpec spec;

  private PrintWriter out() {
    return spec.commandLine().getOut();
  }

  @Override
  public Integer call() {
    String path = "/api/rulebases/" + RunningServer.encoded(rulebase) + "/releases";
    StringJoiner query = new StringJoiner("&", "?", "").setEmptyValue("");
    without.forEach(revision -> query.add("leftOut=" + revision));
    JsonNode preview = server.json("GET", path + "/preview" + query, null);
    if (isFirst && preview.path("after").asInt() > 0) {
      out().println("release " + preview.path("after").asInt() + " was made before");
      return Main.FINE;
    }
    preview.path("open").forEach(this::tellOpen);
    tellEffect(out(), preview);
    Map<String, String> reasons = new LinkedHashMap<>();
    for (JsonNode stop : preview.path("stops")) {
      out().println("stands against it: " + stop.path("words").asText());
      reasons.put(stop.path("id").asText(), override);
    }
    if (override.isBlank() && !reasons.isEmpty()) {
      return Main.ERRORS;
    }
    if (title == null) {
      return Main.FINE;
    }
    Map<String, Object> request = new LinkedHashMap<>();
    request.put("revision", preview.path("revision").asLong());
    request.put("after", preview.path("after").asInt());
    request.put("leftOut", without);
    request.put("title", title);
    request.put("reference", reference);
    request.put("note", note);
    request.put("reasons", reasons);
    JsonNode made = server.json("POST", path, request);
    out().println("made release " + made.path("number").asInt());
    return Main.FINE;
  }

  private void tellOpen(JsonNode change) {
    boolean isLeftOut = without.contains(change.path("revision").asLong());
    out()
        .printf(
            "%s %d, %s%s: %s%n",
            isLeftOut ? "left out" : "open",
            change.path("revision").asLong(),
            change.path("who").asText(),
            change.path("reason").asText().isEmpty() ? "" : ", " + change.path("reason").asText(),
            change.path("what").asText());
  }

  /** Prints what putting something in force would do for each gateway. */
  static void tellEffect(PrintWriter out, JsonNode preview) {
    for (JsonNode beside : preview.path("beside")) {
      StringJoiner gateways = new StringJoiner(", ").setEmptyValue("no gateway");
      beside.path("gateways").forEach(gateway -> gateways.add(gateway.asText()));
      JsonNode impact = beside.path("impact");
      if (impact.isMissingNode() || impact.isNull()) {
        out.println(gateways + ": nothing is in force yet");
        continue;
      }
      JsonNode kinds = impact.path("kinds");
      out.println(
          gateways
              + ": since release "
              + beside.path("release").path("number").asInt()
              + ", "
              + (kinds.isEmpty() ? "no" : kinds.size())
              + (kinds.size() == 1 ? " group" : " groups")
              + " of connections with another verdict"
              + (impact.path("complete").asBoolean() ? "" : ", and perhaps more"));
      for (JsonNode kind : kinds) {
        out.println(
            "  "
                + kind.path("before").path("outcome").asText()
                + " -> "
                + kind.path("after").path("outcome").asText()
                + ", such as "
                + kind.path("probe").asText());
      }
      impact.path("broken").forEach(name -> out.println("  breaks: " + name.asText()));
    }
  }
}
