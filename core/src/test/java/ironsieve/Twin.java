package ironsieve;

import ironsieve.model.Application;
import ironsieve.model.Connection;
import ironsieve.model.DecryptionRule;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.UsageSheet;
import ironsieve.model.Value;
import ironsieve.region.Address;
import ironsieve.region.Range;
import java.time.DayOfWeek;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * The naive twin of the core: reads the meaning of a rule from its definition, one connection at a
 * time, sharing no code with what it is held against.
 */
public final class Twin {

  private final Rulebase rulebase;
  private final Environment environment;

  /** Asked of the same connections for every rule. */
  private final Map<Connection, Boolean> readable = new IdentityHashMap<>();

  public Twin(Rulebase rulebase, Environment environment) {
    this.rulebase = rulebase;
    this.environment = environment;
  }

  /** The place among the enabled rules of the one that catches, or −1. */
  public int catcher(List<Rule> rules, Connection connection) {
    for (int i = 0; i < rules.size(); i++) {
      if (claims(rules.get(i), connection)) {
        return i;
      }
    }
    return -1;
  }

  /** What happens to a connection. */
  public Outcome outcome(List<Rule> rules, Connection connection) {
    int catcher = catcher(rules, connection);
    return catcher < 0
        ? Outcome.of(rulebase.defaultVerdict())
        : outcome(rules.get(catcher), connection);
  }

  /** What a rule that claims a connection does with it. */
  public Outcome outcome(Rule rule, Connection c) {
    if (rule.then().sheet().isEmpty()) {
      return rule.then().outcome();
    }
    UsageSheet sheet =
        rulebase.parts().sheets().stream()
            .filter(s -> s.name().equals(rule.then().sheet().get()))
            .findFirst()
            .orElseThrow();
    Outcome found = null;
    int rank = -1;
    for (UsageSheet.Line line : sheet.lines()) {
      boolean feature = line.about() instanceof Value.FeatureName;
      int own =
          feature
              ? 3
              : line.about() instanceof Value.ApplicationName
                  ? 2
                  : line.about() instanceof Value.FamilyName ? 1 : 0;
      if (own > rank && application(line.about(), c) && (readable(c) || !feature)) {
        found = line.outcome();
        rank = own;
      }
    }
    Outcome said = found == null ? sheet.otherwise() : found;
    return said.equals(Outcome.of(ironsieve.model.Verdict.ALLOW)) ? rule.then().outcome() : said;
  }

  /** Whether the gateway sees what is done inside the connection. */
  public boolean readable(Connection c) {
    return readable.computeIfAbsent(c, this::isReadable);
  }

  private boolean isReadable(Connection c) {
    boolean encrypted = false;
    for (Application app : environment.catalogue().applications()) {
      boolean own = c.using().application().map(app.name()::equals).orElse(false);
      boolean under = c.using().carrier().map(app.name()::equals).orElse(false);
      encrypted |= (own || under) && app.wiring().content() == Application.Content.ENCRYPTED;
    }
    if (!encrypted) {
      return true;
    }
    for (DecryptionRule line : rulebase.parts().decryption()) {
      if (holdsInAll(line.match(), c)) {
        return line.decision() == DecryptionRule.Decision.DECRYPT;
      }
    }
    return false;
  }

  /** The connection with each thing that might be done inside it. */
  public List<Connection> variants(Connection c) {
    List<Connection> all = new ArrayList<>();
    all.add(with(c, Optional.empty()));
    c.using()
        .application()
        .flatMap(environment.catalogue()::application)
        .ifPresent(app -> app.features().forEach(f -> all.add(with(c, Optional.of(f)))));
    return all;
  }

  private static Connection with(Connection c, Optional<String> feature) {
    return new Connection(
        c.at(),
        c.from(),
        c.to(),
        c.service(),
        new Connection.ApplicationUse(c.using().application(), c.using().carrier(), feature));
  }

  /** A rule claims what is encrypted only if it would claim it whatever is inside. */
  public boolean claims(Rule rule, Connection c) {
    return readable(c)
        ? claimsOpen(rule, c)
        : variants(c).stream().allMatch(variant -> claimsOpen(rule, variant));
  }

  private boolean claimsOpen(Rule rule, Connection c) {
    return holdsInAll(rule.match(), c) && (rule.match().ports() == Rule.Ports.ANY || usual(c));
  }

  private boolean holdsInAll(Rule.Match match, Connection c) {
    for (FieldName name : match.fields().keySet()) {
      if (!holds(match, name, c)) {
        return false;
      }
    }
    return true;
  }

  /** Whether one field of a rule holds the connection, whatever is encrypted. */
  public boolean holds(Rule rule, FieldName name, Connection c) {
    return holds(rule.match(), name, c);
  }

  private boolean holds(Rule.Match match, FieldName name, Connection c) {
    Field field = match.fields().get(name);
    boolean any = false;
    for (Value value : field.values()) {
      any |= holds(name, value, c);
    }
    return any == (field.sense() == Field.Sense.IS);
  }

  /** Whether the connection's application is on one of its usual ports, or has none. */
  public boolean usual(Connection c) {
    Optional<Application> app =
        c.using().application().flatMap(environment.catalogue()::application);
    if (app.isEmpty() || app.get().wiring().usualPorts().isEmpty()) {
      return true;
    }
    boolean any = false;
    for (Value.ServiceRange range : app.get().wiring().usualPorts()) {
      any |= holds(FieldName.SERVICES, range, c);
    }
    return any;
  }

  /** Whether one value of a field holds the connection. */
  public boolean holds(FieldName name, Value value, Connection c) {
    if (value instanceof Value.SetName set) {
      for (NamedSet candidate : rulebase.sets()) {
        if (candidate.kind() == name.kind() && candidate.name().equals(set.name())) {
          return candidate.values().stream().anyMatch(v -> holds(name, v, c));
        }
      }
      // A name that stands for nothing holds nothing.
      return false;
    }
    boolean from = name == FieldName.FROM_ZONES || name == FieldName.FROM_NETWORKS;
    Connection.Place place = from ? c.from().place() : c.to().place();
    if (value instanceof Value.ZoneName zone) {
      return zone.name().equals(place.zone());
    }
    if (value instanceof Value.Network net) {
      return within(net.range(), place.address());
    }
    if (value instanceof Value.HostObject host) {
      boolean asked = !from && c.to().host().equals(Optional.of(host.name()));
      return asked
          || environment
              .atlas()
              .hosts()
              .getOrDefault(host.name(), List.of())
              .contains(place.address());
    }
    if (value instanceof Value.CountryName country) {
      return environment.atlas().countries().getOrDefault(country.code(), List.of()).stream()
          .anyMatch(r -> within(r, place.address()));
    }
    if (value instanceof Value.ListName list) {
      return environment.atlas().lists().getOrDefault(list.name(), List.of()).stream()
          .anyMatch(r -> within(r, place.address()));
    }
    if (name == FieldName.TO_SITES) {
      return site(value, c.to().host());
    }
    if (value instanceof Value.ServiceRange s) {
      return s.low().protocol() == c.service().protocol()
          && s.low().detail() <= c.service().detail()
          && c.service().detail() <= s.high().detail();
    }
    if (value instanceof Value.TimeSpan t) {
      return time(t, c);
    }
    if (value instanceof Value.DeviceClass d) {
      return (d.kind().isEmpty() || d.kind().get().equals(c.from().device().kind()))
          && (d.posture().isEmpty() || d.posture().get() == c.from().device().posture());
    }
    return name == FieldName.PEOPLE ? person(value, c) : application(value, c);
  }

  private static boolean within(Range<Address> range, Address address) {
    return range.low().version() == address.version()
        && range.low().number().compareTo(address.number()) <= 0
        && address.number().compareTo(range.high().number()) <= 0;
  }

  private boolean site(Value value, Optional<String> host) {
    if (host.isEmpty()) {
      return value == Value.Nameless.HOST;
    }
    if (value instanceof Value.HostName names) {
      return fits(names, host.get());
    }
    if (value instanceof Value.SiteCategory category) {
      // The name itself, then everything above it, label by label.
      String name = host.get();
      String found = listed(new Value.HostName(name, Value.HostName.Reach.EXACT));
      while (found == null && name.contains(".")) {
        name = name.substring(name.indexOf('.') + 1);
        found = listed(new Value.HostName(name, Value.HostName.Reach.BELOW));
      }
      return category.name().equals(found == null ? "uncategorised" : found);
    }
    return false;
  }

  private String listed(Value.HostName names) {
    return environment.atlas().sites().stream()
        .filter(entry -> entry.names().equals(names))
        .map(entry -> entry.category())
        .findFirst()
        .orElse(null);
  }

  private static boolean fits(Value.HostName names, String host) {
    if (names.reach() == Value.HostName.Reach.EXACT) {
      return names.name().equals(host);
    }
    List<String> wanted = List.of(names.name().split("\\."));
    List<String> had = List.of(host.split("\\."));
    return had.size() > wanted.size()
        && had.subList(had.size() - wanted.size(), had.size()).equals(wanted);
  }

  private boolean person(Value value, Connection c) {
    Optional<String> login = c.from().person();
    if (value == Value.Identity.IDENTIFIED) {
      return login.isPresent();
    }
    if (value == Value.Identity.UNIDENTIFIED) {
      return login.isEmpty();
    }
    if (login.isEmpty()) {
      return false;
    }
    if (value instanceof Value.PersonName name) {
      return name.login().equals(login.get());
    }
    if (value instanceof Value.AttributeIs attribute) {
      return attribute
          .value()
          .equals(
              environment
                  .directory()
                  .person(login.get())
                  .orElseThrow()
                  .attributes()
                  .get(attribute.key()));
    }
    Set<String> groups =
        new HashSet<>(environment.directory().person(login.get()).orElseThrow().groups());
    for (int round = 0; round < environment.directory().groups().size(); round++) {
      for (Directory.Group group : environment.directory().groups()) {
        if (groups.contains(group.name())) {
          groups.addAll(group.parents());
        }
      }
    }
    String wanted = ((Value.GroupName) value).name();
    return environment.directory().group(wanted).isPresent() && groups.contains(wanted);
  }

  private boolean application(Value value, Connection c) {
    if (c.using().application().isEmpty()) {
      return value == Value.Unrecognised.APPLICATION;
    }
    String name = c.using().application().get();
    Application app = environment.catalogue().application(name).orElseThrow();
    if (value instanceof Value.ApplicationName a) {
      return a.name().equals(name);
    }
    if (value instanceof Value.FeatureName f) {
      return f.application().equals(name) && f.feature().equals(c.using().feature().orElse(null));
    }
    if (value instanceof Value.FamilyName f) {
      return f.name().equals(app.grouping().family());
    }
    if (value instanceof Value.Filter filter) {
      return filter.conditions().stream().allMatch(condition -> fulfils(app, condition));
    }
    return value instanceof Value.CategoryName g && g.name().equals(app.grouping().category());
  }

  private static boolean fulfils(Application app, Value.Condition condition) {
    List<String> exposures = List.of("slight", "moderate", "serious", "severe");
    List<String> values = List.of("none", "some", "core");
    String wanted = condition.wanted();
    return switch (condition.trait()) {
      case EXPOSURE ->
          exposures.indexOf(app.worth().exposure().name().toLowerCase())
              >= exposures.indexOf(wanted);
      case WORK_VALUE ->
          values.indexOf(app.worth().workValue().name().toLowerCase()) != values.indexOf(wanted);
      case RIDES_ON -> app.wiring().ridesOn().contains(wanted);
      case CATEGORY -> app.grouping().category().equals(wanted);
      case NAME -> !app.name().equals(wanted);
      default -> throw new AssertionError("no rule of a test asks for " + condition);
    };
  }

  private static boolean time(Value.TimeSpan t, Connection c) {
    // Ask every day the span may have begun on, in whole minutes from its start.
    int length = t.toMinute() - t.fromMinute() + (t.toMinute() > t.fromMinute() ? 0 : 1440);
    for (int back = 0; back <= 1; back++) {
      long day = c.at().toLocalDate().toEpochDay() - back;
      DayOfWeek began = c.at().getDayOfWeek().minus(back);
      int since = c.at().getHour() * 60 + c.at().getMinute() + back * 1440 - t.fromMinute();
      boolean inDates = t.dates().low() <= day && day <= t.dates().high();
      if (inDates && t.days().contains(began) && since >= 0 && since < length) {
        return true;
      }
    }
    return false;
  }
}
