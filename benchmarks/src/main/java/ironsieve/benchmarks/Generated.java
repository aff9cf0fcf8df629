package ironsieve.benchmarks;

import ironsieve.model.Application;
import ironsieve.model.Catalogue;
import ironsieve.model.Chapter;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.Range;
import ironsieve.text.ValueText;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;

/**
 * A rulebase of any size from a seed, most of whose rules are never reached: networks nest (a /16
 * for each zone, /24s and hosts inside), about one rule in eight is a narrower exception from an
 * earlier one, one in fifty is broad (two fields or fewer), half of the rules name applications, a
 * third name groups, one in ten has a schedule.
 */
final class Generated {

  private static final int ZONES = 12;
  private static final List<String> TIMES =
      List.of("mon-fri 07:00-19:00", "sat,sun", "22:00-06:00");
  private static final List<String> SERVICES =
      List.of(
          "tcp/443", "tcp/80", "udp/443", "tcp/22", "udp/53", "tcp/8000-8100", "icmp", "tcp/25");

  private Generated() {}

  static Environment environment(int people, int applications) {
    Random random = new Random(11);
    List<Zone> zones = new ArrayList<>();
    for (int z = 0; z < ZONES; z++) {
      zones.add(
          new Zone("Zone " + z, Zone.Side.INSIDE, List.of(network("10." + z + ".0.0/16")), ""));
    }
    zones.add(new Zone("Internet", Zone.Side.OUTSIDE, List.of(), ""));
    List<Directory.Group> groups = new ArrayList<>();
    for (int g = 0; g < 60; g++) {
      groups.add(
          new Directory.Group("Group " + g, g < 10 ? Set.of() : Set.of("Group " + g / 6), ""));
    }
    List<Directory.Person> persons = new ArrayList<>();
    for (int p = 0; p < people; p++) {
      Set<String> in = Set.of("Group " + random.nextInt(60));
      persons.add(new Directory.Person("person." + p, "Person " + p, in, Map.of()));
    }
    List<Application> apps = new ArrayList<>();
    for (int a = 0; a < applications; a++) {
      apps.add(
          new Application(
              "App " + a,
              new Application.Grouping(
                  "category " + a % 25, a % 9 == 0 ? "Family " + a % 20 : "", ""),
              new Application.Worth(Application.Exposure.MODERATE, Application.WorkValue.SOME),
              List.of("view", "upload"),
              new Application.Wiring(
                  Application.Content.PLAIN, List.of(service("tcp/443")), List.of(), List.of()),
              ""));
    }
    return new Environment(
        zones,
        new Directory(persons, groups),
        List.of("laptop", "phone", "kiosk"),
        new Catalogue(1, apps),
        LocalDate.of(2026, 11, 23));
  }

  private static Range<Address> network(String text) {
    return ((Value.Network) ValueText.parse(ValueKind.NETWORK, text)).range();
  }

  private static Value.ServiceRange service(String text) {
    return (Value.ServiceRange) ValueText.parse(ValueKind.SERVICE, text);
  }

  static Rulebase rulebase(int size, int applications, long seed) {
    Random random = new Random(seed);
    List<Rule> rules = new ArrayList<>();
    List<Map<FieldName, Field>> earlier = new ArrayList<>();
    for (int r = 0; r < size; r++) {
      Map<FieldName, Field> fields =
          r > 10 && random.nextInt(8) == 0
              ? narrower(earlier.get(random.nextInt(earlier.size())), random)
              : fresh(random, applications, random.nextInt(50) == 0);
      earlier.add(fields);
      Verdict verdict = random.nextInt(3) == 0 ? Verdict.DENY : Verdict.ALLOW;
      rules.add(rule(r, fields, verdict));
    }
    return new Rulebase(
        "Generated " + size,
        List.of(new Chapter("all", "All", "", rules)),
        List.of(),
        Verdict.DENY);
  }

  private static Rule rule(int number, Map<FieldName, Field> fields, Verdict verdict) {
    return new Rule(
        "r" + number,
        "",
        Rule.State.ON,
        new Rule.Match(fields, Rule.Ports.ANY),
        new Rule.Then(verdict, Rule.Logging.LOGGED),
        "");
  }

  /** A rulebase of few zones and broad fields, in which many rules cover others together. */
  static Rulebase dense(int size, int applications, long seed) {
    Random random = new Random(seed);
    List<Rule> rules = new ArrayList<>();
    for (int r = 0; r < size; r++) {
      Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
      if (random.nextBoolean()) {
        put(fields, FieldName.FROM_ZONES, "Zone " + random.nextInt(2));
      }
      if (random.nextInt(3) > 0) {
        int half = random.nextInt(2);
        put(fields, FieldName.FROM_NETWORKS, "10." + half + ".0.0/" + (16 + random.nextInt(3)));
      }
      if (random.nextInt(3) == 0) {
        put(fields, FieldName.PEOPLE, "group Group " + random.nextInt(12));
      }
      if (random.nextInt(3) > 0) {
        put(fields, FieldName.APPLICATIONS, application(random, Math.min(4, applications)));
      } else {
        put(fields, FieldName.SERVICES, SERVICES.get(random.nextInt(SERVICES.size())));
      }
      if (random.nextInt(6) == 0) {
        put(fields, FieldName.TIMES, TIMES.get(random.nextInt(TIMES.size())));
      }
      Verdict verdict = random.nextBoolean() ? Verdict.DENY : Verdict.ALLOW;
      rules.add(rule(r, fields, verdict));
    }
    return new Rulebase(
        "Dense " + size, List.of(new Chapter("all", "All", "", rules)), List.of(), Verdict.DENY);
  }

  private static Map<FieldName, Field> fresh(Random random, int applications, boolean broad) {
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    int from = random.nextInt(ZONES);
    int to = random.nextInt(ZONES + 1);
    put(fields, FieldName.FROM_ZONES, "Zone " + from);
    put(fields, FieldName.TO_ZONES, to == ZONES ? "Internet" : "Zone " + to);
    if (broad) {
      fields.remove(random.nextBoolean() ? FieldName.FROM_ZONES : FieldName.TO_ZONES);
      return fields;
    }
    put(fields, FieldName.FROM_NETWORKS, inside(random, from));
    if (to < ZONES && random.nextInt(4) > 0) {
      put(fields, FieldName.TO_NETWORKS, inside(random, to));
    }
    if (random.nextInt(3) == 0) {
      put(fields, FieldName.PEOPLE, "group Group " + random.nextInt(60));
    }
    if (random.nextBoolean()) {
      put(fields, FieldName.APPLICATIONS, application(random, applications));
    } else {
      put(fields, FieldName.SERVICES, SERVICES.get(random.nextInt(SERVICES.size())));
    }
    if (random.nextInt(10) == 0) {
      put(fields, FieldName.TIMES, TIMES.get(random.nextInt(TIMES.size())));
    }
    return fields;
  }

  private static String inside(Random random, int zone) {
    String net = "10." + zone + "." + random.nextInt(256);
    return switch (random.nextInt(4)) {
      case 0 -> net + "." + random.nextInt(256);
      case 1 -> "10." + zone + "." + random.nextInt(16) * 16 + ".0/20";
      default -> net + ".0/24";
    };
  }

  private static String application(Random random, int applications) {
    int a = random.nextInt(applications);
    return switch (random.nextInt(6)) {
      case 0 -> "category category " + a % 25;
      case 1 -> "App " + a + "/upload";
      default -> "App " + a;
    };
  }

  private static Map<FieldName, Field> narrower(Map<FieldName, Field> wide, Random random) {
    Map<FieldName, Field> fields = new HashMap<>(wide);
    put(fields, FieldName.PEOPLE, "person." + random.nextInt(200));
    return fields;
  }

  private static void put(Map<FieldName, Field> fields, FieldName name, String value) {
    fields.put(name, Field.is(ValueText.parse(name.kind(), value)));
  }
}
