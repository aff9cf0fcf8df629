package ironsieve.benchmarks;

import ironsieve.model.Chapter;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Value;
import ironsieve.model.Verdict;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Random;

/**
 * A rulebase as people have them after years, from a seed. Each chapter is about one pair of zones
 * and one slice of each: four /24s out of a /16. Its rules are narrow, from one to three networks
 * to one to three (hosts, /28s, /24s, ranges), with one to three services or applications. One rule
 * in ten has an exception for one person just above it. Three rules in a hundred are mistakes: a
 * copy that was forgotten, or a block below the allow it should precede. Wide denies come last.
 * Nearly every rule is reached, unlike in {@link Generated#rulebase}.
 */
final class Grown {

  private static final int ZONES = 12;
  private static final int CHAPTER = 40;
  private static final List<String> SERVICES =
      List.of(
          "tcp/443",
          "tcp/80",
          "udp/443",
          "tcp/22",
          "udp/53",
          "tcp/25",
          "tcp/389",
          "tcp/636",
          "tcp/1433",
          "tcp/3306",
          "tcp/5432",
          "udp/123",
          "udp/161",
          "tcp/445",
          "tcp/8080-8090",
          "tcp/9000-9100",
          "icmp",
          "udp/514",
          "tcp/5671-5672",
          "tcp/6443");

  private final Random random;
  private final int applications;
  private final List<Rule> rules = new ArrayList<>();
  private int number;

  private Grown(int applications, long seed) {
    this.applications = applications;
    random = new Random(seed);
  }

  /** About as many rules, for the surroundings of {@link Generated#environment}. */
  static Rulebase rulebase(int size, int applications, long seed) {
    Grown grown = new Grown(applications, seed);
    List<Chapter> chapters = new ArrayList<>();
    while (grown.number < size - ZONES) {
      int most = Math.min(CHAPTER, size - ZONES - grown.number);
      chapters.add(
          new Chapter(
              "c" + chapters.size(), "Chapter " + chapters.size(), "", grown.chapter(most)));
    }
    chapters.add(new Chapter("last", "Wide denies", "", grown.denies(size - grown.number)));
    return new Rulebase("Grown " + size, chapters, List.of(), Verdict.DENY);
  }

  private List<Rule> chapter(int most) {
    rules.clear();
    int from = random.nextInt(ZONES);
    int to = random.nextInt(ZONES + 1);
    int slice = random.nextInt(64) * 4;
    int other = random.nextInt(64) * 4;
    while (rules.size() < most) {
      Map<FieldName, Field> fields = narrow(from, slice, to, other);
      Verdict verdict = random.nextInt(8) == 0 ? Verdict.DENY : Verdict.ALLOW;
      if (random.nextInt(10) == 0 && rules.size() + 1 < most) {
        Map<FieldName, Field> exception = new EnumMap<>(fields);
        exception.put(
            FieldName.PEOPLE, values(FieldName.PEOPLE, "person." + random.nextInt(2_000)));
        add(exception, verdict == Verdict.DENY ? Verdict.ALLOW : Verdict.DENY);
      }
      add(fields, verdict);
      if (random.nextInt(33) == 0 && rules.size() < most) {
        // Forgotten, or meant to precede.
        add(fields, random.nextBoolean() ? verdict : Verdict.DENY);
      }
    }
    return List.copyOf(rules);
  }

  private List<Rule> denies(int count) {
    rules.clear();
    for (int i = 0; i < count; i++) {
      Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
      fields.put(FieldName.FROM_ZONES, values(FieldName.FROM_ZONES, "Zone " + i % ZONES));
      add(fields, Verdict.DENY);
    }
    return List.copyOf(rules);
  }

  private void add(Map<FieldName, Field> fields, Verdict verdict) {
    rules.add(
        new Rule(
            "r" + number++,
            "",
            Rule.State.ON,
            new Rule.Match(fields, Rule.Ports.ANY),
            new Rule.Then(verdict, Rule.Logging.LOGGED),
            ""));
  }

  private Map<FieldName, Field> narrow(int from, int slice, int to, int other) {
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    fields.put(FieldName.FROM_ZONES, values(FieldName.FROM_ZONES, "Zone " + from));
    fields.put(FieldName.FROM_NETWORKS, networks(from, slice));
    fields.put(
        FieldName.TO_ZONES, values(FieldName.TO_ZONES, to == ZONES ? "Internet" : "Zone " + to));
    if (to < ZONES) {
      fields.put(FieldName.TO_NETWORKS, networks(to, other));
    }
    if (random.nextInt(3) == 0) {
      fields.put(FieldName.APPLICATIONS, several(FieldName.APPLICATIONS, this::application));
    } else {
      fields.put(
          FieldName.SERVICES,
          several(FieldName.SERVICES, () -> SERVICES.get(random.nextInt(SERVICES.size()))));
    }
    if (random.nextInt(20) == 0) {
      fields.put(FieldName.TIMES, values(FieldName.TIMES, "mon-fri 07:00-19:00"));
    }
    return fields;
  }

  private String application() {
    int a = random.nextInt(applications);
    return random.nextInt(6) == 0 ? "App " + a + "/upload" : "App " + a;
  }

  private Field networks(int zone, int slice) {
    return several(FieldName.FROM_NETWORKS, () -> network(zone, slice));
  }

  private String network(int zone, int slice) {
    String net = "10." + zone + "." + (slice + random.nextInt(4));
    return switch (random.nextInt(8)) {
      case 0 -> net + ".0/24";
      case 1, 2 -> net + "." + 16 * random.nextInt(16) + "/28";
      case 3 -> {
        int low = 1 + random.nextInt(200);
        yield net + "." + low + "-" + net + "." + (low + 1 + random.nextInt(40));
      }
      default -> net + "." + (1 + random.nextInt(254));
    };
  }

  private Field several(FieldName name, java.util.function.Supplier<String> one) {
    int count = 1 + random.nextInt(3);
    List<String> texts = new ArrayList<>();
    for (int i = 0; i < count; i++) {
      texts.add(one.get());
    }
    return values(name, texts.stream().distinct().toArray(String[]::new));
  }

  private static Field values(FieldName name, String... texts) {
    List<Value> values = new ArrayList<>();
    for (String text : texts) {
      values.add(ValueText.parse(name.kind(), text));
    }
    return new Field(Field.Sense.IS, values);
  }
}
