package ironsieve.files;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.model.Chapter;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Service;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiFunction;
import java.util.function.Function;

/**
 * Reads access control lists after RFC 8519 (in JSON, RFC 7951) as a rulebase: a chapter for each
 * list; entries that follow each other under one name and do the same are one rule where together
 * they are a product of sources, destinations and services. What rules here cannot ask for, such as
 * source ports, makes a rule that is off and says so in its note; nothing is read as more or less
 * than it was.
 */
final class AccessListReader {

  private static final String ROOT = "ietf-access-control-list:acls";
  private static final int MOST_ENTRIES = AccessList.MOST_ENTRIES;
  private static final Set<String> OF_NETWORKS =
      Set.of(
          "source-ipv4-network",
          "destination-ipv4-network",
          "source-ipv6-network",
          "destination-ipv6-network",
          "protocol");
  private static final Set<String> MATCHES =
      Set.of("ipv4", "ipv6", "tcp", "udp", "icmp", "ingress-interface", "egress-interface");

  private final Set<String> ids = new HashSet<>();

  private AccessListReader() {}

  /** Whether a JSON text is lists of this kind. */
  static boolean isOne(String text) {
    return text.contains("\"" + ROOT + "\"");
  }

  /**
   * Reads the lists.
   *
   * @param name what to call the rulebase
   * @throws FaultException naming the entry that cannot be read
   */
  static Rulebase read(String name, String text) {
    JsonNode lists =
        JsonText.read(new ObjectMapper(), "access list", text, JsonNode.class)
            .at("/" + ROOT + "/acl");
    if (!lists.isArray()) {
      throw new FaultException("access list", ROOT, "there is no list \"acl\" in it");
    }
    AccessListReader reader = new AccessListReader();
    List<Chapter> chapters = new ArrayList<>();
    Optional<Verdict> defaultVerdict = defaultVerdict(lists);
    for (JsonNode list : lists) {
      chapters.add(reader.chapter(list, chapters.size(), defaultVerdict.isPresent()));
    }
    return new Rulebase(name, chapters, List.of(), defaultVerdict.orElse(Verdict.DENY));
  }

  /** What was written for the default verdict, where all lists end with the same. */
  private static Optional<Verdict> defaultVerdict(JsonNode lists) {
    Set<String> words = new HashSet<>();
    for (JsonNode list : lists) {
      JsonNode entries = list.at("/aces/ace");
      JsonNode last = entries.path(entries.size() - 1);
      boolean isDefault =
          last.path("name").asText().equals(AccessList.DEFAULT_VERDICT) && !last.has("matches");
      words.add(isDefault ? last.at("/actions/forwarding").asText().replaceFirst(".*:", "") : "");
    }
    if (words.size() != 1) {
      return Optional.empty();
    }
    return switch (words.iterator().next()) {
      case "accept" -> Optional.of(Verdict.ALLOW);
      case "drop" -> Optional.of(Verdict.DENY);
      case "reject" -> Optional.of(Verdict.REJECT);
      default -> Optional.empty();
    };
  }

  /**
   * What one entry, or several together, match and do.
   *
   * @param base the name without its number
   * @param beyond what it asks for and rules here cannot
   */
  private record Entry(
      String base,
      Set<String> sources,
      Set<String> targets,
      Set<String> services,
      Verdict verdict,
      Rule.Logging logging,
      List<String> beyond) {

    private boolean doesAs(Entry other) {
      return base.equals(other.base)
          && verdict == other.verdict
          && logging == other.logging
          && beyond.isEmpty()
          && other.beyond.isEmpty();
    }
  }

  private Chapter chapter(JsonNode list, int number, boolean endsWithDefault) {
    String title = list.path("name").asText("list " + (number + 1));
    JsonNode entries = list.at("/aces/ace");
    if (!entries.isArray() || entries.size() > MOST_ENTRIES) {
      throw new FaultException(
          "access list " + title, "aces", "a list has \"ace\" with up to " + MOST_ENTRIES);
    }
    List<Entry> read = new ArrayList<>();
    for (int e = 0; e < entries.size() - (endsWithDefault ? 1 : 0); e++) {
      read.add(entry(title, list.path("type").asText(""), entries.get(e)));
    }
    // Entries are written with the services innermost, then the destinations, then the sources.
    List<Entry> joined =
        joined(read, Entry::services, Entry::sources, Entry::targets, this::withServices);
    joined = joined(joined, Entry::targets, Entry::sources, Entry::services, this::withTargets);
    joined = joined(joined, Entry::sources, Entry::targets, Entry::services, this::withSources);
    return new Chapter("list-" + (number + 1), title, "", joined.stream().map(this::rule).toList());
  }

  /** Neighbours that differ in one of the three only become one entry. */
  private static List<Entry> joined(
      List<Entry> entries,
      Function<Entry, Set<String>> differing,
      Function<Entry, Set<String>> same,
      Function<Entry, Set<String>> alsoSame,
      BiFunction<Entry, Set<String>, Entry> with) {
    List<Entry> joined = new ArrayList<>();
    for (Entry entry : entries) {
      Entry last = joined.isEmpty() ? null : joined.get(joined.size() - 1);
      if (last != null
          && last.doesAs(entry)
          && same.apply(last).equals(same.apply(entry))
          && alsoSame.apply(last).equals(alsoSame.apply(entry))
          && differing.apply(last).isEmpty() == differing.apply(entry).isEmpty()) {
        Set<String> both = new LinkedHashSet<>(differing.apply(last));
        both.addAll(differing.apply(entry));
        joined.set(joined.size() - 1, with.apply(last, both));
      } else {
        joined.add(entry);
      }
    }
    return joined;
  }

  private Entry withServices(Entry e, Set<String> services) {
    return new Entry(e.base, e.sources, e.targets, services, e.verdict, e.logging, e.beyond);
  }

  private Entry withTargets(Entry e, Set<String> targets) {
    return new Entry(e.base, e.sources, targets, e.services, e.verdict, e.logging, e.beyond);
  }

  private Entry withSources(Entry e, Set<String> sources) {
    return new Entry(e.base, sources, e.targets, e.services, e.verdict, e.logging, e.beyond);
  }

  private static Entry entry(String list, String type, JsonNode entry) {
    String name = entry.path("name").asText("");
    String place = "access list " + list + ", entry " + (name.isEmpty() ? "without a name" : name);
    JsonNode matches = entry.path("matches");
    List<String> beyond = new ArrayList<>();
    matches
        .fieldNames()
        .forEachRemaining(
            one -> {
              if (!MATCHES.contains(one) || one.endsWith("interface")) {
                beyond.add(one);
              }
            });
    String word = matches.has("ipv6") || type.contains("ipv6") ? "ipv6" : "ipv4";
    boolean anyVersion = !matches.has("ipv4") && !matches.has("ipv6") && !type.contains("ipv");
    JsonNode ip = matches.path(word);
    ip.fieldNames()
        .forEachRemaining(
            one -> {
              if (!OF_NETWORKS.contains(one)) {
                beyond.add(one);
              }
            });
    String all = word.equals("ipv6") ? "::/0" : "0.0.0.0/0";
    return new Entry(
        name.replaceFirst("-\\d+$", ""),
        anyVersion ? Set.of() : network(place, ip.path("source-" + word + "-network"), all),
        anyVersion ? Set.of() : network(place, ip.path("destination-" + word + "-network"), all),
        services(place, ip.path("protocol"), matches, word, beyond),
        verdict(place, entry.at("/actions/forwarding").asText("")),
        entry.at("/actions/logging").asText("").endsWith("log-syslog")
            ? Rule.Logging.LOGGED
            : Rule.Logging.NOT_LOGGED,
        List.copyOf(beyond));
  }

  private static Verdict verdict(String place, String word) {
    return switch (word.replaceFirst("^.*:", "")) {
      case "accept" -> Verdict.ALLOW;
      case "drop" -> Verdict.DENY;
      case "reject" -> Verdict.REJECT;
      default ->
          throw new FaultException(
              place, "forwarding", "\"" + word + "\" is none of accept, drop and reject");
    };
  }

  private static Set<String> network(String place, JsonNode network, String all) {
    String text = network.asText(all);
    try {
      ValueText.parse(ValueKind.NETWORK, text);
      return Set.of(text);
    } catch (IllegalArgumentException e) {
      throw new FaultException(place, "network", e.getMessage());
    }
  }

  /** What it matches of services; nothing for all of them. */
  private static Set<String> services(
      String place, JsonNode protocol, JsonNode matches, String version, List<String> beyond) {
    for (String word : List.of("tcp", "udp")) {
      JsonNode of = matches.path(word);
      if (!of.isMissingNode()) {
        of.fieldNames()
            .forEachRemaining(
                one -> {
                  if (!one.equals("destination-port")) {
                    beyond.add(word + " " + one);
                  }
                });
        return ports(place, word, of.path("destination-port"));
      }
    }
    JsonNode icmp = matches.path("icmp");
    if (!icmp.isMissingNode()) {
      String word =
          version.equals("ipv6") || protocol.asInt() == Service.ICMPV6 ? "icmpv6" : "icmp";
      if (!icmp.has("type")) {
        return Set.of(word);
      }
      String code = icmp.has("code") ? "." + icmp.get("code").asText() : "";
      return Set.of(service(place, word + "/" + icmp.get("type").asText() + code));
    }
    return protocol.isMissingNode() ? Set.of() : Set.of(service(place, "ip/" + protocol.asText()));
  }

  private static Set<String> ports(String place, String word, JsonNode port) {
    if (port.isMissingNode()) {
      return Set.of(word);
    }
    if (port.has("lower-port")) {
      String low = port.get("lower-port").asText();
      return Set.of(service(place, word + "/" + low + "-" + port.path("upper-port").asText(low)));
    }
    int number = port.path("port").asInt(-1);
    return switch (port.path("operator").asText("eq")) {
      case "eq" -> Set.of(service(place, word + "/" + number));
      case "lte" -> Set.of(service(place, word + "/0-" + number));
      case "gte" -> Set.of(service(place, word + "/" + number + "-65535"));
      case "neq" -> {
        Set<String> others = new LinkedHashSet<>();
        if (number > 0) {
          others.add(service(place, word + "/0-" + (number - 1)));
        }
        if (number < 65_535) {
          others.add(service(place, word + "/" + (number + 1) + "-65535"));
        }
        yield others;
      }
      default -> throw new FaultException(place, "operator", "an operator is eq, neq, lte or gte");
    };
  }

  private static String service(String place, String text) {
    try {
      return ValueText.print(ValueText.parse(ValueKind.SERVICE, text));
    } catch (IllegalArgumentException e) {
      throw new FaultException(place, "service", e.getMessage());
    }
  }

  private Rule rule(Entry entry) {
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    put(fields, FieldName.FROM_NETWORKS, entry.sources);
    put(fields, FieldName.TO_NETWORKS, entry.targets);
    put(fields, FieldName.SERVICES, entry.services);
    boolean whole = entry.beyond.isEmpty();
    return new Rule(
        id(entry.base),
        entry.base,
        whole ? Rule.State.ON : Rule.State.OFF,
        new Rule.Match(fields, Rule.Ports.ANY),
        new Rule.Then(entry.verdict, entry.logging),
        whole
            ? ""
            : "Off: its entry also asks for "
                + String.join(", ", entry.beyond)
                + ", which rules here cannot.");
  }

  private static void put(Map<FieldName, Field> fields, FieldName name, Set<String> texts) {
    if (!texts.isEmpty()) {
      List<Value> values = texts.stream().map(text -> ValueText.parse(name.kind(), text)).toList();
      fields.put(name, new Field(Field.Sense.IS, values));
    }
  }

  private String id(String base) {
    String plain = base.replaceAll("[^\\p{L}\\p{Nd}_.-]+", "-");
    String begun = plain.isEmpty() ? "entry" : plain;
    String id = begun;
    for (int n = 2; !ids.add(id); n++) {
      id = begun + "-" + n;
    }
    return id;
  }
}
