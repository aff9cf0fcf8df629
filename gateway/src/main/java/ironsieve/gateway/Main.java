package ironsieve.gateway;

import ironsieve.gateway.ReleaseFolder.Identity;
import ironsieve.text.ProbeText;
import java.io.IOException;
import java.net.URI;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Consumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** A gateway as a process of its own. */
@Command(
    name = "sieve gateway",
    description = {
      "A stand-in of a gateway: fetches releases from a server, checks them, and decides real",
      "connections by them. Clients come in over SOCKS5 on loopback."
    },
    mixinStandardHelpOptions = true)
public final class Main implements Callable<Integer> {

  private static final Pattern CLIENTS = Pattern.compile("([^=]+)=(\\d+):([^/]+)(/(.+))?");

  @Option(names = "--server", required = true, paramLabel = "URL", description = "the server")
  private URI server;

  @Option(
      names = "--code",
      paramLabel = "CODE",
      description = "enrols with it; not needed once that is done")
  private String code;

  @Option(
      names = "--state",
      required = true,
      paramLabel = "FOLDER",
      description = "what it keeps over a restart")
  private Path state;

  @Option(
      names = "--clients",
      paramLabel = "ZONE=PORT:ADDRESS[/LOGIN]",
      description =
          "a port for clients of a zone, the source address they have, and who they are; several")
  private List<String> clients = List.of();

  @Option(
      names = "--ports",
      paramLabel = "PORT",
      description =
          "the first of the ports for the clients of each zone that a release knows; who they are"
              + " they say themselves, with a login and any password")
  private Optional<Integer> ports = Optional.empty();

  @Option(
      names = "--servers",
      required = true,
      paramLabel = "[PORT=]PORT",
      description = "where destinations are reached on loopback: all of them, or those of a port")
  private List<String> servers;

  /** Runs it until it is stopped. */
  public static void main(String... arguments) {
    System.exit(new CommandLine(new Main()).execute(arguments));
  }

  @Override
  public Integer call() throws Exception {
    ReleaseFolder folder = new ReleaseFolder(state);
    ServerLink link = new ServerLink(server);
    Identity own = identity(folder, link);
    Consumer<String> say = text -> System.out.println(own.gateway() + ": " + text);
    // Clients ask what is in force; it is known only after what they come in by is made.
    AtomicReference<Updates> following = new AtomicReference<>();
    try (ConnectionLog log = new ConnectionLog(own.gateway(), new Telling(link, own, say));
        SocksServer socks =
            new SocksServer(
                () -> Optional.ofNullable(following.get()).flatMap(Updates::policy),
                Surroundings.of(new Destinations(servers), log, Main::print, say))) {
      Optional<ZonePorts> zones =
          ports.isEmpty()
              ? Optional.empty()
              : Optional.of(new ZonePorts(socks, folder, ports.get(), say));
      Updates.Listening listening =
          policy -> {
            if (zones.isPresent()) {
              zones.get().listen(policy);
            }
            SocksServer.Again again = socks.decideAgain(policy);
            return again.of() == 0
                ? ""
                : again.cut() + " of " + again.of() + " open connections were cut";
          };
      following.set(new Updates(link, folder, own, say, listening));
      // Nobody comes in before what was in force is in force again.
      for (String text : clients) {
        listen(socks, text);
      }
      following.get().follow();
    }
    return 0;
  }

  private static void listen(SocksServer socks, String text) {
    Matcher parts = CLIENTS.matcher(text);
    if (!parts.matches()) {
      throw new IllegalArgumentException(
          "\"" + text + "\": clients are written ZONE=PORT:ADDRESS or ZONE=PORT:ADDRESS/LOGIN");
    }
    Client client = new Client(parts.group(1), parts.group(3), Optional.ofNullable(parts.group(5)));
    int port = socks.listen(client, Integer.parseInt(parts.group(2)));
    System.out.println("clients of " + client.zone() + ": socks5h://127.0.0.1:" + port);
  }

  /** Sends the log, and says why it cannot: once of each reason that comes again. */
  private static final class Telling implements ConnectionLog.Taker {

    private final ServerLink link;
    private final Identity own;
    private final Consumer<String> say;
    private String trouble = "";

    private Telling(ServerLink link, Identity own, Consumer<String> say) {
      this.link = link;
      this.own = own;
      this.say = say;
    }

    @Override
    public void take(List<String> lines, long dropped) throws IOException, InterruptedException {
      try {
        say(link.log(own, lines, dropped));
      } catch (IOException e) {
        say("it cannot be told what was decided, and waits: " + e.getMessage());
        throw e;
      }
    }

    private void say(String text) {
      if (!text.isEmpty() && !text.equals(trouble)) {
        say.accept("log: " + text);
      }
      trouble = text;
    }
  }

  private static void print(Policy.Decision decision) {
    System.out.println(
        decision.verdict().word()
            + " by "
            + decision.rule().map(rule -> "rule " + rule.id()).orElse("the default verdict")
            + ": "
            + ProbeText.print(decision.connection()));
  }

  private Identity identity(ReleaseFolder folder, ServerLink link)
      throws IOException, InterruptedException {
    Optional<Identity> known = folder.identity();
    if (known.isPresent()) {
      return known.get();
    }
    if (code == null) {
      throw new IllegalArgumentException("it is not enrolled yet; give it a code with --code");
    }
    Identity own = link.enrol(code);
    folder.keep(own);
    return own;
  }
}
