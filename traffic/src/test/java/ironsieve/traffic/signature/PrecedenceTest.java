package ironsieve.traffic.signature;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.model.Service;
import ironsieve.region.Address;
import ironsieve.traffic.DemoSignatures;
import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** Which of several signatures that hold decides, as the documents say it. */
class PrecedenceTest {

  private static final Map<String, Set<String>> RIDES_ON =
      Map.of("Films", Set.of("TLS"), "Shop", Set.of("TLS", "HTTP"));

  private static Signature edition(String application, String text) {
    return SignatureText.parse(application, false, text);
  }

  private static Signature own(String application, String text) {
    return SignatureText.parse(application, true, text);
  }

  private static ConnectionFacts shown(Fact... facts) {
    ConnectionFacts shown =
        new ConnectionFacts(new Service(Service.TCP, 443), Address.parse("203.0.113.10"));
    for (Fact fact : facts) {
      shown.add(fact);
    }
    return shown;
  }

  private static String name(List<Signature> signatures, ConnectionFacts shown, Fact... request) {
    Unit unit = new Unit(shown, List.of(request));
    List<SignatureMatcher.Match> found = new SignatureMatcher(signatures, RIDES_ON).run().one(unit);
    return found.isEmpty()
        ? ""
        : found.get(0).application() + found.get(0).feature().map(f -> "/" + f).orElse("");
  }

  private static Fact serverName(String name) {
    return Fact.of(Field.SERVER_NAME, name);
  }

  @Test
  void theLongerNameGoesBeforeTheShorter() {
    List<Signature> all =
        List.of(
            edition("Vuelo", "server name under vuelo.example, films.other.example"),
            edition("Films", "server name under films.vuelo.example"),
            edition("One", "server name is a.films.vuelo.example"));
    assertThat(name(all, shown(serverName("www.vuelo.example")))).isEqualTo("Vuelo");
    assertThat(name(all, shown(serverName("x.films.vuelo.example")))).isEqualTo("Films");
    assertThat(name(all, shown(serverName("a.films.vuelo.example")))).isEqualTo("One");
    assertThat(name(all, shown(serverName("films.other.example")))).isEqualTo("Vuelo");
    assertThat(name(all, shown(serverName("notvuelo.example")))).isEmpty();
  }

  @Test
  void theOrganisationsOwnGoesBeforeAnEditions() {
    List<Signature> all =
        List.of(
            edition("Films", "server name under films.vuelo.example"),
            own("Ours", "server name under vuelo.example"));
    assertThat(name(all, shown(serverName("films.vuelo.example")))).isEqualTo("Ours");
  }

  @Test
  void whatIsInsideGoesBeforeWhatItIsInsideOf() {
    List<Signature> all =
        List.of(
            edition("TLS", "protocol is TLS"),
            edition("HTTP", "protocol is HTTP"),
            edition("Shop", "client bytes starts GET"));
    ConnectionFacts both = shown(Fact.of(Field.PROTOCOL, "TLS"), Fact.of(Field.PROTOCOL, "HTTP"));
    assertThat(name(all, both)).isEqualTo("TLS");
    both.add(Fact.bytes(Field.CLIENT_BYTES, "GET / HTTP/1.1".getBytes()));
    assertThat(name(all, both)).isEqualTo("Shop");
  }

  @Test
  void aRequestNobodyKnowsInsideAnOpenedConnectionIsItsCarrier() {
    ConnectionFacts opened = shown(serverName("nobody.example"));
    opened.add(Fact.of(Field.PROTOCOL, "TLS"));
    opened.add(Fact.of(Field.PROTOCOL, "HTTP"));
    Unit unit = new Unit(opened, List.of(Fact.of(Field.PATH, "/x"), Fact.of(Field.METHOD, "GET")));
    assertThat(DemoSignatures.book(41).matcher().run().one(unit))
        .extracting(SignatureMatcher.Match::application)
        .containsExactly("TLS");
  }

  @Test
  void whatIsAskedOfARequestOneRequestMustHave() {
    List<Signature> all =
        List.of(
            edition("Shop", "server name under shop.example"),
            edition("Shop", "feature buy: method is POST and path starts /buy"));
    ConnectionFacts shop = shown(serverName("shop.example"));
    Fact post = Fact.of(Field.METHOD, "POST");
    Fact get = Fact.of(Field.METHOD, "GET");
    assertThat(name(all, shop, post, Fact.of(Field.PATH, "/buy/1"))).isEqualTo("Shop/buy");
    assertThat(name(all, shop, get, Fact.of(Field.PATH, "/buy/1"))).isEqualTo("Shop");
    shop.request(List.of(get, Fact.of(Field.PATH, "/buy/1")));
    shop.request(List.of(post, Fact.of(Field.PATH, "/look")));
    List<List<SignatureMatcher.Match>> found =
        new SignatureMatcher(all, RIDES_ON).run().identify(shop);
    assertThat(found).hasSize(2);
    List<String> features = new ArrayList<>();
    found.forEach(unit -> features.add(unit.get(0).feature().orElse("none")));
    assertThat(features).containsExactly("none", "none");
  }

  @Test
  void aFeatureOfAnotherApplicationIsNone() {
    List<Signature> all =
        List.of(
            edition("Shop", "server name under shop.example"),
            edition("Shop", "feature buy: path starts /buy"),
            edition("Other", "server name under other.example"));
    assertThat(name(all, shown(serverName("other.example")), Fact.of(Field.PATH, "/buy")))
        .isEqualTo("Other");
  }
}
