package ironsieve.files;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import ironsieve.compile.Names;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Service;
import ironsieve.model.Surroundings;
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

  /**
   * What the standard cannot carry of one rule.
   *
   * @param rule the rule's id
   * @param what field keys, and words for what follows a catch
   */
  public record Left(String rule, List<String> what) {}

  /**
   * The lists, and what they leave out.
   *
   * @param json the document
   */
  public record Written(String json, List<Left> left) {}

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

  private AccessList(Rulebase rulebase, Surroundings surroundings) {
    names = new Names(rulebase.parts(), surroundings);
    zones = surroundings.zones();
    behind = Zone.behind(zones);
    for (Address.Version version : Address.Version.values()) {
      entries.put(version, new ArrayList<>());
    }
  }

  /** Writes the lists; the rulebase must have no problems in these surroundings. */
  public static Written write(Rulebase rulebase, Surroundings surroundings) {
    AccessList list = new AccessList(rulebase, surroundings);
    rulebase.rules().stream().filter(Rule::isOn).forEach(list::add);
    list.lastLine(rulebase.lastLine());
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
    List<String> missing = new ArrayList<>();
    rule.match().fields().keySet().stream()
        .filter(name -> !CARRIED.contains(name))
        .forEach(name -> missing.add(name.key()));
    if (rule.match().field(FieldName.TO_NETWORKS).map(this::namesHosts).orElse(false)) {
      missing.add("host names asked for");
    }
    if (rule.match().ports() == Rule.Ports.USUAL) {
      missing.add("usual ports");
    }
    if (rule.then().verdict().shows()) {
      missing.add("notice");
    }
    rule.then().sheet().ifPresent(sheet -> missing.add("usage sheet"));
    rule.then().outcome().lane().ifPresent(lane -> missing.add("lane"));
    if (!missing.isEmpty()) {
      left.add(new Left(rule.id(), missing));
    }
    RangeSet<Address> from = places(rule, FieldName.FROM_ZONES, FieldName.FROM_NETWORKS);
    RangeSet<Address> to = places(rule, FieldName.TO_ZONES, FieldName.TO_NETWORKS);
    for (Address.Version version : Address.Version.values()) {
      int number = 0;
      for (String source : prefixes(from, version)) {
        for (String target : prefixes(to, version)) {
          for (Map<String, Object> service : services(rule)) {
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
                        rule.id() + "-" + ++number,
                        matches,
                        rule.then().verdict(),
                        rule.then().logging()));
          }
        }
      }
    }
  }

  private void lastLine(Verdict verdict) {
    entries
        .values()
        .forEach(aces -> aces.add(entry("last-line", Map.of(), verdict, Rule.Logging.QUIET)));
  }

  private static Map<String, Object> entry(
      String name, Map<String, Object> matches, Verdict verdict, Rule.Logging logging) {
    String forwarding = verdict.passes() ? "accept" : verdict == Verdict.DENY ? "drop" : "reject";
    Map<String, Object> actions = new LinkedHashMap<>();
    actions.put("forwarding", "ietf-access-control-list:" + forwarding);
    actions.put(
        "logging",
        "ietf-access-control-list:" + (logging == Rule.Logging.LOG ? "log-syslog" : "log-none"));
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
        boolean named = field.values().contains(new Value.ZoneName(zones.get(z).name()));
        if (named == (field.sense() == Field.Sense.IS)) {
          ranges.addAll(behind.get(z).ranges());
        }
      }
      all = all.intersect(RangeSet.of(Line.ADDRESSES, ranges));
    }
    if (rule.match().field(networkField).isPresent()) {
      Field field = rule.match().field(networkField).get();
      List<Range<Address>> ranges = new ArrayList<>();
      for (Value value : names.open(networkField, field)) {
        ranges.addAll(names.surroundings().atlas().ranges(value).orElseThrow());
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
