package ironsieve.impact;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.Twin;
import ironsieve.model.Application;
import ironsieve.model.Atlas;
import ironsieve.model.Catalogue;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Connection.Place;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.Range;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

/** The impact of other surroundings is what asking in both about every connection says. */
class SurroundingsAgreeTest {

  @Provide
  Arbitrary<Rulebases.Case> cases() {
    return Rulebases.cases(6);
  }

  @Property(tries = 1500)
  void whatIsListedChangesAndNothingElseDoes(
      @ForAll("cases") Rulebases.Case given, @ForAll long seed) {
    Random random = new Random(seed);
    Environment before = given.world().environment();
    Environment after = changed(before, random);
    Rulebase rulebase = given.rulebase();
    Impact impact = Comparison.ofSurroundings(rulebase, before, after, 1_000_000);
    Twin was = new Twin(rulebase, before);
    Twin becomes = new Twin(rulebase, after);
    List<Rule> on = rulebase.rules().stream().filter(Rule::isOn).toList();
    for (int i = 0; i < 60; i++) {
      Connection any =
          given.world().points().get(random.nextInt(given.world().points().size())).connection();
      if (any.at().toLocalDate().isBefore(SmallWorld.TODAY)) {
        continue;
      }
      Connection seen = varied(any, random);
      if (!isAnywhere(seen, List.of(before, after))) {
        continue;
      }
      Optional<Connection> then = in(before, seen);
      Optional<Connection> later = in(after, seen);
      if (then.isEmpty() || later.isEmpty()) {
        continue;
      }
      Outcome old = was.outcome(on, then.get());
      Outcome next = becomes.outcome(on, later.get());
      List<Impact.Kind> kinds = kinds(impact, seen, then.get(), later.get());
      assertThat(kinds).as("%s", seen).hasSize(old.equals(next) ? 0 : 1);
      for (Impact.Kind kind : kinds) {
        assertThat(kind.before().outcome()).isEqualTo(old);
        assertThat(kind.after().outcome()).isEqualTo(next);
      }
    }
    for (Impact.Kind kind : impact.kinds()) {
      assertThat(was.outcome(on, kind.witness())).isEqualTo(kind.before().outcome());
    }
  }

  /** The kinds that hold a connection of both, where its places have the zones of both. */
  private static List<Impact.Kind> kinds(
      Impact impact, Connection seen, Connection then, Connection later) {
    Connection joint =
        new Connection(
            seen.at(),
            new Connection.Source(
                place(then.from().place(), later.from().place()),
                seen.from().person(),
                seen.from().device()),
            new Connection.Destination(
                place(then.to().place(), later.to().place()), seen.to().host()),
            seen.service(),
            seen.using());
    int[] at = impact.space().point(joint);
    return impact.kinds().stream()
        .filter(kind -> kind.boxes().stream().anyMatch(box -> box.contains(at)))
        .toList();
  }

  private static Place place(Place then, Place later) {
    return then.zone().equals(later.zone())
        ? then
        : new Place(then.zone() + " → " + later.zone(), then.address());
  }

  /** Other people, devices and applications than the world's own rules know. */
  private static Connection varied(Connection c, Random random) {
    Optional<String> person = random.nextInt(4) == 0 ? Optional.of("dora") : c.from().person();
    Device device =
        random.nextInt(4) == 0
            ? new Device(random.nextBoolean() ? "tablet" : "phone", c.from().device().posture())
            : c.from().device();
    ApplicationUse use =
        random.nextInt(4) == 0
            ? new ApplicationUse(Optional.of("Blip"), Optional.empty(), Optional.empty())
            : c.using();
    return new Connection(
        c.at(), new Connection.Source(c.from().place(), person, device), c.to(), c.service(), use);
  }

  /** Whether one of the surroundings has the person, another the kind of device, and so on. */
  private static boolean isAnywhere(Connection c, List<Environment> all) {
    Optional<String> person = c.from().person();
    String kind = c.from().device().kind();
    Optional<String> application = c.using().application();
    return (person.isEmpty()
            || all.stream().anyMatch(e -> e.directory().person(person.get()).isPresent()))
        && (kind.equals(Device.UNKNOWN_KIND)
            || all.stream().anyMatch(e -> e.deviceKinds().contains(kind)))
        && (application.isEmpty()
            || all.stream()
                .anyMatch(e -> e.catalogue().application(application.get()).isPresent()));
  }

  /** A connection as a gateway sees it; nothing if no zone has one of its addresses. */
  private static Optional<Connection> in(Environment environment, Connection c) {
    boolean known =
        c.from().person().isEmpty()
            || environment.directory().person(c.from().person().get()).isPresent();
    boolean kind = environment.deviceKinds().contains(c.from().device().kind());
    ApplicationUse use = c.using();
    if (use.application().isPresent()
        && environment.catalogue().application(use.application().get()).isEmpty()) {
      use =
          use.carrier().isEmpty()
              ? ApplicationUse.UNRECOGNISED
              : new ApplicationUse(use.carrier(), Optional.empty(), Optional.empty());
    }
    ApplicationUse seen = use;
    return zone(environment, c.from().place().address())
        .flatMap(
            from ->
                zone(environment, c.to().place().address())
                    .map(
                        to ->
                            new Connection(
                                c.at(),
                                new Connection.Source(
                                    new Place(from, c.from().place().address()),
                                    known ? c.from().person() : Optional.empty(),
                                    new Device(
                                        kind ? c.from().device().kind() : Device.UNKNOWN_KIND,
                                        c.from().device().posture())),
                                new Connection.Destination(
                                    new Place(to, c.to().place().address()), c.to().host()),
                                c.service(),
                                seen)));
  }

  private static Optional<String> zone(Environment environment, Address address) {
    return environment.zones().stream()
        .filter(zone -> zone.networks().stream().anyMatch(range -> holds(range, address)))
        .map(Zone::name)
        .findFirst();
  }

  private static boolean holds(Range<Address> range, Address address) {
    return range.low().version() == address.version()
        && range.low().compareTo(address) <= 0
        && address.compareTo(range.high()) <= 0;
  }

  /** Surroundings in which some of all there is has changed. */
  private static Environment changed(Environment old, Random random) {
    return new Environment(
        random.nextBoolean() ? zones(old, random) : old.zones(),
        random.nextBoolean() ? directory(old.directory(), random) : old.directory(),
        random.nextBoolean() ? List.of("tablet") : old.deviceKinds(),
        random.nextInt(3) == 0 ? catalogue(old.catalogue(), random) : old.catalogue(),
        random.nextBoolean() ? atlas(old.atlas(), random) : old.atlas(),
        old.today());
  }

  /** Each address is behind the same zone, another one, a new one or none. */
  private static List<Zone> zones(Environment old, Random random) {
    List<String> names = List.of("Inside", "Outside", "Annex", "");
    Map<String, List<Range<Address>>> behind = new HashMap<>();
    for (Zone zone : old.zones()) {
      for (Range<Address> range : zone.networks()) {
        for (Address end : new HashSet<>(List.of(range.low(), range.high()))) {
          String name =
              random.nextBoolean() ? zone.name() : names.get(random.nextInt(names.size()));
          behind.computeIfAbsent(name, n -> new ArrayList<>()).add(new Range<>(end, end));
        }
      }
    }
    behind.remove("");
    List<Zone> zones = new ArrayList<>();
    behind.forEach(
        (name, ranges) ->
            zones.add(
                new Zone(
                    name,
                    name.equals("Outside") ? Zone.Side.OUTSIDE : Zone.Side.INSIDE,
                    ranges,
                    "")));
    return zones;
  }

  private static Directory directory(Directory old, Random random) {
    List<Directory.Group> groups =
        old.groups().stream().filter(group -> random.nextInt(5) > 0).toList();
    List<Directory.Person> people = new ArrayList<>();
    for (Directory.Person person : old.people()) {
      if (random.nextInt(4) > 0) {
        people.add(somebody(person.login(), groups, random));
      }
    }
    if (random.nextBoolean()) {
      people.add(somebody("dora", groups, random));
    }
    return new Directory(people, groups);
  }

  private static Directory.Person somebody(
      String login, List<Directory.Group> groups, Random random) {
    Set<String> own = new HashSet<>();
    groups.stream().filter(group -> random.nextBoolean()).forEach(group -> own.add(group.name()));
    return new Directory.Person(
        login, login, own, random.nextBoolean() ? Map.of("port", "A") : Map.of());
  }

  private static Atlas atlas(Atlas old, Random random) {
    Range<Address> one = new Range<>(Address.parse("192.0.2.1"), Address.parse("192.0.2.1"));
    Range<Address> other = new Range<>(Address.parse("10.0.0.1"), Address.parse("10.0.0.1"));
    List<Range<Address>> some = random.nextBoolean() ? List.of(one) : List.of(other);
    return new Atlas(
        random.nextInt(3) == 0 ? Map.of("XA", some) : old.countries(),
        random.nextInt(3) == 0 ? Map.of("Bad", some, "New", List.of(one)) : old.lists(),
        random.nextInt(3) == 0 ? Map.of("shop.example", List.of(some.get(0).low())) : old.hosts(),
        random.nextInt(3) == 0
            ? List.of(
                new Atlas.SiteEntry(host("*.example"), "Shopping"),
                new Atlas.SiteEntry(host("shop.example"), random.nextBoolean() ? "News" : "Games"))
            : old.sites());
  }

  private static Value.HostName host(String text) {
    return (Value.HostName) ValueText.parse(ValueKind.SITE, text);
  }

  private static Catalogue catalogue(Catalogue old, Random random) {
    List<Application> applications = new ArrayList<>();
    for (Application a : old.applications()) {
      boolean isCarrier =
          old.applications().stream().anyMatch(b -> b.wiring().ridesOn().contains(a.name()));
      if (isCarrier || random.nextInt(4) > 0) {
        applications.add(random.nextBoolean() ? a : named(a, a.name(), "share"));
      }
    }
    Application plain =
        old.applications().stream()
            .filter(a -> a.wiring().ridesOn().isEmpty() && a.features().isEmpty())
            .findFirst()
            .orElseThrow();
    if (random.nextBoolean()) {
      applications.add(named(plain, "Blip", "talk"));
    }
    return new Catalogue(2, applications);
  }

  private static Application named(Application like, String name, String category) {
    return new Application(
        name,
        new Application.Grouping(category, like.grouping().family(), "Provider"),
        like.worth(),
        like.features(),
        like.wiring(),
        "");
  }

  @Test
  void aNetworkThatMovesToAnotherZoneIsToldWithBothZones() {
    Environment before = SmallWorld.environment();
    List<Zone> zones = new ArrayList<>();
    for (Zone zone : before.zones()) {
      List<Range<Address>> kept =
          zone.networks().stream()
              .map(
                  range ->
                      range.high().equals(Address.parse("10.0.0.2"))
                          ? new Range<>(range.low(), range.low())
                          : range)
              .toList();
      zones.add(new Zone(zone.name(), zone.side(), kept, ""));
    }
    Address moved = Address.parse("10.0.0.2");
    zones.add(new Zone("Annex", Zone.Side.INSIDE, List.of(new Range<>(moved, moved)), ""));
    Environment after =
        new Environment(zones, before.directory(), List.of(), before.catalogue(), before.today());
    Impact impact =
        Comparison.ofSurroundings(
            Rulebases.of("allow from.zones=Inside using.services=tcp/80"), before, after, 100_000);
    assertThat(impact.kinds()).hasSize(1);
    assertThat(impact.kinds().get(0).words().toString()).contains("Inside → Annex", "tcp/80");
    assertThat(impact.kinds().get(0).witness().from().place().zone()).isEqualTo("Inside");
    assertThat(impact.kinds().get(0).before().outcome().verdict().word()).isEqualTo("allow");
    assertThat(impact.kinds().get(0).after().outcome().verdict().word()).isEqualTo("deny");
  }

  @Test
  void anAddressThatGetsASecondZoneIsToldAsWhatItWasBehindTheFirst() {
    Environment before = SmallWorld.environment();
    Address both = Address.parse("10.0.0.2");
    List<Zone> zones = new ArrayList<>(before.zones());
    zones.add(new Zone("Annex", Zone.Side.INSIDE, List.of(new Range<>(both, both)), ""));
    Environment after =
        new Environment(zones, before.directory(), List.of(), before.catalogue(), before.today());
    Impact impact =
        Comparison.ofSurroundings(
            Rulebases.of("allow from.zones=Inside using.services=tcp/80"), before, after, 100_000);
    assertThat(impact.kinds()).hasSize(1);
    assertThat(impact.kinds().get(0).words().toString()).contains("Inside → Annex");
    assertThat(
            Comparison.ofSurroundings(
                    Rulebases.of("allow from.zones=Inside|Annex using.services=tcp/80"),
                    after,
                    before,
                    100_000)
                .kinds())
        .isEmpty();
  }

  @Test
  void onePersonIsToldByLogin() {
    Environment before = SmallWorld.environment();
    Environment after =
        new Environment(
            before.zones(),
            new Directory(
                before.directory().people().stream()
                    .filter(person -> !person.login().equals("ben"))
                    .toList(),
                before.directory().groups()),
            List.of(),
            before.catalogue(),
            before.today());
    Impact impact =
        Comparison.ofSurroundings(
            Rulebases.of("allow from.people=group crew"), before, after, 100_000);
    assertThat(impact.kinds()).hasSize(1);
    assertThat(impact.kinds().get(0).words()).containsExactly(new Impact.Words("person", "ben"));
  }

  private static Environment with(Environment world, Directory directory) {
    return new Environment(world.zones(), directory, List.of(), world.catalogue(), world.today());
  }

  /** The names that are made to tell before from after are not those of somebody's own groups. */
  @Test
  void aGroupMayBeCalledAsOneThatIsMade() {
    List<Directory.Group> groups =
        List.of(
            new Directory.Group("crew", Set.of(), ""),
            new Directory.Group("crew until now", Set.of(), ""));
    Directory.Person guest = new Directory.Person("cy", "Cy", Set.of("crew until now"), Map.of());
    Environment small = SmallWorld.environment();
    Environment before =
        with(
            small,
            new Directory(
                List.of(new Directory.Person("ada", "Ada", Set.of("crew"), Map.of()), guest),
                groups));
    Environment after =
        with(
            small,
            new Directory(
                List.of(new Directory.Person("ada", "Ada", Set.of(), Map.of()), guest), groups));
    Impact impact =
        Comparison.ofSurroundings(
            Rulebases.of("deny from.people=group crew until now", "allow from.people=group crew"),
            before,
            after,
            100_000);
    assertThat(impact.kinds()).hasSize(1);
    assertThat(impact.kinds().get(0).words()).containsExactly(new Impact.Words("person", "ada"));
  }

  @Test
  void whereNothingChangesForTheRulebaseNothingIsTold() {
    Environment before = SmallWorld.environment();
    Environment after =
        new Environment(
            before.zones(),
            new Directory(List.of(), before.directory().groups()),
            List.of(),
            before.catalogue(),
            before.today());
    assertThat(
            Comparison.ofSurroundings(
                    Rulebases.of("allow from.zones=Inside"), before, after, 100_000)
                .kinds())
        .isEmpty();
  }
}
