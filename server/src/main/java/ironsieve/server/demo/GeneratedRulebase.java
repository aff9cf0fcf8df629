package ironsieve.server.demo;

import ironsieve.files.Contents;
import ironsieve.files.Documents.ChapterDoc;
import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.RecordKind;
import ironsieve.model.Application;
import ironsieve.model.Directory;
import ironsieve.model.Surroundings;
import ironsieve.model.Zone;
import java.math.BigDecimal;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;

/**
 * A rulebase of any size among the demo company's own zones, people and applications, for scale.
 * The same size and seed give the same rules: mostly one zone and network to another for an
 * application or a service, some for a group or a time, one in eight a narrower exception from an
 * earlier rule.
 */
final class GeneratedRulebase {

  private static final int CHAPTER = 50;
  private static final List<String> SERVICES =
      List.of("tcp/443", "tcp/80", "udp/443", "tcp/22", "udp/53", "tcp/8000-8100", "tcp/25");
  private static final List<String> TIMES =
      List.of("mon-fri 07:00-19:00", "sat,sun", "22:00-06:00");

  private final Random random;
  private final List<Zone> zones;
  private final List<String> groups;
  private final List<String> people;
  private final List<Application> applications;

  private GeneratedRulebase(long seed, Surroundings surroundings) {
    random = new Random(seed);
    // Zones whose IPv4 network is a /16 have room for many rules.
    zones =
        surroundings.zones().stream()
            .filter(zone -> !zone.networks().isEmpty())
            .filter(zone -> zone.networks().get(0).low().toString().matches("10\\.\\d+\\.0\\.0"))
            .filter(zone -> zone.side() != Zone.Side.GATEWAY)
            .toList();
    groups = surroundings.directory().groups().stream().map(Directory.Group::name).toList();
    people = surroundings.directory().people().stream().map(Directory.Person::login).toList();
    applications = surroundings.catalogue().applications();
  }

  /** The rulebase {@code generated-SIZE}. */
  static Contents of(int size, long seed, Surroundings surroundings) {
    GeneratedRulebase made = new GeneratedRulebase(seed, surroundings);
    Map<String, ChapterDoc> chapters = new LinkedHashMap<>();
    Map<String, RuleDoc> rules = new LinkedHashMap<>();
    for (int r = 0; r < size; r++) {
      String chapter = "c" + r / CHAPTER;
      chapters.computeIfAbsent(
          chapter,
          id ->
              new ChapterDoc(
                  id, BigDecimal.valueOf(chapters.size()), "Part " + id.substring(1), ""));
      RuleDoc rule = made.rule(r, rules);
      rules.put(rule.id(), rule.at(chapter, BigDecimal.valueOf(r)));
    }
    Contents contents =
        Contents.empty(new Contents.Title("generated-" + size, "Generated " + size, "deny", null));
    chapters.values().forEach(chapter -> contents.put(RecordKind.CHAPTER, chapter));
    rules.values().forEach(rule -> contents.put(RecordKind.RULE, rule));
    return contents;
  }

  private RuleDoc rule(int number, Map<String, RuleDoc> earlier) {
    Map<String, FieldDoc> fields = new TreeMap<>();
    if (number > 10 && random.nextInt(8) == 0) {
      fields.putAll(earlier.get("g" + random.nextInt(number)).fields());
      put(fields, "from.people", pick(people));
    } else {
      place(fields, "from");
      place(fields, "to");
      if (random.nextBoolean()) {
        put(fields, "using.applications", pick(applications).name());
      } else {
        put(fields, "using.services", pick(SERVICES));
      }
      if (random.nextInt(3) == 0) {
        put(fields, "from.people", "group " + pick(groups));
      }
      if (random.nextInt(10) == 0) {
        put(fields, "when.times", pick(TIMES));
      }
    }
    String verdict = random.nextInt(3) == 0 ? "deny" : "allow";
    return new RuleDoc(
        "g" + number,
        "",
        null,
        "Rule of change " + (4000 + number),
        "on",
        fields,
        "any",
        verdict,
        null,
        "log",
        "",
        null);
  }

  private void place(Map<String, FieldDoc> fields, String side) {
    Zone zone = pick(zones);
    String base = zone.networks().get(0).low().toString().replaceAll("\\.0\\.0$", "");
    put(fields, side + ".zones", zone.name());
    switch (random.nextInt(5)) {
      case 0 ->
          put(
              fields,
              side + ".networks",
              base + "." + random.nextInt(256) + "." + random.nextInt(256));
      case 1 -> put(fields, side + ".networks", base + "." + random.nextInt(16) * 16 + ".0/20");
      case 2, 3 -> put(fields, side + ".networks", base + "." + random.nextInt(256) + ".0/24");
      default -> fields.remove(side + ".networks");
    }
  }

  private <T> T pick(List<T> all) {
    return all.get(random.nextInt(all.size()));
  }

  private static void put(Map<String, FieldDoc> fields, String key, String value) {
    fields.put(key, new FieldDoc("is", List.of(value)));
  }
}
