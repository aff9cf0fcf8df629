package ironsieve.cli;

import java.io.PrintWriter;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Puts a release in force that was made before. */
@Command(
    name = "rollback",
    description = "Puts an earlier release in force again; the draft stays as it is.",
    mixinStandardHelpOptions = true)
final class RollbackCommand implements Callable<Integer> {

  @Parameters(index = "0", paramLabel = "RULEBASE", description = "its id")
  private String rulebase;

  @Parameters(index = "1", paramLabel = "RELEASE", description = "its number")
  private int release;

  @Option(names = "--look", description = "only say what it would do")
  private boolean isLook;

  @Mixin private RunningServer server;

  @Spec private CommandSpec spec;

  @Override
  public Integer call() {
    PrintWriter out = spec.commandLine().getOut();
    String path = "/api/rulebases/" + RunningServer.encoded(rulebase) + "/releases/" + release;
    ReleaseCommand.tellEffect(out, server.json("GET", path + "/preview", null));
    if (!isLook) {
      server.send("POST", path + "/deliver", Map.of());
      out.println("release " + release + " is on its way to the gateways");
    }
    return Main.FINE;
  }
}
