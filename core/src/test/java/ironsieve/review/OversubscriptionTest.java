package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.model.Lane;
import ironsieve.model.Parts;
import ironsieve.model.Rulebase;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Lanes that guarantee more than the link carries are told before anybody uses them. */
class OversubscriptionTest {

  private static Rulebase with(Lane lane, String... rules) {
    Rulebase plain = Rulebases.of(rules);
    Parts parts = plain.parts();
    return new Rulebase(
        plain.name(),
        plain.chapters(),
        new Parts(
            parts.sets(),
            parts.sheets(),
            parts.notices(),
            List.of(lane),
            parts.decryption(),
            new Lane.Rates(200_000, 200_000)),
        plain.defaultVerdict());
  }

  private static Lane callers(int clients) {
    return new Lane(
        "Callers", Lane.Scope.CLIENT, Lane.Rates.NONE, new Lane.Rates(5_000, 5_000), clients, "");
  }

  @Test
  void aLaneThatNoRuleUsesIsTold() {
    assertThat(Oversubscription.of(with(callers(60), "allow")))
        .containsExactly(
            "Lane Callers for 60 clients guarantees 300 Mbit/s up and 300 Mbit/s down in all; the"
                + " link carries 200 Mbit/s up and 200 Mbit/s down.");
    assertThat(Oversubscription.of(with(callers(40), "allow"))).isEmpty();
  }

  @Test
  void anEditIsToldOfWhatItAddsAndNotOfWhatWasSo() {
    Rulebase before = with(callers(60), "deny", "allow in Callers");
    assertThat(Oversubscription.added(before, with(callers(60), "allow in Callers"))).isEmpty();
    assertThat(
            Oversubscription.added(before, with(callers(60), "deny", "deny", "allow in Callers")))
        .isEmpty();
    assertThat(Oversubscription.added(with(callers(60), "deny"), before))
        .containsExactlyElementsOf(Oversubscription.of(before).subList(1, 2));
    assertThat(Oversubscription.added(before, with(callers(70), "deny", "allow in Callers")))
        .hasSize(2);
    assertThat(Oversubscription.added(with(callers(40), "deny", "allow in Callers"), before))
        .hasSize(2);
  }

  @Test
  void theRuleWithWhichItIsTooMuchIsTold() {
    assertThat(Oversubscription.of(with(callers(60), "deny", "allow in Callers")))
        .hasSize(2)
        .anyMatch(said -> said.startsWith("Rule 2: With this rule, lanes guarantee 300 Mbit/s"));
  }
}
