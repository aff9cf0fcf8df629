package ironsieve.text;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.WebWorld;
import ironsieve.World;
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
  private final ProbeText probes = new ProbeText(SmallWorld.environment());

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
    "TIME, mon-sun",
    "NETWORK, host shop.example",
    "NETWORK, country XA",
    "NETWORK, list Known scanners",
    "PERSON, home port=Saltmere",
    "SITE, shop.example",
    "SITE, *.shop.example",
    "SITE, category News",
    "SITE, no host name",
    "APPLICATION, where exposure >= serious and category != mail",
    "APPLICATION, where name = Hullmail and exposure >= serious",
    "APPLICATION, category chat but not Chatterbay",
    "APPLICATION, family Hull but not Hull Identity nor Hullmail",
    "APPLICATION, where needs = DNS"
  })
  void everyValueIsWrittenAsItIsRead(ValueKind kind, String text) {
    assertThat(ValueText.print(ValueText.parse(kind, text))).isEqualTo(text);
  }

  @Test
  void aReservedWordIsNoHostNameHoweverItIsWritten() {
    assertThat(ValueText.print(ValueText.parse(ValueKind.SITE, "NameLess")))
        .isEqualTo("no host name");
    assertThat(ValueText.print(ValueText.parse(ValueKind.SITE, "Shop.Example")))
        .isEqualTo("shop.example");
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
    "PERSON, ' ', missing",
    "NETWORK, country Xanadu, two capital letters",
    "SITE, shop..example, no host name",
    "SITE, *.-x.example, no host name",
    "APPLICATION, where exposure >= dreadful, 'slight, moderate, serious, severe'",
    "APPLICATION, where category >= mail, no more and no less",
    "APPLICATION, where colour = red, none of name, exposure",
    "APPLICATION, where exposure, compares nothing",
    "APPLICATION, category chat but not Chatterbay/upload, whole applications are left out",
    "APPLICATION, category chat but not A nor  nor B, say which application is left out"
  })
  void whatCannotBeReadIsRefusedWithWhatWouldBeRight(ValueKind kind, String text, String hint) {
    assertThatThrownBy(() -> ValueText.parse(kind, text))
        .isInstanceOf(TextException.class)
        .hasMessageContaining(hint);
  }

  @ParameterizedTest
  @CsvSource({
    "allow",
    "allow in Fast lane",
    "deny",
    "reject",
    "ask Think twice",
    "stop No",
    "enrol Cure"
  })
  void everyOutcomeIsWrittenAsItIsRead(String text) {
    assertThat(OutcomeText.print(OutcomeText.parse(text))).isEqualTo(text);
  }

  @ParameterizedTest
  @CsvSource({
    "permit, outcomes are allow [in LANE]",
    "ask, say which notice",
    "deny in Fast, no outcome",
    "allow Fast, no outcome"
  })
  void whatIsNoOutcomeIsRefused(String text, String hint) {
    assertThatThrownBy(() -> OutcomeText.parse(text))
        .isInstanceOf(TextException.class)
        .hasMessageContaining(hint);
  }

  @Provide
  Arbitrary<Case> said() {
    return World.any()
        .flatMap(
            world ->
                Arbitraries.of(world.points()).map(point -> new Case(world, point.connection())));
  }

  private record Case(World world, Connection connection) {}

  @Property
  void everyProbeIsReadBackFromItsText(@ForAll("said") Case said) {
    ProbeText.Probe probe =
        new ProbeText(said.world().environment()).parse(ProbeText.print(said.connection()), NOW);
    assertThat(probe.connection()).isEqualTo(said.connection());
    assertThat(probe.filledIn())
        .isSubsetOf(ProbeText.Detail.PERSON, ProbeText.Detail.DEVICE, ProbeText.Detail.SITE);
  }

  @Test
  void aHostNameGivesTheAddressItResolvesTo() {
    ProbeText web = new ProbeText(WebWorld.environment());
    assertThat(
            ProbeText.print(
                web.parse(
                        "from 10.0.0.1 to Inside SHOP.example using files over pipe at mon 10:00",
                        NOW)
                    .connection()))
        .isEqualTo(
            "from Inside 10.0.0.1 to Inside 10.0.0.2 shop.example using tcp/0 Files over Pipe at"
                + " mon 2026-11-23 10:00");
    assertThatThrownBy(() -> web.parse("from Inside to nowhere.example", NOW))
        .hasMessageContaining("resolves to no address");
    assertThatThrownBy(() -> web.parse("from Inside to Outside using Mail over Pipe", NOW))
        .hasMessageContaining("Mail rides on Seal");
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
    "'from Inside to Nowhere', 15, an address or a host name",
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
        .isEqualTo("Deny anybody from Inside to anything but Inside using Mail or Chat.");
    assertThat(Sentence.of(Rulebases.rule("allow")))
        .startsWith("Allow anybody from anywhere to anywhere");
  }
}
