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
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Surroundings;
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

  private static final Surroundings OLD = WebWorld.surroundings();
  private static final List<Connection> ALL =
      WebWorld.WORLD.points().stream().map(SmallWorld.Point::connection).toList();

  /** Chat has moved, Mail is in another family, and there is a new Blip that rides on Seal. */
  private static Catalogue next() {
    List<Application> applications = new ArrayList<>();
    for (Application a : OLD.catalogue().applications()) {
      applications.add(
          switch (a.name()) {
            case "Chat" -> in(a, a.name(), "share", "Post");
            case "Mail" -> in(a, a.name(), "talk", "");
            default -> a;
          });
    }
    Application mail = OLD.catalogue().application("Mail").orElseThrow();
    Application.Wiring anyPort =
        new Application.Wiring(
            mail.wiring().content(), List.of(), mail.wiring().ridesOn(), List.of());
    applications.add(
        new Application(
            "Blip",
            new Application.Grouping("share", "Post", "Provider"),
            mail.worth(),
            mail.features(),
            anyPort,
            ""));
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

  @Provide
  Arbitrary<Rulebase> rulebases() {
    return Rulebases.random(WebWorld.WORLD, 6);
  }

  @Property(tries = 500)
  void whatIsListedChangesAndNothingElseDoes(
      @ForAll("rulebases") Rulebase rulebase, @ForAll long seed) {
    Impact impact = Comparison.ofEdition(rulebase, OLD, next(), 1_000_000);
    assertThat(impact.extent()).isEqualTo(Impact.Extent.COMPLETE);
    Twin before = new Twin(rulebase, OLD);
    Twin after = new Twin(rulebase, OLD.with(next()));
    List<Rule> on = rulebase.rules().stream().filter(Rule::isOn).toList();
    Random random = new Random(seed);
    for (int i = 0; i < 60; i++) {
      Connection connection = ALL.get(random.nextInt(ALL.size()));
      Connection seenBefore = connection;
      if (random.nextInt(3) == 0) {
        connection = using(connection, use("Blip", "Seal", random.nextBoolean() ? "send" : null));
        seenBefore = using(connection, use("Seal", null, null));
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
            "Mail MOVED: family Post → none",
            "Chat MOVED: category talk → share",
            "Blip NEW: share, exposure slight, family Post");
    assertThat(EditionChange.between(next(), OLD.catalogue()))
        .extracting(EditionChange::kind)
        .contains(EditionChange.Kind.GONE);
  }

  @Test
  void otherCarriersOrPortsMakeTheImpactPartial() {
    List<Application> rewired = new ArrayList<>();
    for (Application a : OLD.catalogue().applications()) {
      Application.Wiring wiring =
          new Application.Wiring(
              a.wiring().content(), List.of(), a.wiring().ridesOn(), a.wiring().needs());
      rewired.add(new Application(a.name(), a.grouping(), a.worth(), a.features(), wiring, ""));
    }
    Impact impact =
        Comparison.ofEdition(
            Rulebases.of("allow using.applications=Chat"), OLD, new Catalogue(2, rewired), 1_000);
    assertThat(impact.extent()).isEqualTo(Impact.Extent.PARTIAL);
  }
}
