package ironsieve.gateway;

import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Knowledge;
import ironsieve.decide.Decider;
import ironsieve.decide.Fall;
import ironsieve.files.CompanyFolder;
import ironsieve.files.Manifest;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.Notice;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Service;
import ironsieve.model.Verdict;
import ironsieve.model.Zone;
import ironsieve.text.ProbeText;
import ironsieve.text.RulebaseReader;
import ironsieve.text.TextException;
import ironsieve.text.ValueText;
import ironsieve.traffic.identify.Identifier;
import ironsieve.traffic.identify.Seen;
import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.signature.SignatureBook;
import ironsieve.traffic.signature.SignatureMatcher;
import ironsieve.traffic.tape.TapeMaker;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/** A release as a gateway decides by it. Safe for use by many threads. */
final class Policy {

  private final int release;
  private final LocalDate day;
  private final Environment environment;
  private final Rulebase rulebase;
  private final Map<String, Rule> rules;
  private final Decider decider;
  private final SignatureMatcher matcher;
  private final boolean asksAnswers;
  private final ProbeText probes;

  /**
   * Compiles a release.
   *
   * @param texts its parts by name
   * @throws RuntimeException in words, if it cannot be read
   */
  Policy(Manifest manifest, Map<String, String> texts, LocalDate today) {
    release = manifest.release();
    day = today;
    CompanyFolder folder =
        new CompanyFolder(
            path ->
                Optional.ofNullable(texts.get(path))
                    .map(text -> text.getBytes(StandardCharsets.UTF_8))
                    .map(ByteArrayInputStream::new));
    environment = folder.environment(today);
    rulebase = RulebaseReader.read(texts.get(Manifest.RULEBASE)).rulebase();
    rules = rulebase.rules().stream().collect(Collectors.toMap(Rule::id, rule -> rule));
    decider = new Decider(CompiledRulebase.of(rulebase, environment));
    matcher = SignatureBook.of(folder, folder.company().edition()).matcher();
    asksAnswers = matcher.asksAnswers();
    probes = new ProbeText(environment);
  }

  /** The day that its surroundings are as of: people and names may be known until a day. */
  LocalDate day() {
    return day;
  }

  /** The zones that it knows. */
  List<Zone> zones() {
    return environment.zones();
  }

  /** The number of the release. */
  int release() {
    return release;
  }

  /**
   * What becomes of a connection by what is known of it.
   *
   * @param release the number of the release that says so
   * @param outcome nothing while it goes on only until more is known
   * @param rule the rule that caught it; nothing for the default verdict, or while nothing has
   */
  record Decision(
      int release, Connection connection, Optional<Outcome> outcome, Optional<Rule> rule) {

    boolean isSure() {
      return outcome.isPresent();
    }

    /** What happens to it; while that is not sure it is let through. */
    Verdict verdict() {
      return outcome.map(Outcome::verdict).orElse(Verdict.ALLOW);
    }

    /** Whether it goes no further, unless a person asks for it. */
    boolean isStopped() {
      return verdict() != Verdict.ALLOW;
    }
  }

  /** What becomes of a connection of which only the first packet is known. */
  Decision first(Client client, Target target, LocalDateTime at) {
    return unfold(
        connection(client, target, target.name(), ApplicationUse.UNRECOGNISED, at),
        Knowledge.FIRST_PACKET);
  }

  /**
   * Decides a connection by what its bytes have shown: of what it is used for what is stopped, or
   * else is not sure yet, or else came last.
   *
   * @param isAll whether it tells no more
   * @throws TextException if there can be no such connection in these surroundings
   */
  Decision decide(
      Client client, Target target, ConnectionFacts facts, boolean isAll, LocalDateTime at) {
    Identifier identifier = new Identifier(matcher);
    Decision worst = null;
    for (ConnectionFacts one : facts.each()) {
      boolean isToldAll = isAll || one.requests().stream().anyMatch(this::isToldAll);
      Optional<String> host = one.hostName().or(target::name);
      for (Seen.Use seen : identifier.uses(one).each()) {
        Decision next = decide(client, target, host, one, seen, isToldAll, at);
        worst = worst == null || gravity(next) >= gravity(worst) ? next : worst;
      }
    }
    return worst;
  }

  /** Whom a person may ask to go on does not come before what stops in any case. */
  private static int gravity(Decision one) {
    if (!one.isStopped()) {
      return one.isSure() ? 0 : 1;
    }
    return one.verdict() == Verdict.ASK ? 2 : 3;
  }

  /** A request tells all at once, unless signatures ask what is answered to it. */
  private boolean isToldAll(ConnectionFacts.Request request) {
    return request.isAnswered() || !asksAnswers;
  }

  private Decision decide(
      Client client,
      Target target,
      Optional<String> host,
      ConnectionFacts one,
      Seen.Use seen,
      boolean isToldAll,
      LocalDateTime at) {
    if (isToldAll) {
      return sure(connection(client, target, host, use(seen), at));
    }
    if (one.facts().isEmpty()) {
      return first(client, target, at);
    }
    ApplicationUse use = use(seen);
    boolean isCarrier = one.layers().stream().anyMatch(layer -> isNamed(use, layer));
    Knowledge knowledge =
        use.application().isEmpty() || isCarrier
            ? Knowledge.NAMED
            : use.feature().isPresent() ? Knowledge.READ : Knowledge.IDENTIFIED;
    return unfold(connection(client, target, host, use, at), knowledge);
  }

  private static boolean isNamed(ApplicationUse use, String layer) {
    return use.application().filter(layer::equals).isPresent();
  }

  /** Decides by these surroundings what was sure by others. */
  Decision again(Client client, Target target, Connection known, LocalDateTime at) {
    return sure(connection(client, target, known.to().host(), known.using(), at));
  }

  private Decision sure(Connection connection) {
    return new Decision(
        release, connection, Optional.of(decider.outcome(connection)), decider.decide(connection));
  }

  private Decision unfold(Connection connection, Knowledge knowledge) {
    Fall.Stage stage = decider.stage(connection, knowledge);
    return switch (stage.status()) {
      case PROVISIONAL -> new Decision(release, connection, Optional.empty(), Optional.empty());
      case DECIDED -> sure(connection);
      case STOPPED_EARLY ->
          new Decision(
              release,
              connection,
              Optional.of(stage.outcomes().get(0)),
              stage.rule().map(rules::get));
    };
  }

  /** The page that goes with an outcome. */
  Optional<Notice> notice(Outcome outcome) {
    return rulebase.parts().notices().stream()
        .filter(one -> outcome.notice().equals(Optional.of(one.name())))
        .findFirst();
  }

  /** A person by login. */
  Optional<Directory.Person> person(String login) {
    return environment.directory().person(login);
  }

  private ApplicationUse use(Seen.Use seen) {
    return seen.application()
        .flatMap(environment.catalogue()::application)
        .map(application -> TapeMaker.use(application, seen.feature(), seen.carrier()))
        .orElse(ApplicationUse.UNRECOGNISED);
  }

  /** With the name that its bytes ask for, which may be another than the client said before. */
  private Connection connection(
      Client client, Target target, Optional<String> host, ApplicationUse use, LocalDateTime at) {
    Connection said = connection(client, target, use, at);
    return new Connection(
        said.at(),
        said.from(),
        new Connection.Destination(said.to().place(), host),
        said.service(),
        said.using());
  }

  /** As a probe is filled in: a name that resolves to nothing here lies outside. */
  private Connection connection(
      Client client, Target target, ApplicationUse use, LocalDateTime at) {
    String from =
        "from "
            + client.zone()
            + " "
            + client.address()
            + client.person().map(login -> " as " + login).orElse("")
            + " to ";
    String using =
        " using "
            + ValueText.print(new Service(Service.TCP, target.port()))
            + " "
            + ValueText.print(use);
    try {
      return probes.parse(from + target.text() + using, at).connection();
    } catch (TextException e) {
      String outside =
          environment.zones().stream()
              .filter(zone -> zone.side() == Zone.Side.OUTSIDE)
              // The one that has all there is beside the others' networks, if there is one.
              .min(Comparator.comparing(zone -> !zone.networks().isEmpty()))
              .map(Zone::name)
              .orElseThrow(() -> e);
      return probes.parse(from + outside + " " + target.text() + using, at).connection();
    }
  }
}
