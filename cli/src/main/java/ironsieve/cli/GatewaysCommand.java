package ironsieve.cli;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.PrintWriter;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** The gateways of a running server. */
@Command(
    name = "gateways",
    description = "The gateways of a running server, and what each has in force by its own word.",
    mixinStandardHelpOptions = true)
final class GatewaysCommand {

  private static final String PATH = "/api/gateways";

  @Mixin private RunningServer server;

  @Spec private CommandSpec spec;

  private PrintWriter out() {
    return spec.commandLine().getOut();
  }

  @Command(
      name = "list",
      description =
          "Prints name, rulebase, release in force and state of each (1 if one is amiss).")
  int list() {
    int status = Main.FINE;
    for (JsonNode one : server.json("GET", PATH, null)) {
      String state = one.path("state").asText();
      boolean isAway = one.path("away").asBoolean();
      out()
          .printf(
              "%-20s %-24s %-12s %s%s%n",
              one.path("name").asText(),
              one.path("rulebase").asText(),
              one.hasNonNull("inForce") ? "release " + one.path("inForce").asInt() : "nothing",
              state.equals("failed") ? "failed: " + one.path("why").asText() : state,
              isAway ? ", not heard of since " + one.path("said").asText() : "");
      if (isAway || state.equals("failed")) {
        status = Main.WARNINGS;
      }
    }
    return status;
  }

  @Command(
      name = "enrol",
      description = "Prints a code with which a gateway enrols, once; a key it had is gone.")
  int enrol(
      @Parameters(paramLabel = "NAME") String name,
      @Parameters(paramLabel = "RULEBASE") String rulebase) {
    out()
        .println(
            server
                .json("PUT", PATH + "/" + RunningServer.encoded(name), Map.of("rulebase", rulebase))
                .path("code")
                .asText());
    return Main.FINE;
  }

  @Command(name = "revoke", description = "Takes a gateway out; its key is worth nothing any more.")
  int revoke(@Parameters(paramLabel = "NAME") String name) {
    server.send("DELETE", PATH + "/" + RunningServer.encoded(name), null);
    out().println("done");
    return Main.FINE;
  }
}
