package ironsieve.text;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.model.Connection;
import ironsieve.model.ValueKind;
import java.time.LocalDateTime;
import java.util.List;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class TextsTest {

  private static final LocalDateTime NOW = LocalDateTime.of(2026, 11, 23, 9, 0);
  private final ProbeText probes = new ProbeText(SmallWorld.surroundings());

  @ParameterizedTest
  @CsvSource({
    "NETWORK, 10.20.0.0/16",
    "NETWORK, 10.0.0.1-10.0.0.9",
    "NETWORK, 2001:db8::/32",
    "NETWORK, set A b",
    "PERSON, ada",
    "PERSON, group Deck crew",
    "PERSON, unidentified",
    "DEVICE, tablet",
    "DEVICE, 'any device, healthy'",
    "SERVICE, tcp/443",
    "SERVICE, udp/5000-5100",
    "SERVICE, icmp/8",
    "SERVICE, icmp/3.4",
    "SERVICE, ip/47",
    "SERVICE, tcp",
    "APPLICATION, Mail",
    "APPLICATION, Mail/send",
    "APPLICATION, family Post",
    "APPLICATION, category file sharing",
    "TIME, mon-fri 08:00-18:00",
    "TIME, '..2026-03-31'",
    "TIME, '2026-04-01..2026-09-30 sat,sun'",
    "TIME, 22:00-06:00",
    "TIME, 'mon,wed,fri'",
    "TIME, mon-sun"
  })
  void everyValueIsWrittenAsItIsRead(ValueKind kind, String text) {
    assertThat(ValueText.print(ValueText.parse(kind, text))).isEqualTo(text);
  }

  @ParameterizedTest
  @CsvSource({
    "NETWORK, 10.20.0.7/16, 10.20.0.0/16",
    "NETWORK, 10.0.0.9-10.0.0.1, upwards",
    "NETWORK, 10.0.0.0/33, 0 to 32",
    "SERVICE, tcp/70000, 0 to 65535",
    "SERVICE, http, tcp/443",
    "SERVICE, icmp/300, 0 to 255",
    "SERVICE, tcp/9-8, upwards",
    "TIME, mon-fry, mon to sun",
    "TIME, 25:00-26:00, no time",
    "TIME, 2026-02-30.., no day",
    "TIME, 2026-05-01..2026-04-01, before it begins",
    "DEVICE, 'tablet, sick', healthy",
    "PERSON, ' ', missing"
  })
  void whatCannotBeReadIsRefusedWithWhatWouldBeRight(ValueKind kind, String text, String hint) {
    assertThatThrownBy(() -> ValueText.parse(kind, text))
        .isInstanceOf(TextException.class)
        .hasMessageContaining(hint);
  }

  @Provide
  Arbitrary<Connection> connections() {
    List<SmallWorld.Point> points = SmallWorld.points();
    return Arbitraries.integers()
        .between(0, points.size() - 1)
        .map(i -> points.get(i).connection());
  }

  @Property
  void everyProbeIsReadBackFromItsText(@ForAll("connections") Connection connection) {
    ProbeText.Probe probe = probes.parse(ProbeText.print(connection), NOW);
    assertThat(probe.connection()).isEqualTo(connection);
    assertThat(probe.filledIn()).isSubsetOf(ProbeText.Detail.PERSON, ProbeText.Detail.DEVICE);
  }

  @Test
  void aProbeIsFilledInFromWhatIsKnown() {
    ProbeText.Probe probe =
        probes.parse("to Outside using mail/send from 10.0.0.2 at tue 09:30", NOW);
    assertThat(ProbeText.print(probe.connection()))
        .isEqualTo(
            "from Inside 10.0.0.2 to Outside 192.0.2.1 using tcp/80 Mail/send at tue 2026-11-24 09:30");
    assertThat(probe.filledIn())
        .contains(ProbeText.Detail.FROM_ZONE, ProbeText.Detail.SERVICE)
        .doesNotContain(ProbeText.Detail.TIME, ProbeText.Detail.FROM_ADDRESS);
  }

  @ParameterizedTest
  @CsvSource({
    "'from Inside to Nowhere', 15, zone or an address",
    "'from Inside', 11, say where it goes",
    "'to Inside', 9, say where it comes from",
    "'from Inside as bob to Outside', 15, bob",
    "'from Inside to Outside using Mail/fly', 34, send",
    "'from 10.0.0.1 to 99.0.0.1', 25, behind no zone",
    "'from Inside from Outside', 16, twice",
    "hello, 0, begins with"
  })
  void aProbeThatCannotBeReadSaysWhere(String text, int position, String hint) {
    assertThatThrownBy(() -> probes.parse(text, NOW))
        .isInstanceOfSatisfying(
            TextException.class, e -> assertThat(e.position()).isEqualTo(position))
        .hasMessageContaining(hint);
  }

  @ParameterizedTest
  @CsvSource({
    "'', from",
    "'from In', Inside",
    "'from Inside as a', ada",
    "'from Inside to Outside using Mail/', send",
    "'from Inside to Outside using fil', Files",
    "'from Inside ', as"
  })
  void completionOffersWhatCanStandThere(String text, String choice) {
    assertThat(probes.complete(text).choices())
        .extracting(ProbeText.Completion::text)
        .contains(choice);
  }

  @Property(tries = 300)
  void whateverIsTypedIsEitherReadOrRefusedWithAPlace(@ForAll("babble") List<String> words) {
    String text = String.join(" ", words);
    try {
      assertThat(probes.parse(text, NOW).connection()).isNotNull();
    } catch (TextException e) {
      assertThat(e.position()).isBetween(0, text.length());
    }
    assertThat(probes.complete(text).from()).isBetween(0, text.length());
  }

  @Provide
  Arbitrary<List<String>> babble() {
    return Arbitraries.of(
            "from",
            "to",
            "as",
            "on",
            "using",
            "at",
            "Inside",
            "ada",
            "10.0.0.1",
            "Mail/",
            "Mail",
            "tcp/x",
            "tue",
            "9:77",
            "::",
            "/")
        .list()
        .ofMaxSize(9);
  }

  @Test
  void aRuleReadsAsASentence() {
    assertThat(
            Sentence.of(
                Rulebases.rule(
                    "deny from.zones=Inside to.zones=!Inside using.applications=Mail|Chat")))
        .isEqualTo("Silently stop anybody from Inside to anything but Inside using Mail or Chat.");
    assertThat(Sentence.of(Rulebases.rule("allow")))
        .startsWith("Let through anybody from anywhere to anywhere");
  }
}
