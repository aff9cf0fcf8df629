package ironsieve;

import ironsieve.model.Application;
import ironsieve.model.Catalogue;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Connection.Place;
import ironsieve.model.Connection.Source;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.FieldName;
import ironsieve.model.Posture;
import ironsieve.model.Rule;
import ironsieve.model.Service;
import ironsieve.model.Value.ServiceRange;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.Range;
import ironsieve.text.ValueText;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * A world small enough to be enumerated: every connection there can be is represented by one of
 * {@link #points()}, with the number of connections it stands for.
 */
public final class SmallWorld {

  /** A Monday. */
  public static final LocalDate TODAY = LocalDate.of(2026, 11, 23);

  /** A connection and how many it stands for. */
  public record Point(Connection connection, double weight, boolean ahead) {}

  private record Weighed<T>(T thing, double weight) {}

  /** This world. */
  public static final World WORLD =
      new World(
          environment(),
          points(),
          java.util.Arrays.stream(FieldName.values())
              .filter(name -> name != FieldName.TO_SITES)
              .toList(),
          SmallWorld::values,
          net.jqwik.api.Arbitraries.just(ironsieve.model.Parts.of(sets())),
          net.jqwik.api.Arbitraries.frequency(
                  net.jqwik.api.Tuple.of(5, Verdict.ALLOW),
                  net.jqwik.api.Tuple.of(4, Verdict.DENY),
                  net.jqwik.api.Tuple.of(1, Verdict.REJECT))
              .map(verdict -> new Rule.Then(verdict, Rule.Logging.NOT_LOGGED)));

  private SmallWorld() {}

  private static Range<Address> range(String low, String high) {
    return new Range<>(Address.parse(low), Address.parse(high));
  }

  private static Application app(
      String name, String family, String category, List<String> features, String... ports) {
    List<ServiceRange> usual =
        List.of(ports).stream()
            .map(p -> (ServiceRange) ValueText.parse(ValueKind.SERVICE, p))
            .toList();
    return new Application(
        name,
        new Application.Grouping(category, family, "Provider"),
        new Application.Worth(Application.Exposure.SLIGHT, Application.WorkValue.SOME),
        features,
        new Application.Wiring(Application.Content.PLAIN, usual, List.of(), List.of()),
        "");
  }

  public static Environment environment() {
    return new Environment(
        List.of(
            new Zone(
                "Inside",
                Zone.Side.INSIDE,
                List.of(range("10.0.0.1", "10.0.0.2"), range("2001:db8::1", "2001:db8::1")),
                ""),
            new Zone(
                "Outside",
                Zone.Side.OUTSIDE,
                List.of(range("192.0.2.1", "192.0.2.1"), range("2001:db8:1::1", "2001:db8:1::1")),
                "")),
        new Directory(
            List.of(
                new Directory.Person("ada", "Ada", Set.of("crew"), Map.of()),
                new Directory.Person("ben", "Ben", Set.of("deck"), Map.of()),
                new Directory.Person("cy", "Cy", Set.of(), Map.of())),
            List.of(
                new Directory.Group("crew", Set.of(), ""),
                new Directory.Group("deck", Set.of("crew"), ""),
                new Directory.Group("nobody", Set.of(), ""))),
        List.of(),
        new Catalogue(
            1,
            List.of(
                app("Mail", "Post", "talk", List.of("send"), "tcp/80"),
                app("Chat", "Post", "talk", List.of()),
                app("Files", "", "share", List.of("upload"), "tcp", "udp"))),
        TODAY);
  }

  /** Values a rule may use, by field kind. */
  public static List<String> values(ValueKind kind) {
    return switch (kind) {
      case ZONE -> List.of("Inside", "Outside");
      case NETWORK ->
          List.of(
              "10.0.0.1",
              "10.0.0.0/24",
              "192.0.2.1",
              "192.0.2.0-192.0.2.1",
              "0.0.0.0/0",
              "::/0",
              "2001:db8:1::/48",
              "set nets");
      case PERSON ->
          List.of(
              "ada",
              "ben",
              "group crew",
              "group deck",
              "group nobody",
              "identified",
              "unidentified");
      case DEVICE ->
          List.of("unknown", "any device, healthy", "any device, unhealthy", "unknown, unknown");
      case SITE -> List.of();
      case SERVICE -> List.of("tcp/80", "tcp", "udp", "icmp", "icmpv6", "ip/47", "set web");
      case APPLICATION ->
          List.of(
              "Mail",
              "Mail/send",
              "Files/upload",
              "Files",
              "family Post",
              "category talk",
              "unidentified");
      case TIME ->
          List.of(
              "mon-fri 08:00-18:00",
              "..2026-12-06",
              "2026-12-07..",
              "..2026-11-22",
              "sat 22:00-06:00");
    };
  }

  /** Named sets the values above may name. */
  public static List<ironsieve.model.NamedSet> sets() {
    return List.of(
        set("nets", ValueKind.NETWORK, "10.0.0.2", "set inner"),
        set("inner", ValueKind.NETWORK, "192.0.2.1", "2001:db8::1"),
        set("web", ValueKind.SERVICE, "tcp/80", "udp"));
  }

  private static ironsieve.model.NamedSet set(String name, ValueKind kind, String... values) {
    return new ironsieve.model.NamedSet(
        name, kind, List.of(values).stream().map(v -> ValueText.parse(kind, v)).toList(), "");
  }

  /** Every connection, up to what no value above tells apart. */
  public static List<Point> points() {
    List<Place> places =
        List.of(
            place("Inside", "10.0.0.1"),
            place("Inside", "10.0.0.2"),
            place("Inside", "2001:db8::1"),
            place("Outside", "192.0.2.1"),
            place("Outside", "2001:db8:1::1"));
    List<Optional<String>> people =
        List.of(Optional.of("ada"), Optional.of("ben"), Optional.of("cy"), Optional.empty());
    List<Device> devices = new ArrayList<>();
    for (Posture posture : Posture.values()) {

      devices.add(new Device(Device.UNKNOWN_KIND, posture));
    }
    List<Point> points = new ArrayList<>();
    for (int f = 0; f < places.size(); f++) {
      for (int t = 0; t < places.size(); t++) {
        Address.Version version = places.get(f).address().version();
        if (places.get(t).address().version() == version) {
          addAll(points, places.get(f), places.get(t), people, devices);
        }
      }
    }
    return points;
  }

  private static void addAll(
      List<Point> points,
      Place from,
      Place to,
      List<Optional<String>> people,
      List<Device> devices) {
    boolean v4 = from.address().version() == Address.Version.V4;
    List<Weighed<Service>> services = services(v4);
    for (int s = 0; s < services.size(); s++) {
      for (int u = 0; u < uses().size(); u++) {
        for (int m = 0; m < times().size(); m++) {
          for (int p = 0; p < people.size(); p++) {
            for (int d = 0; d < devices.size(); d++) {
              LocalDateTime at = times().get(m).thing();
              points.add(
                  new Point(
                      new Connection(
                          at,
                          new Source(from, people.get(p), devices.get(d)),
                          new Connection.Destination(to, Optional.empty()),
                          services.get(s).thing(),
                          uses().get(u).thing()),
                      services.get(s).weight() * uses().get(u).weight() * times().get(m).weight(),
                      !at.toLocalDate().isBefore(TODAY)));
            }
          }
        }
      }
    }
  }

  private static Place place(String zone, String address) {
    return new Place(zone, Address.parse(address));
  }

  private static List<Weighed<Service>> services(boolean v4) {
    return List.of(
        new Weighed<>(new Service(Service.TCP, 80), 1),
        new Weighed<>(new Service(Service.TCP, 81), 65535),
        new Weighed<>(new Service(Service.UDP, 53), 65536),
        new Weighed<>(new Service(v4 ? Service.ICMP : Service.ICMPV6, 0), 65536),
        new Weighed<>(new Service(47, 0), 1),
        // SCTP and the 250 protocols without ports of their own.
        new Weighed<>(new Service(50, 0), 65536 + 250));
  }

  private static List<Weighed<ApplicationUse>> uses() {
    return List.of(
        use("Mail", null, 1),
        use("Mail", "send", 1),
        use("Chat", null, 1),
        use("Files", null, 1),
        use("Files", "upload", 1),
        use(null, null, 1));
  }

  private static Weighed<ApplicationUse> use(String app, String feature, double weight) {
    return new Weighed<>(
        new ApplicationUse(
            Optional.ofNullable(app), Optional.empty(), Optional.ofNullable(feature)),
        weight);
  }

  private static List<Weighed<LocalDateTime>> times() {
    double work = 5 * 600;
    double saturdayNight = 8 * 60;
    double rest = 7 * 1440 - work - saturdayNight;
    return List.of(
        new Weighed<>(LocalDateTime.of(2026, 11, 20, 9, 0), 0),
        new Weighed<>(LocalDateTime.of(2026, 11, 24, 9, 0), 2 * work),
        new Weighed<>(LocalDateTime.of(2026, 11, 29, 5, 59), 2 * saturdayNight),
        new Weighed<>(LocalDateTime.of(2026, 11, 28, 9, 0), 2 * rest),
        new Weighed<>(LocalDateTime.of(2026, 12, 8, 9, 0), 52 * work),
        new Weighed<>(LocalDateTime.of(2026, 12, 12, 22, 0), 52 * saturdayNight),
        new Weighed<>(LocalDateTime.of(2026, 12, 9, 7, 59), 52 * rest));
  }
}
