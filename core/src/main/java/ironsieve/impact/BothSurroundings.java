package ironsieve.impact;

import ironsieve.compile.Names;
import ironsieve.model.Atlas;
import ironsieve.model.Catalogue;
import ironsieve.model.Chapter;
import ironsieve.model.Connection;
import ironsieve.model.Connection.Device;
import ironsieve.model.Connection.Place;
import ironsieve.model.DecryptionRule;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.Line;
import ironsieve.region.Range;
import ironsieve.region.RangeSet;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;

/**
 * The surroundings of a rulebase before and after a change of them, put together so that both can
 * be asked about one and the same connection. A connection comes from an address, a person, a
 * device, and is about a host name; which zone, groups and category these have is told apart by
 * side: what a name stands for on both sides keeps the name, and what it stands for on one side
 * only gets a name of its own. A person or kind of device that one side does not know is to it
 * somebody unidentified and a device of unknown kind. An address that has no zone on one side makes
 * no connection there, so it is not compared.
 */
final class BothSurroundings {

  /** Which of the two. */
  private enum Side {
    BEFORE(" until now"),
    AFTER(" from then on");

    private final String words;

    Side(String words) {
      this.words = words;
    }
  }

  /** What a joint name is called on each side. */
  private record Pair(String before, String after) {

    private String on(Side side) {
      return side == Side.BEFORE ? before : after;
    }

    private String joint() {
      return before.equals(after) ? before : before + " → " + after;
    }
  }

  /** A name that stands for nothing. */
  private static final String NOTHING = "";

  private final SurroundingsChange change;
  private final Environment before;
  private final Environment after;
  private final Environment together;
  private final Map<Pair, Zone> zones = new LinkedHashMap<>();
  private final Map<String, Pair> zoneNames = new HashMap<>();
  private final Set<Pair> categories = new LinkedHashSet<>();
  private final Set<String> otherGroups = new HashSet<>();
  private final Set<String> usedGroups = new HashSet<>();
  private boolean usesIdentity;
  private final Set<String> otherAttributes = new HashSet<>();

  /**
   * The surroundings of a rulebase.
   *
   * @param rulebases it before and after; groups that are not the same on both sides are told apart
   *     only where one names them, so that nothing is worded by what nobody asked about
   */
  BothSurroundings(List<Rulebase> rulebases, SurroundingsChange change) {
    this.change = change;
    before = change.before();
    after = change.after();
    rulebases.forEach(this::collectGroups);
    pairZones();
    together =
        new Environment(
            List.copyOf(zones.values()),
            change.sameDirectory() ? after.directory() : directory(),
            Stream.concat(before.deviceKinds().stream(), after.deviceKinds().stream())
                .distinct()
                .toList(),
            change.catalogue(),
            atlas(),
            after.today());
  }

  private void collectGroups(Rulebase rulebase) {
    List<Value> values = new ArrayList<>();
    rulebase.rules().forEach(rule -> people(rule.match(), values));
    rulebase.parts().decryption().forEach(line -> people(line.match(), values));
    Stream.of(rulebase.sets(), before.sets(), after.sets())
        .flatMap(List::stream)
        .filter(set -> set.kind() == ValueKind.PERSON)
        .forEach(set -> values.addAll(set.values()));
    for (Value value : values) {
      if (value instanceof Value.GroupName group) {
        usedGroups.add(group.name());
      }
      usesIdentity |= value instanceof Value.Identity;
    }
  }

  private static void people(Rule.Match match, List<Value> values) {
    match.field(FieldName.PEOPLE).ifPresent(field -> values.addAll(field.values()));
  }

  /** Whether a name, as it is written, is one that was made for one side only. */
  static boolean isOfOneSide(String name) {
    return name.endsWith(Side.BEFORE.words) || name.endsWith(Side.AFTER.words);
  }

  /** Surroundings over which both readings of a rulebase can be compared. */
  Environment together() {
    return together;
  }

  private Environment on(Side side) {
    return side == Side.BEFORE ? before : after;
  }

  private void pairZones() {
    List<RangeSet<Address>> behindBefore = Zone.behind(before.zones());
    List<RangeSet<Address>> behindAfter = Zone.behind(after.zones());
    Map<String, RangeSet<Address>> sinceThen = new HashMap<>();
    for (int a = 0; a < behindAfter.size(); a++) {
      sinceThen.put(after.zones().get(a).name(), behindAfter.get(a));
    }
    Map<String, RangeSet<Address>> untilNow = new HashMap<>();
    for (int b = 0; b < behindBefore.size(); b++) {
      untilNow.put(before.zones().get(b).name(), behindBefore.get(b));
    }
    RangeSet<Address> none = RangeSet.empty(Line.ADDRESSES);
    for (Zone old : before.zones()) {
      RangeSet<Address> own = untilNow.get(old.name());
      RangeSet<Address> lost = own.minus(sinceThen.getOrDefault(old.name(), none));
      for (Zone next : after.zones()) {
        RangeSet<Address> all = sinceThen.get(next.name());
        RangeSet<Address> gained = all.minus(untilNow.getOrDefault(next.name(), none));
        pair(
            old,
            next,
            next.name().equals(old.name())
                ? own.intersect(all)
                : own.intersect(gained).union(lost.intersect(all)));
      }
    }
  }

  private void pair(Zone old, Zone next, RangeSet<Address> ranges) {
    if (!ranges.isEmpty()) {
      Pair pair = new Pair(old.name(), next.name());
      boolean outside = old.side() == Zone.Side.OUTSIDE || next.side() == Zone.Side.OUTSIDE;
      Zone.Side side = outside ? Zone.Side.OUTSIDE : next.side();
      zones.put(pair, new Zone(pair.joint(), side, ranges.ranges(), ""));
      zoneNames.put(pair.joint(), pair);
    }
  }

  /** Everybody on either side, in flat groups. */
  private Directory directory() {
    Map<String, Directory.Person> everybody = new LinkedHashMap<>();
    before.directory().people().forEach(person -> everybody.put(person.login(), person));
    after.directory().people().forEach(person -> everybody.put(person.login(), person));
    Map<String, Set<String>> groupsBefore = new HashMap<>();
    Map<String, Set<String>> groupsAfter = new HashMap<>();
    for (String login : everybody.keySet()) {
      Set<String> was = groups(before, login);
      Set<String> becomes = groups(after, login);
      groupsBefore.put(login, was);
      groupsAfter.put(login, becomes);
      differing(was, becomes, otherGroups);
      Map<String, String> saidBefore = attributes(before, login);
      Map<String, String> saidAfter = attributes(after, login);
      for (String key : union(saidBefore.keySet(), saidAfter.keySet())) {
        if (!java.util.Objects.equals(saidBefore.get(key), saidAfter.get(key))) {
          otherAttributes.add(key);
        }
      }
    }
    Set<String> names = new LinkedHashSet<>();
    for (Environment one : List.of(before, after)) {
      one.directory().groups().forEach(group -> names.add(group.name()));
    }
    names.stream()
        .filter(
            name ->
                before.directory().group(name).isPresent()
                    != after.directory().group(name).isPresent())
        .forEach(otherGroups::add);
    List<Directory.Person> people = new ArrayList<>();
    for (Directory.Person person : everybody.values()) {
      Set<String> own = new HashSet<>();
      Map<String, String> said = new HashMap<>();
      for (Side side : Side.values()) {
        boolean isBefore = side == Side.BEFORE;
        (isBefore ? groupsBefore : groupsAfter)
            .get(person.login()).stream()
                .filter(this::isTold)
                .forEach(group -> own.add(group(group, side)));
        attributes(on(side), person.login())
            .forEach((key, value) -> said.put(attribute(key, side), value));
        if (usesIdentity) {
          own.add(isKnown(side, person.login()) ? known(side) : unknown(side));
        }
      }
      people.add(new Directory.Person(person.login(), person.name(), own, said));
    }
    List<Directory.Group> groups = new ArrayList<>();
    for (Side side : Side.values()) {
      on(side).directory().groups().stream()
          .filter(group -> isTold(group.name()))
          .filter(group -> side == Side.BEFORE || otherGroups.contains(group.name()))
          .forEach(group -> groups.add(flat(group(group.name(), side))));
      if (usesIdentity) {
        groups.add(flat(known(side)));
        groups.add(flat(unknown(side)));
      }
    }
    return new Directory(people, groups);
  }

  private static Directory.Group flat(String name) {
    return new Directory.Group(name, Set.of(), "");
  }

  private static Set<String> groups(Environment environment, String login) {
    return environment
        .directory()
        .person(login)
        .map(environment.directory()::groupsOf)
        .orElse(Set.of());
  }

  private static Map<String, String> attributes(Environment environment, String login) {
    return environment.directory().person(login).map(Directory.Person::attributes).orElse(Map.of());
  }

  private static Set<String> union(Set<String> one, Set<String> other) {
    Set<String> both = new HashSet<>(one);
    both.addAll(other);
    return both;
  }

  private static void differing(Set<String> one, Set<String> other, Set<String> found) {
    for (String name : union(one, other)) {
      if (one.contains(name) != other.contains(name)) {
        found.add(name);
      }
    }
  }

  private boolean isTold(String group) {
    return !otherGroups.contains(group) || usedGroups.contains(group);
  }

  private String group(String name, Side side) {
    return otherGroups.contains(name) ? name + side.words : name;
  }

  private String attribute(String key, Side side) {
    return otherAttributes.contains(key) ? key + side.words : key;
  }

  private static String known(Side side) {
    return "everybody known" + side.words;
  }

  private static String unknown(Side side) {
    return "everybody unknown" + side.words;
  }

  private boolean isKnown(Side side, String login) {
    return on(side).directory().person(login).isPresent();
  }

  private boolean sameLogins() {
    return change.sameDirectory()
        || before.directory().people().size() == after.directory().people().size()
            && before.directory().people().stream()
                .allMatch(person -> isKnown(Side.AFTER, person.login()));
  }

  private Atlas atlas() {
    Map<String, List<Range<Address>>> countries = new TreeMap<>();
    Map<String, List<Range<Address>>> lists = new TreeMap<>();
    Map<String, List<Address>> hosts = new TreeMap<>();
    for (Side side : Side.values()) {
      Atlas atlas = on(side).atlas();
      atlas
          .countries()
          .forEach(
              (code, ranges) -> {
                if (sameCountry(code)) {
                  countries.put(code, ranges);
                } else {
                  lists.put("country " + code + side.words, ranges);
                }
              });
      atlas
          .lists()
          .forEach((name, ranges) -> lists.put(sameList(name) ? name : name + side.words, ranges));
      atlas
          .hosts()
          .forEach(
              (name, addresses) -> {
                if (sameHost(name)) {
                  hosts.put(name, addresses);
                } else {
                  lists.put(
                      "host " + name + side.words,
                      addresses.stream().map(address -> new Range<>(address, address)).toList());
                }
              });
    }
    return new Atlas(countries, lists, hosts, sites());
  }

  private boolean sameCountry(String code) {
    return same(before.atlas().countries().get(code), after.atlas().countries().get(code));
  }

  private boolean sameList(String name) {
    return same(before.atlas().lists().get(name), after.atlas().lists().get(name));
  }

  private boolean sameHost(String name) {
    return same(before.atlas().hosts().get(name), after.atlas().hosts().get(name));
  }

  private static <T> boolean same(List<T> one, List<T> other) {
    return one != null && other != null && Set.copyOf(one).equals(Set.copyOf(other));
  }

  /** Every entry of both lists, with the category it has on each side. */
  private List<Atlas.SiteEntry> sites() {
    Set<Value.HostName> names = new LinkedHashSet<>();
    for (Environment one : List.of(before, after)) {
      one.atlas().sites().forEach(entry -> names.add(entry.names()));
    }
    SiteList was = new SiteList(before.atlas());
    SiteList becomes = new SiteList(after.atlas());
    List<Atlas.SiteEntry> entries = new ArrayList<>();
    categories.add(new Pair(Atlas.UNCATEGORISED, Atlas.UNCATEGORISED));
    for (Value.HostName name : names) {
      Pair pair = new Pair(was.category(name), becomes.category(name));
      categories.add(pair);
      entries.add(new Atlas.SiteEntry(name, pair.joint()));
    }
    return entries;
  }

  /** The entries of one side by name; of a name or everything below one it tells the category. */
  private static final class SiteList {
    private final Map<Value.HostName, String> entries = new HashMap<>();

    private SiteList(Atlas atlas) {
      atlas.sites().forEach(entry -> entries.putIfAbsent(entry.names(), entry.category()));
    }

    private String category(Value.HostName names) {
      String found = entries.get(names);
      String name = names.name();
      while (found == null && name.contains(".")) {
        name = name.substring(name.indexOf('.') + 1);
        found = entries.get(new Value.HostName(name, Value.HostName.Reach.BELOW));
      }
      return found == null ? Atlas.UNCATEGORISED : found;
    }
  }

  /** A rulebase as it is read before. */
  Rulebase asBefore(Rulebase rulebase) {
    return as(rulebase, Side.BEFORE);
  }

  /** A rulebase as it is read after. */
  Rulebase asAfter(Rulebase rulebase) {
    return as(rulebase, Side.AFTER);
  }

  private Rulebase as(Rulebase rulebase, Side side) {
    List<Chapter> chapters = new ArrayList<>();
    for (Chapter chapter : rulebase.chapters()) {
      chapters.add(
          new Chapter(
              chapter.id(),
              chapter.title(),
              chapter.note(),
              chapter.rules().stream().map(rule -> as(rule, side)).toList()));
    }
    Parts parts = rulebase.parts();
    Parts read =
        new Parts(
            sets(parts.sets(), side),
            parts.sheets(),
            parts.notices(),
            parts.lanes(),
            parts.decryption().stream().map(line -> as(line, side)).toList(),
            parts.capacity());
    Rulebase spelled = new Rulebase(rulebase.name(), chapters, read, rulebase.defaultVerdict());
    if (change.sameCatalogue()) {
      return spelled;
    }
    Names names = new Names(read, together.with(on(side).catalogue()));
    return EditionReading.of(spelled, on(side).catalogue(), together.catalogue(), names);
  }

  /** Those of the rulebase, and those all share of which it has none of its own. */
  private List<NamedSet> sets(List<NamedSet> own, Side side) {
    Map<List<Object>, NamedSet> all = new LinkedHashMap<>();
    Stream.concat(on(side).sets().stream(), own.stream())
        .forEach(set -> all.put(List.of(set.kind(), set.name()), set));
    return all.values().stream()
        .map(
            set ->
                new NamedSet(
                    set.name(), set.kind(), values(set.kind(), set.values(), side), set.note()))
        .toList();
  }

  private Rule as(Rule rule, Side side) {
    Rule.Match match = as(rule.match(), side);
    return match.equals(rule.match())
        ? rule
        : new Rule(rule.id(), rule.name(), rule.state(), match, rule.then(), rule.metadata());
  }

  private DecryptionRule as(DecryptionRule line, Side side) {
    return new DecryptionRule(line.id(), as(line.match(), side), line.decision(), line.note());
  }

  private Rule.Match as(Rule.Match match, Side side) {
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    match
        .fields()
        .forEach(
            (name, field) ->
                fields.put(
                    name, new Field(field.sense(), values(name.kind(), field.values(), side))));
    return new Rule.Match(fields, match.ports());
  }

  private List<Value> values(ValueKind kind, List<Value> values, Side side) {
    Set<Value> all = new LinkedHashSet<>();
    values.forEach(value -> all.addAll(as(kind, value, side)));
    return List.copyOf(all);
  }

  private List<Value> as(ValueKind kind, Value value, Side side) {
    return switch (kind) {
      case ZONE -> zone((Value.ZoneName) value, side);
      case NETWORK -> network(value, side);
      case PERSON -> person(value, side);
      case DEVICE -> device(value, side);
      case SITE -> site(value, side);
      case SERVICE, APPLICATION, TIME -> List.of(value);
    };
  }

  private List<Value> zone(Value.ZoneName zone, Side side) {
    List<Value> meant =
        zones.keySet().stream()
            .filter(pair -> pair.on(side).equals(zone.name()))
            .map(pair -> (Value) new Value.ZoneName(pair.joint()))
            .toList();
    return meant.isEmpty() ? List.of(new Value.ZoneName(NOTHING)) : meant;
  }

  private List<Value> network(Value value, Side side) {
    if (value instanceof Value.CountryName country && !sameCountry(country.code())) {
      return List.of(new Value.ListName("country " + country.code() + side.words));
    }
    if (value instanceof Value.ListName list && !sameList(list.name())) {
      return List.of(new Value.ListName(list.name() + side.words));
    }
    if (value instanceof Value.HostObject host
        && on(side).atlas().hosts().containsKey(host.name())) {
      // By name it stays what it is; by address it is what it resolves to on this side.
      return sameHost(host.name())
          ? List.of(value)
          : List.of(new Value.ListName("host " + host.name() + side.words), value);
    }
    return List.of(value);
  }

  private List<Value> person(Value value, Side side) {
    if (value instanceof Value.PersonName name) {
      return List.of(isKnown(side, name.login()) ? value : new Value.PersonName(NOTHING));
    }
    if (value instanceof Value.GroupName name) {
      boolean exists = on(side).directory().group(name.name()).isPresent();
      return List.of(new Value.GroupName(exists ? group(name.name(), side) : NOTHING));
    }
    if (value instanceof Value.AttributeIs attribute) {
      return List.of(new Value.AttributeIs(attribute(attribute.key(), side), attribute.value()));
    }
    if (value instanceof Value.Identity identity && !sameLogins()) {
      return identity == Value.Identity.IDENTIFIED
          ? List.of(new Value.GroupName(known(side)))
          : List.of(identity, new Value.GroupName(unknown(side)));
    }
    return List.of(value);
  }

  private List<Value> device(Value value, Side side) {
    if (!(value instanceof Value.DeviceClass device) || device.kind().isEmpty()) {
      return List.of(value);
    }
    String kind = device.kind().get();
    if (!kind.equals(Device.UNKNOWN_KIND)) {
      return List.of(
          on(side).deviceKinds().contains(kind)
              ? value
              : new Value.DeviceClass(Optional.of(NOTHING), device.posture()));
    }
    List<Value> meant = new ArrayList<>(List.of(value));
    together.deviceKinds().stream()
        .filter(other -> !on(side).deviceKinds().contains(other))
        .forEach(other -> meant.add(new Value.DeviceClass(Optional.of(other), device.posture())));
    return meant;
  }

  private List<Value> site(Value value, Side side) {
    if (!(value instanceof Value.SiteCategory category)) {
      return List.of(value);
    }
    List<Value> meant =
        categories.stream()
            .filter(pair -> pair.on(side).equals(category.name()))
            .map(pair -> (Value) new Value.SiteCategory(pair.joint()))
            .toList();
    return meant.isEmpty() ? List.of(new Value.SiteCategory(NOTHING)) : meant;
  }

  /** A connection over both as it is before. */
  Connection asBefore(Connection connection) {
    return as(connection, Side.BEFORE);
  }

  /** A connection over both as it is after. */
  Connection asAfter(Connection connection) {
    return as(connection, Side.AFTER);
  }

  private Connection as(Connection c, Side side) {
    Connection.Source from = c.from();
    Device device = from.device();
    String kind =
        on(side).deviceKinds().contains(device.kind()) ? device.kind() : Device.UNKNOWN_KIND;
    return new Connection(
        c.at(),
        new Connection.Source(
            as(from.place(), side),
            from.person().filter(login -> isKnown(side, login)),
            new Device(kind, device.posture())),
        new Connection.Destination(as(c.to().place(), side), c.to().host()),
        c.service(),
        as(c.using(), side));
  }

  private Place as(Place place, Side side) {
    return new Place(zoneNames.get(place.zone()).on(side), place.address());
  }

  private Connection.ApplicationUse as(Connection.ApplicationUse use, Side side) {
    Catalogue catalogue = on(side).catalogue();
    if (use.application().isEmpty() || catalogue.application(use.application().get()).isPresent()) {
      return use;
    }
    // What is not recognised is seen as what it comes over.
    return use.carrier()
        .filter(carrier -> catalogue.application(carrier).isPresent())
        .flatMap(catalogue::application)
        .map(carrier -> carrier.plainUse())
        .orElse(Connection.ApplicationUse.UNRECOGNISED);
  }
}
