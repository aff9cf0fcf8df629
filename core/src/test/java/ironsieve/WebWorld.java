package ironsieve;

import ironsieve.SmallWorld.Point;
import ironsieve.model.Application;
import ironsieve.model.Application.Content;
import ironsieve.model.Application.Exposure;
import ironsieve.model.Application.WorkValue;
import ironsieve.model.Atlas;
import ironsieve.model.Catalogue;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Connection.Place;
import ironsieve.model.Connection.Source;
import ironsieve.model.DecryptionRule;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Lane;
import ironsieve.model.Notice;
import ironsieve.model.Outcome;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.Service;
import ironsieve.model.UsageSheet;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import ironsieve.region.Address;
import ironsieve.region.Range;
import ironsieve.text.OutcomeText;
import ironsieve.text.ValueText;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;

/**
 * A world of host names, site categories, address lists, carriers, encryption, usage sheets and
 * lanes; all its connections come from one machine at one time.
 */
public final class WebWorld {

  public static final World WORLD =
      new World(
          environment(),
          points(),
          List.of(
              FieldName.PEOPLE,
              FieldName.TO_ZONES,
              FieldName.TO_NETWORKS,
              FieldName.TO_SITES,
              FieldName.SERVICES,
              FieldName.APPLICATIONS),
          WebWorld::values,
          parts(),
          thens());

  private WebWorld() {}

  private static Application app(
      String name, String family, String category, Exposure exposure, WorkValue value) {
    return new Application(
        name,
        new Application.Grouping(category, family, "Provider"),
        new Application.Worth(exposure, value),
        List.of(),
        new Application.Wiring(Content.PLAIN, List.of(), List.of(), List.of()),
        "");
  }

  private static Application app(
      Application like,
      List<String> features,
      Content content,
      List<String> ridesOn,
      String... ports) {
    List<Value.ServiceRange> usual =
        List.of(ports).stream()
            .map(p -> (Value.ServiceRange) ValueText.parse(ValueKind.SERVICE, p))
            .toList();
    return new Application(
        like.name(),
        like.grouping(),
        like.worth(),
        features,
        new Application.Wiring(content, usual, ridesOn, List.of()),
        "");
  }

  public static Environment environment() {
    Environment small = SmallWorld.environment();
    List<Directory.Person> people =
        List.of(
            new Directory.Person("ada", "Ada", Set.of("crew"), Map.of("port", "A")),
            new Directory.Person("ben", "Ben", Set.of("deck"), Map.of("port", "B")),
            new Directory.Person("cy", "Cy", Set.of(), Map.of()));
    List<Application> applications =
        List.of(
            app(
                app("Seal", "", "base", Exposure.SLIGHT, WorkValue.SOME),
                List.of(),
                Content.ENCRYPTED,
                List.of()),
            app("Pipe", "", "base", Exposure.SLIGHT, WorkValue.SOME),
            app(
                app("Mail", "Post", "talk", Exposure.SLIGHT, WorkValue.SOME),
                List.of("send", "read"),
                Content.PLAIN,
                List.of("Seal"),
                "tcp/80"),
            app("Chat", "Post", "talk", Exposure.SEVERE, WorkValue.CORE),
            app(
                app("Files", "", "share", Exposure.SERIOUS, WorkValue.NONE),
                List.of("upload"),
                Content.PLAIN,
                List.of("Seal", "Pipe"),
                "tcp",
                "udp"));
    return new Environment(
        small.zones(),
        new Directory(people, small.directory().groups()),
        List.of(),
        new Catalogue(1, applications),
        new Atlas(
            Map.of("XA", List.of(range("192.0.2.0", "192.0.2.255"))),
            Map.of(
                "Bad",
                List.of(range("10.0.0.2", "10.0.0.2"), range("2001:db8:1::", "2001:db8:1::ff"))),
            Map.of("shop.example", List.of(Address.parse("192.0.2.1"), Address.parse("10.0.0.2"))),
            List.of(
                site("*.example", "News"),
                site("*.shop.example", "Shopping"),
                site("shop.example", "Shopping"))),
        SmallWorld.TODAY);
  }

  private static Range<Address> range(String low, String high) {
    return new Range<>(Address.parse(low), Address.parse(high));
  }

  private static Atlas.SiteEntry site(String names, String category) {
    return new Atlas.SiteEntry((Value.HostName) ValueText.parse(ValueKind.SITE, names), category);
  }

  private static List<String> values(ValueKind kind) {
    return switch (kind) {
      case ZONE -> List.of("Inside", "Outside");
      case NETWORK ->
          List.of(
              "10.0.0.1", "192.0.2.0/24", "::/0", "host shop.example", "country XA", "list Bad");
      case PERSON -> List.of("ada", "group crew", "port=A", "port=B", "identified", "unidentified");
      case SITE ->
          List.of(
              "shop.example",
              "*.shop.example",
              "news.example",
              "*.example",
              "category Shopping",
              "category News",
              "category uncategorised",
              "no host name");
      case SERVICE -> List.of("tcp/80", "tcp", "udp");
      case APPLICATION ->
          List.of(
              "Mail",
              "Mail/send",
              "Mail/read",
              "Files/upload",
              "Files",
              "Seal",
              "family Post",
              "category talk",
              "category talk but not Mail",
              "where exposure >= serious",
              "where rides on = Seal and work value != none",
              "unidentified");
      case DEVICE, TIME -> List.of();
    };
  }

  private static UsageSheet sheet(String name, String otherwise, String... lines) {
    List<UsageSheet.Line> all = new ArrayList<>();
    for (String line : lines) {
      String[] parts = line.split(": ");
      all.add(
          new UsageSheet.Line(
              ValueText.parse(ValueKind.APPLICATION, parts[0]), OutcomeText.parse(parts[1])));
    }
    return new UsageSheet(name, all, OutcomeText.parse(otherwise), "");
  }

  private static Arbitrary<Parts> parts() {
    List<UsageSheet> sheets =
        List.of(
            sheet("Careful", "allow in Slow", "category talk: ask Think", "Mail/send: deny"),
            sheet("Open", "allow", "Files: stop Why", "family Post: allow", "Files/upload: deny"));
    List<Notice> notices =
        List.of(new Notice("Think", Verdict.ASK, "?"), new Notice("Why", Verdict.STOP, "!"));
    List<Lane> lanes =
        List.of(new Lane("Slow", Lane.Scope.GATEWAY, new Lane.Rates(9, 9), Lane.Rates.NONE, 0, ""));
    Arbitrary<DecryptionRule> line =
        Combinators.combine(
                Arbitraries.of(FieldName.PEOPLE, FieldName.TO_ZONES, FieldName.TO_SITES),
                Arbitraries.integers().between(0, 9),
                Arbitraries.of(DecryptionRule.Decision.values()))
            .as(
                (name, at, decision) -> {
                  List<String> choices = values(name.kind());
                  Value value = ValueText.parse(name.kind(), choices.get(at % choices.size()));
                  return new DecryptionRule(
                      "line", Rule.Match.any().with(name, Field.is(value)), decision, "");
                });
    return line.list()
        .ofMaxSize(3)
        .map(
            reading ->
                new Parts(SmallWorld.sets(), sheets, notices, lanes, reading, Lane.Rates.NONE));
  }

  private static Arbitrary<Rule.Then> thens() {
    return Arbitraries.of(
            "allow",
            "deny",
            "allow by Careful",
            "deny",
            "allow by Open",
            "ask Think",
            "allow in Slow",
            "reject")
        .map(
            text -> {
              String[] parts = text.split(" by ");
              Outcome outcome = OutcomeText.parse(parts[0]);
              return new Rule.Then(
                  outcome,
                  Rule.Logging.NOT_LOGGED,
                  parts.length > 1 ? Optional.of(parts[1]) : Optional.empty());
            });
  }

  private record Weighed<T>(T thing, double weight) {}

  private static List<Point> points() {
    List<Place> all =
        List.of(
            place("Inside", "10.0.0.1"),
            place("Inside", "10.0.0.2"),
            place("Outside", "192.0.2.1"),
            place("Inside", "2001:db8::1"),
            place("Outside", "2001:db8:1::1"));
    List<Optional<String>> people =
        List.of(Optional.of("ada"), Optional.of("ben"), Optional.of("cy"), Optional.empty());
    List<Weighed<Service>> services =
        List.of(
            new Weighed<>(new Service(Service.TCP, 80), 1),
            new Weighed<>(new Service(Service.TCP, 81), 65535),
            new Weighed<>(new Service(Service.UDP, 53), 65536),
            // ICMP, SCTP and the 251 protocols without ports of their own.
            new Weighed<>(new Service(Service.SCTP, 5), 2 * 65536 + 251));
    List<Point> points = new ArrayList<>();
    for (int t = 0; t < all.size(); t++) {
      Place from = all.get(t < 3 ? 0 : 3);
      for (int p = 0; p < people.size(); p++) {
        for (int s = 0; s < services.size(); s++) {
          for (int h = 0; h < sites().size(); h++) {
            for (int u = 0; u < uses().size(); u++) {
              points.add(
                  new Point(
                      new Connection(
                          LocalDateTime.of(2026, 11, 24, 9, 0),
                          new Source(from, people.get(p), Device.UNKNOWN),
                          new Connection.Destination(all.get(t), sites().get(h).thing()),
                          services.get(s).thing(),
                          uses().get(u).thing()),
                      services.get(s).weight() * sites().get(h).weight() * uses().get(u).weight(),
                      true));
            }
          }
        }
      }
    }
    return points;
  }

  private static Place place(String zone, String address) {
    return new Place(zone, Address.parse(address));
  }

  /** One of each kind of name; each category weighs 1 in all. */
  private static List<Weighed<Optional<String>>> sites() {
    double shopping = 1 + 1e6;
    double news = 1e9 - shopping;
    double others = 1e12 - 1e9;
    return List.of(
        new Weighed<>(Optional.of("shop.example"), 1 / shopping),
        new Weighed<>(Optional.of("www.shop.example"), 1e6 / shopping),
        new Weighed<>(Optional.of("news.example"), 1 / news),
        new Weighed<>(Optional.of("www.news.example"), 1e6 / news),
        new Weighed<>(Optional.of("www.example"), (news - 1 - 1e6) / news),
        new Weighed<>(Optional.of("example"), 1 / others),
        new Weighed<>(Optional.of("www.elsewhere"), (others - 1) / others),
        new Weighed<>(Optional.empty(), 1));
  }

  private static List<Weighed<ApplicationUse>> uses() {
    return List.of(
        use("Seal", null, null, 1),
        use("Pipe", null, null, 1),
        use("Mail", "Seal", null, 1),
        use("Mail", "Seal", "send", 1),
        use("Mail", "Seal", "read", 1),
        use("Chat", null, null, 1),
        use("Files", "Seal", null, 0.5),
        use("Files", "Seal", "upload", 0.5),
        use("Files", "Pipe", null, 0.5),
        use("Files", "Pipe", "upload", 0.5),
        use(null, null, null, 1));
  }

  private static Weighed<ApplicationUse> use(
      String app, String carrier, String feature, double weight) {
    return new Weighed<>(
        new ApplicationUse(
            Optional.ofNullable(app), Optional.ofNullable(carrier), Optional.ofNullable(feature)),
        weight);
  }
}
