package ironsieve.gateway;

import ironsieve.compile.CompiledRulebase;
import ironsieve.decide.Decider;
import ironsieve.files.CompanyFolder;
import ironsieve.files.Manifest;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Environment;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
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

/** A release as a gateway decides by it. Safe for use by many threads. */
final class Policy {

  private final int release;
  private final LocalDate day;
  private final Environment environment;
  private final Decider decider;
  private final SignatureMatcher matcher;
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
    decider =
        new Decider(
            CompiledRulebase.of(
                RulebaseReader.read(texts.get(Manifest.RULEBASE)).rulebase(), environment));
    matcher = SignatureBook.of(folder, folder.company().edition()).matcher();
    probes = new ProbeText(environment);
  }

  /** The day that its surroundings are as of: people and names may be known until a day. */
  LocalDate day() {
    return day;
  }

  /** Whether it knows a person by a login. */
  boolean knows(String login) {
    return environment.directory().person(login).isPresent();
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
   * What becomes of a connection.
   *
   * @param rule the rule that caught it; nothing for the default verdict
   */
  record Decision(Connection connection, Outcome outcome, Optional<Rule> rule) {}

  /**
   * Decides a connection: where it was used for several things, the first that is not let through,
   * or what it was used for last.
   *
   * @param facts what its bytes have shown
   * @throws TextException if there can be no such connection in these surroundings
   */
  Decision decide(Client client, Target target, ConnectionFacts facts, LocalDateTime at) {
    Decision decision = null;
    for (Seen.Use seen : new Identifier(matcher).uses(facts).each()) {
      Connection connection = connection(client, target, use(seen), at);
      decision = new Decision(connection, decider.outcome(connection), decider.decide(connection));
      if (decision.outcome().verdict() != Verdict.ALLOW) {
        return decision;
      }
    }
    return decision;
  }

  private ApplicationUse use(Seen.Use seen) {
    return seen.application()
        .flatMap(environment.catalogue()::application)
        .map(application -> TapeMaker.use(application, seen.feature(), seen.carrier()))
        .orElse(ApplicationUse.UNRECOGNISED);
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
