package ironsieve.files;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import ironsieve.compile.Names;
import ironsieve.model.Environment;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Service;
import ironsieve.model.Value;
import ironsieve.model.Value.ServiceRange;
import ironsieve.model.Verdict;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.Line;
import ironsieve.region.Range;
import ironsieve.region.RangeSet;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * The addresses and ports of a rulebase as access control lists after RFC 8519 (in its JSON
 * encoding, RFC 7951): one list for each IP version, one entry for each pair of prefixes and each
 * service. Everything else a rule asks for is beyond that standard, and is said rule by rule.
 */
public final class AccessList {

  /** In which direction an entry misses its rule. */
  public enum Direction {
    /** The entries match connections that the rule does not. */
    WIDER,
    /** The rule matches connections that the entries do not. */
    NARROWER,
    /** They match the same, but do less with it. */
    ACTION
  }

  /**
   * What the standard cannot carry of one rule.
   *
   * @param rule the rule's id
   * @param what a field's key or a few words
   */
  public record Left(String rule, String what, Direction direction) {

    /** The same as a sentence for whoever reads the lists. */
    public String sentence() {
      return rule
          + ": "
          + what
          + switch (direction) {
            case WIDER -> " is not carried; the entries match more than the rule";
            case NARROWER -> " is not carried; the entries match less than the rule";
            case ACTION -> " is not carried; the entries only accept, drop or reject";
          };
    }
  }

  /**
   * The lists, and what they leave out.
   *
   * @param json the document
   */
  public record Written(String json, List<Left> left) {}

  /** More entries than this are of use to nobody. */
  /** What the entry for the default verdict is called, by which it is known again. */
  static final String DEFAULT_VERDICT = "default-verdict";

  /** By RFC 8519, 4.1. */
  private static final int LONGEST_NAME = 64;

  /** Room for a hyphen and the number of an entry. */
  private static final int MOST_DIGITS = 8;

  static final int MOST_ENTRIES = 200_000;

  private static final ObjectMapper JSON =
      new ObjectMapper().enable(SerializationFeature.INDENT_OUTPUT);
  private static final List<FieldName> CARRIED =
      List.of(
          FieldName.FROM_ZONES,
          FieldName.FROM_NETWORKS,
          FieldName.TO_ZONES,
          FieldName.TO_NETWORKS,
          FieldName.SERVICES);

  private final Names names;
  private final List<Zone> zones;
  private final List<RangeSet<Address>> behind;
  private final Map<Address.Version, List<Map<String, Object>>> entries =
      new EnumMap<>(Address.Version.class);
  private final List<Left> left = new ArrayList<>();
  private int written;

  private AccessList(Rulebase rulebase, Environment environment) {
    names = new Names(rulebase.parts(), environment);
    zones = environment.zones();
    behind = Zone.behind(zones);
    for (Address.Version version : Address.Version.values()) {
      entries.put(version, new ArrayList<>());
    }
  }

  /** Writes the lists; the rulebase must have no problems in these surroundings. */
  public static Written write(Rulebase rulebase, Environment environment) {
    AccessList list = new AccessList(rulebase, environment);
    rulebase.rules().stream().filter(Rule::isOn).forEach(list::add);
    list.defaultVerdict(rulebase.defaultVerdict());
    List<Map<String, Object>> acls = new ArrayList<>();
    list.entries.forEach(
        (version, aces) -> {
          String word = version == Address.Version.V4 ? "ipv4" : "ipv6";
          Map<String, Object> acl = new LinkedHashMap<>();
          acl.put("name", word);
          acl.put("type", "ietf-access-control-list:" + word + "-acl-type");
          acl.put("aces", Map.of("ace", aces));
          acls.add(acl);
        });
    try {
      Map<String, Object> root = Map.of("ietf-access-control-list:acls", Map.of("acl", acls));
      return new Written(JSON.writeValueAsString(root) + "\n", list.left);
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("maps always become JSON", e);
    }
  }

  private void add(Rule rule) {
    String id = rule.id();
    rule.match().fields().keySet().stream()
        .filter(name -> !CARRIED.contains(name))
        .forEach(name -> left.add(new Left(id, name.key(), Direction.WIDER)));
    rule.match()
        .field(FieldName.TO_NETWORKS)
        .filter(this::namesHosts)
        .ifPresent(
            field ->
                left.add(
                    new Left(
                        id,
                        "a host name asked for",
                        // Whoever asks for the name at another address is meant too, or not at all.
                        field.sense() == Field.Sense.IS ? Direction.NARROWER : Direction.WIDER)));
    for (FieldName field : List.of(FieldName.FROM_ZONES, FieldName.TO_ZONES)) {
      sharedWith(rule, field)
          .forEach(
              zone ->
                  left.add(
                      new Left(
                          id,
                          field.key()
                              + " (some of its addresses lie behind "
                              + zone
                              + " too, which an address list cannot tell apart)",
                          Direction.WIDER)));
    }
    if (namesPortsBeyond(rule)) {
      left.add(
          new Left(
              id, "ports of a protocol for which the standard has none (SCTP)", Direction.WIDER));
    }
    if (rule.match().ports() == Rule.Ports.USUAL) {
      left.add(new Left(id, "usual ports", Direction.WIDER));
    }
    if (rule.then().verdict().shows()) {
      left.add(new Left(id, "notice", Direction.ACTION));
    }
    rule.then().sheet().ifPresent(s -> left.add(new Left(id, "usage sheet", Direction.ACTION)));
    rule.then().outcome().lane().ifPresent(l -> left.add(new Left(id, "lane", Direction.ACTION)));
    RangeSet<Address> from = places(rule, FieldName.FROM_ZONES, FieldName.FROM_NETWORKS);
    RangeSet<Address> to = places(rule, FieldName.TO_ZONES, FieldName.TO_NETWORKS);
    List<Map<String, Object>> services = services(rule);
    for (Address.Version version : Address.Version.values()) {
      int number = 0;
      List<String> sources = prefixes(from, version);
      List<String> targets = prefixes(to, version);
      demandRoom(rule, (long) sources.size() * targets.size() * services.size());
      for (String source : sources) {
        for (String target : targets) {
          for (Map<String, Object> service : services) {
            Map<String, Object> ip = new LinkedHashMap<>();
            String word = version == Address.Version.V4 ? "ipv4" : "ipv6";
            ip.put("source-" + word + "-network", source);
            ip.put("destination-" + word + "-network", target);
            Map<String, Object> matches = new LinkedHashMap<>();
            Map<String, Object> rest = new LinkedHashMap<>(service);
            if (rest.containsKey("protocol")) {
              ip.put("protocol", rest.remove("protocol"));
            }
            matches.put(word, ip);
            matches.putAll(rest);
            entries
                .get(version)
                .add(
                    entry(
                        name(rule.id(), ++number),
                        matches,
                        rule.then().verdict(),
                        rule.then().logging()));
          }
        }
      }
    }
  }

  /**
   * Entries are a product, and a few negated fields make one that fits no memory and no gateway.
   */
  private void demandRoom(Rule rule, long more) {
    if (written + more > MOST_ENTRIES) {
      throw new FaultException(
          "rule " + rule.id(),
          "",
          "an access list has an entry for each source, destination and service, and with this rule"
              + " there would be "
              + (written + more)
              + ", which is more than "
              + MOST_ENTRIES
              + "; use fewer or wider networks, or fewer negated fields");
    }
    written += (int) more;
  }

  /** Other zones behind which addresses of a rule's zones lie too. */
  private List<String> sharedWith(Rule rule, FieldName field) {
    List<String> shared = new ArrayList<>();
    if (rule.match().field(field).isPresent()) {
      boolean from = field == FieldName.FROM_ZONES;
      RangeSet<Address> own =
          places(rule, field, from ? FieldName.FROM_NETWORKS : FieldName.TO_NETWORKS);
      for (int z = 0; z < zones.size(); z++) {
        if (!holds(rule.match().field(field).get(), zones.get(z))
            && !own.intersect(behind.get(z)).isEmpty()) {
          shared.add(zones.get(z).name());
        }
      }
    }
    return shared;
  }

  private static boolean holds(Field field, Zone zone) {
    return field.values().contains(new Value.ZoneName(zone.name()))
        == (field.sense() == Field.Sense.IS);
  }

  private boolean namesPortsBeyond(Rule rule) {
    return rule.match().field(FieldName.SERVICES).stream()
        .flatMap(field -> names.open(FieldName.SERVICES, field).stream())
        .map(ServiceRange.class::cast)
        .anyMatch(
            service ->
                service.low().protocol() == Service.SCTP
                    && (service.low().detail() > 0 || service.high().detail() < 0xFFFF));
  }

  private void defaultVerdict(Verdict verdict) {
    entries
        .values()
        .forEach(
            aces -> aces.add(entry(DEFAULT_VERDICT, Map.of(), verdict, Rule.Logging.NOT_LOGGED)));
  }

  /** The name of a rule's entry, no longer than the standard allows and still its own. */
  private static String name(String rule, int number) {
    String behind = "-" + number;
    if (rule.length() + behind.length() <= LONGEST_NAME) {
      return rule + behind;
    }
    String digest = "~" + Integer.toHexString(rule.hashCode());
    return rule.substring(0, LONGEST_NAME - digest.length() - MOST_DIGITS) + digest + behind;
  }

  private static Map<String, Object> entry(
      String name, Map<String, Object> matches, Verdict verdict, Rule.Logging logging) {
    String forwarding = verdict.passes() ? "accept" : verdict == Verdict.DENY ? "drop" : "reject";
    Map<String, Object> actions = new LinkedHashMap<>();
    actions.put("forwarding", "ietf-access-control-list:" + forwarding);
    actions.put(
        "logging",
        "ietf-access-control-list:" + (logging == Rule.Logging.LOGGED ? "log-syslog" : "log-none"));
    Map<String, Object> ace = new LinkedHashMap<>();
    ace.put("name", name);
    if (!matches.isEmpty()) {
      ace.put("matches", matches);
    }
    ace.put("actions", actions);
    return ace;
  }

  private boolean namesHosts(Field field) {
    return names.open(FieldName.TO_NETWORKS, field).stream()
        .anyMatch(Value.HostObject.class::isInstance);
  }

  /** The addresses of a zone field and a network field together, exactly. */
  private RangeSet<Address> places(Rule rule, FieldName zoneField, FieldName networkField) {
    RangeSet<Address> all = RangeSet.of(Line.ADDRESSES, List.of()).complement();
    if (rule.match().field(zoneField).isPresent()) {
      Field field = rule.match().field(zoneField).get();
      List<Range<Address>> ranges = new ArrayList<>();
      for (int z = 0; z < zones.size(); z++) {
        if (holds(field, zones.get(z))) {
          ranges.addAll(behind.get(z).ranges());
        }
      }
      all = all.intersect(RangeSet.of(Line.ADDRESSES, ranges));
    }
    if (rule.match().field(networkField).isPresent()) {
      Field field = rule.match().field(networkField).get();
      List<Range<Address>> ranges = new ArrayList<>();
      for (Value value : names.open(networkField, field)) {
        ranges.addAll(names.environment().atlas().ranges(value).orElseThrow());
      }
      RangeSet<Address> named = RangeSet.of(Line.ADDRESSES, ranges);
      all = all.intersect(field.sense() == Field.Sense.IS ? named : named.complement());
    }
    return all;
  }

  /** The ranges of one version cut into prefixes: the fewest there can be. */
  private static List<String> prefixes(RangeSet<Address> set, Address.Version version) {
    List<String> prefixes = new ArrayList<>();
    RangeSet<Address> ofVersion =
        set.intersect(
            RangeSet.of(
                Line.ADDRESSES,
                List.of(new Range<>(Address.first(version), Address.first(version).highest(0)))));
    for (Range<Address> range : ofVersion.ranges()) {
      Address at = range.low();
      while (true) {
        int bits = at.bits();
        while (bits > 0
            && at.lowest(bits - 1).equals(at)
            && at.highest(bits - 1).compareTo(range.high()) <= 0) {
          bits--;
        }
        Address last = at.highest(bits);
        prefixes.add(at + "/" + bits);
        if (last.equals(range.high())) {
          break;
        }
        at = Line.ADDRESSES.after(last);
      }
    }
    return prefixes;
  }

  /** What an entry matches of each service: the protocol, and ports or types where it has them. */
  private List<Map<String, Object>> services(Rule rule) {
    if (rule.match().field(FieldName.SERVICES).isEmpty()) {
      return List.of(Map.of());
    }
    Field field = rule.match().field(FieldName.SERVICES).get();
    List<Range<Integer>> runs = new ArrayList<>();
    for (Value value : names.open(FieldName.SERVICES, field)) {
      ServiceRange service = (ServiceRange) value;
      runs.add(new Range<>(service.low().number(), service.high().number()));
    }
    RangeSet<Integer> set = RangeSet.of(Service.LINE, runs);
    List<Map<String, Object>> matches = new ArrayList<>();
    for (Range<Integer> run : (field.sense() == Field.Sense.IS ? set : set.complement()).ranges()) {
      for (int protocol = run.low() >> 16; protocol <= run.high() >> 16; protocol++) {
        int low = Math.max(run.low(), protocol << 16) & 0xFFFF;
        int high =
            Math.min(
                Math.min(run.high(), protocol << 16 | 0xFFFF) & 0xFFFF,
                Service.lastDetail(protocol));
        if (low <= Service.lastDetail(protocol)) {
          matches.addAll(service(protocol, low, high));
        }
      }
    }
    return matches;
  }

  private static List<Map<String, Object>> service(int protocol, int low, int high) {
    if (low == 0 && high == Service.lastDetail(protocol)) {
      return List.of(Map.of("protocol", protocol));
    }
    if (protocol == Service.ICMP || protocol == Service.ICMPV6) {
      return types(protocol, low, high);
    }
    Map<String, Object> match = new LinkedHashMap<>();
    match.put("protocol", protocol);
    Map<String, Object> port = new LinkedHashMap<>();
    if (low == high) {
      port.put("operator", "eq");
      port.put("port", low);
    } else {
      port.put("lower-port", low);
      port.put("upper-port", high);
    }
    // The standard has no ports for other protocols; such a service is left to the protocol.
    if (protocol == Service.TCP || protocol == Service.UDP) {
      match.put(protocol == Service.TCP ? "tcp" : "udp", Map.of("destination-port", port));
    }
    return List.of(match);
  }

  /** One match for each type, or for each code of a type that is not there as a whole. */
  private static List<Map<String, Object>> types(int protocol, int low, int high) {
    List<Map<String, Object>> matches = new ArrayList<>();
    for (int type = low >> 8; type <= high >> 8; type++) {
      int first = Math.max(low, type << 8) & 255;
      int last = Math.min(high, type << 8 | 255) & 255;
      boolean whole = first == 0 && last == 255;
      for (int code = first; code <= (whole ? first : last); code++) {
        Map<String, Object> icmp = new LinkedHashMap<>();
        icmp.put("type", type);
        if (!whole) {
          icmp.put("code", code);
        }
        Map<String, Object> match = new LinkedHashMap<>();
        match.put("protocol", protocol);
        match.put("icmp", icmp);
        matches.add(match);
      }
    }
    return matches;
  }
}
