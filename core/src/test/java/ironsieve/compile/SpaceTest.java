package ironsieve.compile;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Connection.Place;
import ironsieve.model.Connection.Source;
import ironsieve.model.FieldName;
import ironsieve.model.Posture;
import ironsieve.model.Rulebase;
import ironsieve.model.Service;
import ironsieve.region.Address;
import ironsieve.region.Box;
import ironsieve.region.Weights;
import java.time.LocalDateTime;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class SpaceTest {

  private static final List<SmallWorld.Point> POINTS = SmallWorld.points();

  @Provide
  Arbitrary<Rulebase> rulebases() {
    return Rulebases.random(6);
  }

  private static CompiledRulebase compiled(Rulebase rulebase) {
    return CompiledRulebase.of(rulebase, SmallWorld.environment());
  }

  @Property(tries = 300)
  void aSampleLeadsBackToItsPoint(@ForAll("rulebases") Rulebase rulebase, @ForAll int seed) {
    Space space = compiled(rulebase).space();
    for (int i = 0; i < 20; i++) {
      SmallWorld.Point point = POINTS.get(Math.floorMod(seed + i * 7919, POINTS.size()));
      int[] at = space.point(point.connection());
      assertThat(space.point(space.sample(at))).isEqualTo(at);
    }
  }

  @ParameterizedTest
  @CsvSource({
    "using.services=tcp, Mail, 80",
    "using.services=udp/0, Files, 0",
    "using.services=udp/0 using.applications=Mail|unidentified, , 0",
    "using.services=udp/0 using.applications=Mail, Mail, 0",
    "using.services=udp/7 using.applications=Mail|Files, Mail, 7"
  })
  void anExampleIsWhatIsUsualOnItsPortIfTheBoxHasIt(String rule, String application, int port) {
    CompiledRulebase compiled = compiled(Rulebases.of("deny " + rule));
    Box box = compiled.boxes().get(0);
    int[] point = compiled.space().example(box);
    Connection sample = compiled.space().sample(point);
    assertThat(box.contains(point)).isTrue();
    assertThat(compiled.space().point(sample)).isEqualTo(point);
    assertThat(sample.using().application()).isEqualTo(Optional.ofNullable(application));
    assertThat(sample.service().detail()).isEqualTo(port);
  }

  @Property(tries = 200)
  void theIndexFindsTheFirstBoxAndAllBoxesThatMeet(@ForAll("rulebases") Rulebase rulebase) {
    CompiledRulebase compiled = compiled(rulebase);
    int[] numbers =
        IntStream.range(0, compiled.boxNumbers())
            .filter(number -> compiled.box(number) != null)
            .toArray();
    for (int each : numbers) {
      Box box = compiled.box(each);
      int[] expected =
          Arrays.stream(numbers).filter(b -> compiled.box(b).intersects(box)).toArray();
      assertThat(compiled.index().meeting(box).members()).isEqualTo(expected);
      int[] point = box.point().orElseThrow();
      int[] holding = Arrays.stream(numbers).filter(b -> compiled.box(b).contains(point)).toArray();
      assertThat(compiled.index().first(point)).isEqualTo(holding[0]);
      assertThat(compiled.index().first(point, holding[0] + 1))
          .isEqualTo(holding.length == 1 ? -1 : holding[1]);
    }
  }

  @Property(tries = 200)
  void theBoxesOfAClaimAreDisjointAndOneVersionEach(@ForAll("rulebases") Rulebase rulebase) {
    CompiledRulebase compiled = compiled(rulebase);
    for (CompiledRule rule : compiled.rules()) {
      for (int i = 0; i < rule.boxes().size(); i++) {
        assertThat(rule.boxes().get(i).isEmpty()).isFalse();
        for (int j = 0; j < i; j++) {
          assertThat(rule.boxes().get(i).intersects(rule.boxes().get(j))).isFalse();
        }
        Connection sample = compiled.space().sample(compiled.space().example(rule.boxes().get(i)));
        assertThat(sample.to().address().version())
            .isEqualTo(compiled.space().versionOf(rule.boxes().get(i)));
      }
    }
  }

  @Test
  void anExampleIsOnAPlausiblePort() {
    CompiledRulebase compiled =
        compiled(Rulebases.of("allow using.applications=Mail", "allow using.services=udp"));
    Space space = compiled.space();
    Connection mail = space.sample(space.example(compiled.rules().get(0).boxes().get(0)));
    assertThat(mail.service().protocol()).isEqualTo(Service.TCP);
    Connection udp = space.sample(space.example(compiled.rules().get(1).boxes().get(0)));
    assertThat(udp.service().protocol()).isEqualTo(Service.UDP);
  }

  private static Connection connection(
      String from, String to, Service service, ApplicationUse use) {
    return new Connection(
        LocalDateTime.of(2026, 11, 24, 9, 0),
        new Source(new Place("Inside", Address.parse(from)), Optional.empty(), Device.UNKNOWN),
        new Connection.Destination(new Place("Outside", Address.parse(to)), Optional.empty()),
        service,
        use);
  }

  @Test
  void whatCannotBeIsRefusedWithThePartAtFault() {
    Space space = compiled(Rulebases.of("allow")).space();
    Service web = new Service(Service.TCP, 443);
    ApplicationUse none = ApplicationUse.UNRECOGNISED;
    refused(
        space,
        connection("10.0.0.1", "2001:db8:1::1", web, none),
        FieldName.TO_NETWORKS,
        "IP versions");
    refused(
        space,
        connection("10.9.9.9", "192.0.2.1", web, none),
        FieldName.FROM_NETWORKS,
        "behind zone Inside");
    refused(
        space,
        connection("10.0.0.1", "192.0.2.1", new Service(Service.ICMPV6, 0), none),
        FieldName.SERVICES,
        "ICMPv6 for IPv6");
    ApplicationUse ghost =
        new ApplicationUse(Optional.of("Mail"), Optional.empty(), Optional.of("fly"));
    refused(
        space, connection("10.0.0.1", "192.0.2.1", web, ghost), FieldName.APPLICATIONS, "Mail/fly");
    Connection stranger = connection("10.0.0.1", "192.0.2.1", web, none);
    refused(
        space,
        new Connection(
            stranger.at(),
            new Source(
                stranger.from().place(),
                Optional.of("zed"),
                new Device("unknown", Posture.HEALTHY)),
            stranger.to(),
            web,
            none),
        FieldName.PEOPLE,
        "zed");
  }

  private static void refused(Space space, Connection connection, FieldName field, String words) {
    assertThatThrownBy(() -> space.point(connection))
        .isInstanceOfSatisfying(
            ImpossibleConnectionException.class, e -> assertThat(e.field()).isEqualTo(field))
        .hasMessageContaining(words);
  }

  @Test
  void whatNoRuleTellsApartIsOneAtom() {
    Space any = compiled(Rulebases.of("allow")).space();
    assertThat(any.whole(Dimension.PERSON.ordinal()).count()).isEqualTo(2);
    assertThat(any.whole(Dimension.USING.ordinal()).count()).isEqualTo(2);
    Space groups = compiled(Rulebases.of("allow from.people=group crew")).space();
    assertThat(groups.whole(Dimension.PERSON.ordinal()).count()).isEqualTo(3);
    Weights ofPeople = groups.weights()[Dimension.PERSON.ordinal()];
    assertThat(IntStream.range(0, ofPeople.count()).mapToObj(ofPeople::of))
        .containsExactlyInAnyOrder(2.0, 1.0, 1.0);
  }
}
