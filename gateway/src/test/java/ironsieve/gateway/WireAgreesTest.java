package ironsieve.gateway;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Cases;
import ironsieve.compile.CompiledRulebase;
import ironsieve.decide.Decider;
import ironsieve.gateway.Policy.Decision;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Environment;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Verdict;
import ironsieve.text.ProbeText;
import ironsieve.text.RulebaseReader;
import java.io.IOException;
import java.net.Socket;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;

/**
 * What becomes of a connection that real bytes unfold is what the core says of the whole of it: by
 * random rulebases of all that shows at one stage or another.
 */
class WireAgreesTest {

  private static final int RULEBASES = Cases.rounds(100);
  private static final int CONNECTIONS = 100;

  private static final List<String> FIELDS =
      List.of(
          "from zones: Offices",
          "from zones: Terminals; Ships",
          "from networks: 10.20.0.0/17",
          "from people: group Deck crew",
          "from people: mila.halloran",
          "from people not: ines.halloran",
          "from people: identified",
          "to zones: Internet",
          "to zones not: Internet",
          "to sites: page.example",
          "to sites: *.cloakferry.example; slipway.example",
          "to sites not: *.example",
          "to sites: category banking",
          "using applications: Cloakferry",
          "using applications: Slipway",
          "using applications: Slipway/upload; Penny Post/read",
          "using applications not: Slipway/download",
          "using applications: category mail",
          "using applications: HTTP",
          "using applications: category tunnels and anonymity; Wavecrest Radio/listen",
          "using services: tcp/80",
          "using services: tcp/8000-8090",
          "usual ports",
          "when times: mon-fri 06:00-22:00",
          "when times: set Night maintenance");

  private static final List<String> THEN =
      List.of(
          "allow", "allow", "allow", "deny", "reject", "reject", "stop No room", "ask For work");

  private static final List<Client> CLIENTS =
      List.of(
          Wire.office("ines.halloran"),
          Wire.office("mila.halloran"),
          new Client("Offices", "10.20.200.7", Optional.empty()),
          new Client("Terminals", "10.30.1.7", Optional.of("ines.halloran")));

  /** A request, and what it is by the catalogue's words, read by a person. */
  private record Request(String host, String method, String path, ApplicationUse use) {

    private static Request of(String host, String method, String path, String name, String part) {
      boolean isOwn = name.equals("HTTP");
      return new Request(
          host,
          method,
          path,
          new ApplicationUse(
              Optional.of(name),
              isOwn ? Optional.empty() : Optional.of("HTTP"),
              Optional.of(part).filter(text -> !text.isEmpty())));
    }
  }

  private static final List<Request> REQUESTS =
      List.of(
          Request.of("page.example", "GET", "/", "HTTP", ""),
          Request.of("www.ledgerline.example", "GET", "/", "HTTP", ""),
          Request.of("cloakferry.example", "GET", "/download", "Cloakferry", ""),
          Request.of("a.cloakferry.example", "POST", "/", "Cloakferry", ""),
          Request.of("slipway.example", "GET", "/download/7", "Slipway", "download"),
          Request.of("slipway.example", "PUT", "/upload", "Slipway", "upload"),
          Request.of("slipway.example", "GET", "/", "Slipway", ""),
          Request.of("penny-post.example", "GET", "/read", "Penny Post", "read"),
          Request.of("penny-post.example", "POST", "/send", "Penny Post", "send"),
          Request.of("wavecrest-radio.example", "GET", "/listen", "Wavecrest Radio", "listen"));

  private static <T> T any(Random random, List<T> all) {
    return all.get(random.nextInt(all.size()));
  }

  private static String rulebase(Random random) {
    StringBuilder text =
        new StringBuilder("rulebase \"Wire\"\n  default verdict ")
            .append(random.nextBoolean() ? "deny" : "allow")
            .append("\n\nset time \"Night maintenance\"\n  values: tue,thu 23:00-04:00\n")
            .append("\nnotice stop \"No room\"\n  text No room.\n")
            .append("\nnotice ask \"For work\"\n  text For work?\n\nchapter all \"All\"\n");
    int rules = 1 + random.nextInt(7);
    for (int i = 0; i < rules; i++) {
      List<String> fields = new ArrayList<>();
      for (int k = random.nextInt(4); k > 0; k--) {
        String field = any(random, FIELDS);
        String name = name(field);
        if (fields.stream().noneMatch(other -> name(other).equals(name))) {
          fields.add(field);
        }
      }
      fields.sort(java.util.Comparator.comparing(FIELDS::indexOf));
      text.append("\nrule r").append(i).append(" \"Rule ").append(i).append("\"\n");
      fields.forEach(field -> text.append("  ").append(field).append('\n'));
      text.append("  then: ").append(any(random, THEN)).append('\n');
    }
    return text.toString();
  }

  private static String name(String field) {
    return field.split(":")[0].replace(" not", "");
  }

  private final Environment environment = Wire.environment();
  private final ProbeText probes = new ProbeText(environment);

  private Connection connection(Client client, Request request, int port) {
    Connection bare =
        probes
            .parse(
                "from "
                    + client.zone()
                    + " "
                    + client.address()
                    + client.person().map(login -> " as " + login).orElse("")
                    + " to Internet "
                    + request.host()
                    + " using tcp/"
                    + port,
                LocalDateTime.now())
            .connection();
    return new Connection(bare.at(), bare.from(), bare.to(), bare.service(), request.use());
  }

  @Test
  void whatBecomesOfConnectionsIsWhatTheCoreSays() throws Exception {
    long seed = System.nanoTime();
    Random random = new Random(seed);
    int stopped = 0;
    int passed = 0;
    for (int i = 0; i < RULEBASES; i++) {
      String text = rulebase(random);
      Decider decider =
          new Decider(CompiledRulebase.of(RulebaseReader.read(text).rulebase(), environment));
      try (Wire wire = new Wire(text)) {
        for (int k = 0; k < CONNECTIONS; k++) {
          Client client = any(random, CLIENTS);
          Request request = any(random, REQUESTS);
          int port = any(random, List.of(80, 80, 8000, 8090));
          Connection whole = connection(client, request, port);
          Outcome wanted = decider.outcome(whole);
          String as = "seed " + seed + "\n" + text + "\n" + ProbeText.print(whole);
          Verdict verdict = wanted.verdict();
          Result result = tried(wire, client, request, port, verdict);
          assertThat(result.decision().outcome()).as(as).contains(wanted);
          if (result.isWhole()) {
            assertThat(result.decision().rule().map(Rule::id))
                .as(as)
                .isEqualTo(decider.decide(whole).map(Rule::id));
            assertThat(result.decision().connection().using()).as(as).isEqualTo(request.use());
          }
          assertThat(result.answer()).as(as).isEqualTo(answer(verdict));
          // Nothing of what is stopped gets as far as a server.
          assertThat(wire.reached.poll() != null).as(as).isEqualTo(verdict == Verdict.ALLOW);
          if (verdict == Verdict.ALLOW) {
            passed++;
          } else {
            stopped++;
          }
        }
      }
    }
    assertThat(stopped).isGreaterThan(100);
    assertThat(passed).isGreaterThan(100);
  }

  private static String answer(Verdict verdict) {
    return switch (verdict) {
      case ALLOW -> "the page";
      case DENY -> "nothing";
      case REJECT -> "cut";
      case ASK, STOP, ENROL -> "a notice";
    };
  }

  /**
   * What a client got.
   *
   * @param isWhole whether it was decided by all that it shows, and not by less that was enough
   */
  private record Result(Decision decision, String answer, boolean isWhole) {}

  private static Result tried(Wire wire, Client client, Request request, int port, Verdict verdict)
      throws IOException, InterruptedException {
    wire.decided.clear();
    Optional<Socket> open = wire.openOrSilent(client, request.host(), port);
    if (open.isEmpty()) {
      return new Result(wire.next(), "cut", false);
    }
    try (Socket socket = open.get()) {
      String answer = "nothing";
      if (verdict == Verdict.DENY) {
        // Who is not answered waits for ever; what was decided tells that nobody will.
        Wire.ask(socket, request.method(), request.host(), request.path());
      } else {
        String said = Wire.asked(socket, request.method(), request.host(), request.path());
        answer =
            said.endsWith(Wire.PAGE)
                ? "the page"
                : said.startsWith("HTTP/1.1 403") ? "a notice" : said;
      }
      Decision last = wire.next();
      boolean isWhole = last.connection().using().application().isPresent();
      while (!isWhole && !wire.decided.isEmpty()) {
        last = wire.next();
        isWhole = last.connection().using().application().isPresent();
      }
      return new Result(last, answer, isWhole);
    }
  }
}
