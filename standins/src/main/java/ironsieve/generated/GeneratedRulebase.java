package ironsieve.generated;

import ironsieve.files.Contents;
import ironsieve.files.Documents.ChapterDoc;
import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.RecordKind;
import ironsieve.model.Application;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.Zone;
import java.math.BigDecimal;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.function.Supplier;
import java.util.stream.Stream;

/**
 * A rulebase of any size among the demo company's own zones, people and applications, for scale, as
 * rulebases are after years. The same size and seed give the same rules: chapters about one pair of
 * zones and a slice of each, narrow rules from one to three networks to one to three with services
 * or applications; one in ten has an exception for one person just above it; three in a hundred are
 * mistakes; wide denies come last.
 */
public final class GeneratedRulebase {

  private static final int CHAPTER = 50;
  private static final int SLICE = 4;
  private static final List<String> SERVICES =
      List.of(
          "tcp/443",
          "tcp/80",
          "udp/443",
          "tcp/22",
          "udp/53",
          "tcp/25",
          "tcp/389",
          "tcp/1433",
          "tcp/5432",
          "udp/123",
          "udp/161",
          "tcp/445",
          "tcp/8000-8100",
          "tcp/9000-9100",
          "icmp");

  private final Random random;
  private final List<Zone> zones;
  private final List<String> people;
  private final List<Application> applications;
  private final Contents contents;
  private int number;

  private GeneratedRulebase(int size, long seed, Environment environment) {
    random = new Random(seed);
    // Zones whose IPv4 network is a /16 have room for many rules.
    zones =
        environment.zones().stream()
            .filter(zone -> !zone.networks().isEmpty())
            .filter(zone -> zone.networks().get(0).low().toString().matches("10\\.\\d+\\.0\\.0"))
            .filter(zone -> zone.side() != Zone.Side.GATEWAY)
            .toList();
    people = environment.directory().people().stream().map(Directory.Person::login).toList();
    applications = environment.catalogue().applications();
    contents =
        Contents.empty(new Contents.Title("generated-" + size, "Generated " + size, "deny", null));
  }

  /** The rulebase {@code generated-SIZE}. */
  public static Contents of(int size, long seed, Environment environment) {
    GeneratedRulebase made = new GeneratedRulebase(size, seed, environment);
    int narrow = Math.max(0, size - made.zones.size());
    for (int chapter = 0; made.number < narrow; chapter++) {
      made.chapter("c" + chapter, "Part " + chapter, Math.min(CHAPTER, narrow - made.number));
    }
    made.contents.put(
        RecordKind.CHAPTER,
        new ChapterDoc("last", BigDecimal.valueOf(made.number), "Wide denies", ""));
    for (int zone = 0; made.number < size; zone++) {
      Map<String, FieldDoc> fields = new TreeMap<>();
      put(fields, "from.zones", made.zones.get(zone).name());
      made.add("last", fields, "deny");
    }
    return made.contents;
  }

  private void chapter(String id, String title, int count) {
    contents.put(RecordKind.CHAPTER, new ChapterDoc(id, BigDecimal.valueOf(number), title, ""));
    Zone from = pick(zones);
    Zone to = pick(zones);
    int slice = random.nextInt(256 / SLICE) * SLICE;
    int other = random.nextInt(256 / SLICE) * SLICE;
    int end = number + count;
    while (number < end) {
      Map<String, FieldDoc> fields = new TreeMap<>();
      put(fields, "from.zones", from.name());
      fields.put("from.networks", several(() -> network(from, slice)));
      put(fields, "to.zones", to.name());
      fields.put("to.networks", several(() -> network(to, other)));
      if (random.nextInt(3) == 0) {
        fields.put("using.applications", several(() -> pick(applications).name()));
      } else {
        fields.put("using.services", several(() -> pick(SERVICES)));
      }
      if (random.nextInt(20) == 0) {
        put(fields, "when.times", "mon-fri 07:00-19:00");
      }
      String verdict = random.nextInt(8) == 0 ? "deny" : "allow";
      if (random.nextInt(10) == 0 && number + 1 < end) {
        Map<String, FieldDoc> exception = new TreeMap<>(fields);
        put(exception, "from.people", pick(people));
        add(id, exception, verdict.equals("deny") ? "allow" : "deny");
      }
      add(id, fields, verdict);
      if (random.nextInt(33) == 0 && number < end) {
        // Forgotten, or meant to precede.
        add(id, fields, random.nextBoolean() ? verdict : "deny");
      }
    }
  }

  private void add(String chapter, Map<String, FieldDoc> fields, String verdict) {
    RuleDoc rule =
        new RuleDoc(
            "g" + number,
            "",
            null,
            "Rule of change " + (4000 + number),
            "on",
            fields,
            "any",
            verdict,
            null,
            "logged",
            "",
            null);
    contents.put(RecordKind.RULE, rule.at(chapter, BigDecimal.valueOf(number)));
    number++;
  }

  private String network(Zone zone, int slice) {
    String base = zone.networks().get(0).low().toString().replaceAll("\\.0\\.0$", "");
    String net = base + "." + (slice + random.nextInt(SLICE));
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

  private FieldDoc several(Supplier<String> one) {
    int count = 1 + random.nextInt(3);
    return new FieldDoc("is", Stream.generate(one).limit(count).distinct().toList());
  }

  private <T> T pick(List<T> all) {
    return all.get(random.nextInt(all.size()));
  }

  private static void put(Map<String, FieldDoc> fields, String key, String value) {
    fields.put(key, new FieldDoc("is", List.of(value)));
  }
}
