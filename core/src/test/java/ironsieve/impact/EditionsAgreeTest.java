package ironsieve.impact;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.Twin;
import ironsieve.WebWorld;
import ironsieve.model.Application;
import ironsieve.model.Catalogue;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Environment;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

/** The impact of a new edition is what asking both editions about every application says. */
class EditionsAgreeTest {

  private static final Environment OLD = WebWorld.environment();
  private static final List<Connection> ALL =
      WebWorld.WORLD.points().stream().map(SmallWorld.Point::connection).toList();

  /**
   * Chat has moved, Mail is in another family and on another port, and there is a new Blip that
   * rides on Seal or on Pipe, on a port that is usual for neither.
   */
  private static Catalogue next() {
    List<Application> applications = new ArrayList<>();
    for (Application a : OLD.catalogue().applications()) {
      applications.add(
          switch (a.name()) {
            case "Chat" -> in(a, a.name(), "share", "Post");
            case "Mail" -> on(in(a, a.name(), "talk", ""), a.wiring().ridesOn(), "udp");
            default -> a;
          });
    }
    Application mail = OLD.catalogue().application("Mail").orElseThrow();
    applications.add(on(in(mail, "Blip", "share", "Post"), List.of("Seal", "Pipe"), "tcp/80"));
    return new Catalogue(2, applications);
  }

  private static Application in(Application like, String name, String category, String family) {
    return new Application(
        name,
        new Application.Grouping(category, family, "Provider"),
        like.worth(),
        like.features(),
        like.wiring(),
        "");
  }

  private static Application on(Application like, List<String> ridesOn, String port) {
    Application.Wiring wiring = like.wiring();
    return new Application(
        like.name(),
        like.grouping(),
        like.worth(),
        like.features(),
        new Application.Wiring(
            wiring.content(),
            List.of((Value.ServiceRange) ValueText.parse(ValueKind.SERVICE, port)),
            ridesOn,
            wiring.needs()),
        "");
  }

  @Provide
  Arbitrary<Rulebase> rulebases() {
    return Rulebases.random(WebWorld.WORLD, 6);
  }

  private static Impact ofEdition(Rulebase rulebase, Catalogue next, int budget) {
    return Comparison.ofSurroundings(rulebase, OLD, OLD.with(next), budget);
  }

  @Property(tries = 500)
  void whatIsListedChangesAndNothingElseDoes(
      @ForAll("rulebases") Rulebase rulebase, @ForAll long seed) {
    Impact impact = ofEdition(rulebase, next(), 1_000_000);
    assertThat(impact.extent()).isEqualTo(Impact.Extent.COMPLETE);
    Twin before = new Twin(rulebase, OLD);
    Twin after = new Twin(rulebase, OLD.with(next()));
    List<Rule> on = rulebase.rules().stream().filter(Rule::isOn).toList();
    Random random = new Random(seed);
    for (int i = 0; i < 60; i++) {
      Connection connection = ALL.get(random.nextInt(ALL.size()));
      Connection seenBefore = connection;
      if (random.nextInt(3) == 0) {
        String carrier = random.nextBoolean() ? "Seal" : "Pipe";
        connection = using(connection, use("Blip", carrier, random.nextBoolean() ? "send" : null));
        seenBefore = using(connection, use(carrier, null, null));
      }
      Outcome was = before.outcome(on, seenBefore);
      Outcome becomes = after.outcome(on, connection);
      int[] at = impact.space().point(connection);
      List<Impact.Kind> kinds =
          impact.kinds().stream()
              .filter(kind -> kind.boxes().stream().anyMatch(box -> box.contains(at)))
              .toList();
      assertThat(kinds).as("%s", connection).hasSize(was.equals(becomes) ? 0 : 1);
      for (Impact.Kind kind : kinds) {
        assertThat(kind.before().outcome()).isEqualTo(was);
        assertThat(kind.after().outcome()).isEqualTo(becomes);
      }
    }
  }

  private static Connection using(Connection c, ApplicationUse use) {
    return new Connection(c.at(), c.from(), c.to(), c.service(), use);
  }

  private static ApplicationUse use(String application, String carrier, String feature) {
    return new ApplicationUse(
        Optional.of(application), Optional.ofNullable(carrier), Optional.ofNullable(feature));
  }

  @Test
  void everyChangeIsSaidInWords() {
    assertThat(EditionChange.between(OLD.catalogue(), next()))
        .extracting(c -> c.application() + " " + c.kind() + ": " + String.join("; ", c.words()))
        .containsExactly(
            "Mail MOVED: family Post → none; other usual ports",
            "Chat MOVED: category talk → share",
            "Blip NEW: share, exposure slight, family Post");
    assertThat(EditionChange.between(next(), OLD.catalogue()))
        .extracting(EditionChange::kind)
        .contains(EditionChange.Kind.GONE);
  }

  @Test
  void aRuleAboutACarrierSaysNothingOfWhatRidesOnAnother() {
    List<Impact.Kind> kinds =
        ofEdition(Rulebases.of("allow using.applications=Seal"), next(), 1_000).kinds();
    assertThat(kinds).hasSize(1);
    assertThat(kinds.get(0).words().toString()).contains("Blip over Seal").doesNotContain("Pipe");
  }

  @Test
  void otherCarriersMakeTheImpactPartial() {
    List<Application> rewired = new ArrayList<>();
    for (Application a : OLD.catalogue().applications()) {
      Application.Wiring wiring =
          new Application.Wiring(
              a.wiring().content(),
              a.wiring().usualPorts(),
              a.wiring().ridesOn().isEmpty() ? List.of() : List.of("Pipe"),
              a.wiring().needs());
      rewired.add(new Application(a.name(), a.grouping(), a.worth(), a.features(), wiring, ""));
    }
    Impact impact =
        ofEdition(Rulebases.of("allow using.applications=Chat"), new Catalogue(2, rewired), 1_000);
    assertThat(impact.extent()).isEqualTo(Impact.Extent.PARTIAL);
  }
}
