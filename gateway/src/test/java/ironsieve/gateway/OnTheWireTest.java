package ironsieve.gateway;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.gateway.Policy.Decision;
import ironsieve.model.Verdict;
import ironsieve.traffic.log.LoggedDecision;
import ironsieve.traffic.log.SyslogLine;
import java.io.IOException;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.time.ZoneId;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

/** Connections of real sockets, as they unfold. */
class OnTheWireTest {

  private static final Client INES = Wire.office("ines.halloran");
  private static final Client OTHER = Wire.office("mila.halloran");

  private static String rules(String... rules) {
    return "rulebase \"Wire\"\n  default verdict deny\n\n"
        + "notice stop \"No room\"\n  text No room for <this>.\n\n"
        + "notice ask \"For work\"\n  text Is it for work?\n\nchapter all \"All\"\n\n"
        + String.join("\n\n", rules)
        + "\n";
  }

  private static String rule(String id, String fields, String then) {
    return "rule " + id + " \"" + id + "\"\n" + fields + "  then: " + then;
  }

  private static final String ALL = rule("all", "", "allow");

  private static Verdict verdict(Decision decision) {
    assertThat(decision.isSure()).isTrue();
    return decision.verdict();
  }

  /** Whoever comes and goes without a word, and whoever finds nobody there, is told of too. */
  @Test
  void whatEndsBeforeItSaysAnythingIsToldAsWell() throws Exception {
    try (Wire wire =
        new Wire(rules(rule("no", "  to sites: cloakferry.example\n", "reject"), ALL))) {
      for (int i = 0; i < 3; i++) {
        Socket open = wire.open(INES, "page.example", 80).orElseThrow();
        int client = open.getLocalPort();
        open.close();
        String line = wire.logged.poll(20, TimeUnit.SECONDS);
        LoggedDecision told = SyslogLine.decision(line, ZoneId.systemDefault()).orElseThrow();
        assertThat(told.client()).isEqualTo(client);
      }
    }
  }

  /** What is asked for later in an open connection is decided by itself, before it goes on. */
  @Test
  void aLaterRequestIsDecidedByItself() throws Exception {
    String block = rule("no", "  to sites: cloakferry.example\n", "reject");
    try (Wire wire = new Wire(rules(block, ALL))) {
      Socket open = wire.open(INES, "page.example", 80).orElseThrow();
      for (int i = 0; i < 200; i++) {
        // More different requests than are kept of one connection.
        assertThat(Wire.asked(open, "GET", "page.example", "/" + i)).endsWith(Wire.PAGE);
        assertThat(wire.reached.take()).isEqualTo("page.example/" + i);
      }
      assertThat(Wire.asked(open, "GET", "cloakferry.example", "/")).isEqualTo("cut");
      assertThat(wire.reached).isEmpty();
      // By what it uses, too.
      // What is open is cut where it is let through no more.
      open = wire.open(INES, "page.example", 80).orElseThrow();
      assertThat(Wire.asked(open, "GET", "page.example", "/")).endsWith(Wire.PAGE);
      String none = rule("none", "  to sites: page.example\n", "reject");
      assertThat(wire.release(rules(none, ALL)).cut()).isEqualTo(1);
      assertThat(Wire.asked(open, "GET", "page.example", "/")).isEqualTo("cut");
      wire.reached.clear();
      wire.release(rules(rule("no", "  using applications: Cloakferry\n", "reject"), ALL));
      open = wire.open(INES, "page.example", 80).orElseThrow();
      assertThat(Wire.asked(open, "GET", "page.example", "/")).endsWith(Wire.PAGE);
      assertThat(Wire.asked(open, "GET", "cloakferry.example", "/")).isEqualTo("cut");
    }
  }

  /** A request that comes in small pieces is what it is, however long it takes. */
  @Test
  void aRequestInPiecesIsDecidedOnceItIsWhole() throws Exception {
    String only = rule("only", "  to sites: page.example\n", "allow");
    try (Wire wire = new Wire(rules(only))) {
      for (String host : new String[] {"page.example", "other.example"}) {
        Socket open = wire.open(INES, "nowhere.example", 80).orElseThrow();
        for (char letter : ("GET / HTTP/1.1\r\nHost: " + host + "\r\n\r\n").toCharArray()) {
          try {
            open.getOutputStream().write(letter);
            open.getOutputStream().flush();
          } catch (IOException e) {
            break;
          }
        }
        Decision decision = wire.next();
        assertThat(decision.connection().to().host()).contains(host);
        assertThat(verdict(decision))
            .isEqualTo(host.equals("page.example") ? Verdict.ALLOW : Verdict.DENY);
        if (verdict(decision) == Verdict.ALLOW) {
          assertThat(Wire.answer(open)).endsWith(Wire.PAGE);
        }
      }
      assertThat(wire.reached).containsExactly("page.example/");
    }
  }

  /** A release does not decide by less than a connection is about to say. */
  @Test
  void whatHasSaidNothingYetIsDecidedByAReleaseOnlyAsFarAsThatGoes() throws Exception {
    String only = rule("only", "  to sites: page.example\n  using applications: HTTP\n", "allow");
    try (Wire wire = new Wire(rules(ALL))) {
      Socket idle = wire.open(INES, "page.example", 80).orElseThrow();
      Socket half = wire.open(INES, "page.example", 80).orElseThrow();
      Socket other = wire.open(INES, "other.example", 80).orElseThrow();
      half.getOutputStream().write("GET /half HT".getBytes(StandardCharsets.UTF_8));
      SocksServer.Again again = wire.release(rules(only));
      assertThat(again.of()).isEqualTo(3);
      assertThat(again.cut()).isZero();
      half.getOutputStream()
          .write("TP/1.1\r\nHost: page.example\r\n\r\n".getBytes(StandardCharsets.UTF_8));
      assertThat(Wire.answer(half)).endsWith(Wire.PAGE);
      assertThat(Wire.asked(idle, "GET", "page.example", "/idle")).endsWith(Wire.PAGE);
      wire.decided.clear();
      Wire.ask(other, "GET", "other.example", "/");
      assertThat(verdict(wire.next())).isEqualTo(Verdict.DENY);
      assertThat(wire.reached).containsExactlyInAnyOrder("page.example/half", "page.example/idle");
    }
  }

  @Test
  void whatItsFirstPacketTellsIsToldAtOnce() throws Exception {
    try (Wire wire =
        new Wire(
            rules(
                rule("no", "  using services: tcp/8080\n", "reject"),
                rule("silent", "  using services: tcp/8081\n", "deny"),
                ALL))) {
      assertThat(wire.open(INES, "page.example", 8080)).isEmpty();
      assertThat(verdict(wire.next())).isEqualTo(Verdict.REJECT);
    }
  }

  /** A server that speaks first is heard, and what it says tells what it is. */
  @Test
  void aServerThatSpeaksFirstIsRecognisedByItsGreeting() throws Exception {
    String block = rule("no", "  using applications: SSH\n", "reject");
    try (Wire wire = new Wire(rules(ALL))) {
      Socket open = wire.open(INES, "page.example", 22).orElseThrow();
      byte[] greeting = open.getInputStream().readNBytes(Wire.GREETING.length());
      assertThat(new String(greeting, StandardCharsets.UTF_8)).isEqualTo(Wire.GREETING);
      assertThat(wire.release(rules(block, ALL)).of()).isEqualTo(1);
      Socket stopped = wire.open(INES, "page.example", 22).orElseThrow();
      stopped.getOutputStream().write(Wire.GREETING.getBytes(StandardCharsets.UTF_8));
      Decision last = wire.next();
      while (verdict(last) != Verdict.REJECT) {
        last = wire.next();
      }
      assertThat(last.connection().using().application()).contains("SSH");
    }
  }

  /**
   * A person is shown why; a page that asks goes on for whoever has said so, and for nobody else.
   */
  @Test
  void pagesAreShownAndAPersonGoesOnPastOneThatAsks() throws Exception {
    try (Wire wire =
        new Wire(
            rules(
                rule(
                    "asks",
                    "  note The line is dear & small.\n  to sites: *.games.example\n",
                    "ask For work"),
                rule("stops", "  to sites: stop.example\n", "stop No room"),
                ALL))) {
      String stop =
          Wire.asked(wire.open(INES, "stop.example", 80).orElseThrow(), "GET", "stop.example", "/");
      assertThat(stop)
          .startsWith("HTTP/1.1 403")
          .contains("No room for &lt;this&gt;.", "Ines Halloran", "stop.example")
          .doesNotContain("<this>", "<script");

      String path = "/a?b=c&d='";
      String ask = asked(wire, INES, "GET", path);
      assertThat(ask).contains("Is it for work?", "The line is dear &amp; small.");
      Matcher action = Pattern.compile("action=\"([^\"]+)\"").matcher(ask);
      assertThat(action.find()).isTrue();
      String goOn = action.group(1).replace("&amp;", "&").replace("&#39;", "'");
      // Another's word is worth nothing.
      assertThat(asked(wire, OTHER, "POST", goOn)).startsWith("HTTP/1.1 403");
      assertThat(asked(wire, INES, "POST", goOn))
          .startsWith("HTTP/1.1 303")
          .contains("Location: " + path + "\r\n");
      assertThat(asked(wire, INES, "GET", path)).endsWith(Wire.PAGE);
      assertThat(wire.reached.take()).isEqualTo("play.games.example" + path);
      assertThat(asked(wire, OTHER, "GET", path)).startsWith("HTTP/1.1 403");
      assertThat(wire.reached).isEmpty();
      // Where it leads back to is the same host.
      Matcher away =
          Pattern.compile("action=\"([^\"]+)\"")
              .matcher(asked(wire, OTHER, "GET", "//elsewhere.example/"));
      assertThat(away.find()).isTrue();
      assertThat(asked(wire, OTHER, "POST", away.group(1)))
          .contains("Location: /elsewhere.example/\r\n");
    }
  }

  private static String asked(Wire wire, Client client, String method, String path)
      throws IOException {
    try (Socket open = wire.open(client, "play.games.example", 80).orElseThrow()) {
      return Wire.asked(open, method, "play.games.example", path);
    }
  }

  /** What follows a request and is none is not passed on: a server might read it otherwise. */
  @Test
  void whatCannotBeReadIsNotPassedOn() throws Exception {
    try (Wire wire = new Wire(rules(ALL))) {
      Socket open = wire.open(INES, "page.example", 80).orElseThrow();
      assertThat(Wire.asked(open, "GET", "page.example", "/")).endsWith(Wire.PAGE);
      assertThat(wire.reached.take()).isEqualTo("page.example/");
      open.getOutputStream()
          .write("get / http\r\nHost: cloakferry.example\r\n\r\n".getBytes(StandardCharsets.UTF_8));
      String answer;
      try {
        answer = Wire.answer(open);
      } catch (IOException e) {
        answer = "cut";
      }
      assertThat(answer).isEqualTo("cut");
      assertThat(wire.reached).isEmpty();
      // A head that never ends.
      open = wire.open(INES, "page.example", 80).orElseThrow();
      String many = "X: " + "y".repeat(1 << 20);
      try {
        open.getOutputStream()
            .write(("GET / HTTP/1.1\r\n" + many + "\r\n\r\n").getBytes(StandardCharsets.UTF_8));
        answer = Wire.answer(open);
      } catch (IOException e) {
        answer = "cut";
      }
      assertThat(answer).isEqualTo("cut");
      assertThat(wire.reached).isEmpty();
    }
  }
}
