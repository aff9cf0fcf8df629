package ironsieve.cli;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.PrintWriter;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Opens a real connection through a gateway. */
@Command(
    name = "try",
    description = {
      "Opens a real connection through a gateway of a running server, as a client of a zone, and",
      "says what the client got and which rule caught it. Exit status 2 if it got no answer; with",
      "--stopped if no rule stopped it."
    },
    mixinStandardHelpOptions = true)
final class TryCommand implements Callable<Integer> {

  @Parameters(index = "0", paramLabel = "GATEWAY", description = "its name")
  private String gateway;

  @Parameters(index = "1", paramLabel = "ZONE", description = "where the client is")
  private String zone;

  @Parameters(
      index = "2",
      paramLabel = "ADDRESS",
      description = "such as https://page.example/ or tcp://page.example:22")
  private String address;

  @Option(
      names = "--as",
      paramLabel = "LOGIN",
      defaultValue = "",
      description = "who is at the client; nobody known where nothing is said")
  private String login;

  @Option(names = "--stopped", description = "it should be stopped, and not answered")
  private boolean isToBeStopped;

  @Mixin private RunningServer server;

  @Spec private CommandSpec spec;

  @Override
  public Integer call() {
    PrintWriter out = spec.commandLine().getOut();
    Map<String, Object> request = new LinkedHashMap<>();
    request.put("zone", zone);
    request.put("person", login);
    request.put("address", address);
    String path = "/api/gateways/" + RunningServer.encoded(gateway) + "/tries";
    JsonNode tried = server.json("POST", path, request);
    int status = tried.path("status").asInt();
    String end = tried.path("end").asText();
    out.println("the client got: " + end + (status == 0 ? "" : " " + status));
    JsonNode decided = tried.path("decided");
    String verdict = decided.path("verdict").asText("");
    if (!decided.isObject()) {
      out.println(gateway + " has not said what it decided");
    } else if (!decided.path("verdict").isTextual()) {
      out.println(gateway + ": it ended before it was decided");
    } else {
      boolean isRule = decided.path("rule").isTextual();
      out.println(
          gateway
              + ", release "
              + decided.path("release").asInt()
              + ": "
              + verdict
              + " by "
              + (isRule ? "rule " + decided.path("rule").asText() : "the default verdict"));
      if (!decided.path("probe").asText().isEmpty()) {
        out.println("  " + decided.path("probe").asText());
      }
    }
    boolean isStopped = decided.path("verdict").isTextual() && !verdict.equals("allow");
    boolean isAsWished = isToBeStopped ? isStopped : end.equals("answer") && !isStopped;
    return isAsWished ? Main.FINE : Main.ERRORS;
  }
}
