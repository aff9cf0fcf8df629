package ironsieve;

import ironsieve.model.Application;
import ironsieve.model.Connection;
import ironsieve.model.Directory;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Surroundings;
import ironsieve.model.Value;
import java.time.DayOfWeek;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * The naive twin of the core: reads the meaning of a rule from its definition, one connection at a
 * time, sharing no code with what it is held against.
 */
public final class Twin {

  private final Rulebase rulebase;
  private final Surroundings surroundings;

  public Twin(Rulebase rulebase, Surroundings surroundings) {
    this.rulebase = rulebase;
    this.surroundings = surroundings;
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

  public boolean claims(Rule rule, Connection c) {
    return rule.match().fields().keySet().stream().allMatch(name -> holds(rule, name, c))
        && (rule.match().ports() == Rule.Ports.ANY || usual(c));
  }

  /** Whether one field of a rule holds the connection. */
  public boolean holds(Rule rule, FieldName name, Connection c) {
    Field field = rule.match().fields().get(name);
    boolean any = false;
    for (Value value : field.values()) {
      any |= holds(name, value, c);
    }
    return any == (field.sense() == Field.Sense.IS);
  }

  /** Whether the connection's application is on one of its usual ports, or has none. */
  public boolean usual(Connection c) {
    Optional<Application> app =
        c.using().application().flatMap(surroundings.catalogue()::application);
    if (app.isEmpty() || app.get().wiring().usualPorts().isEmpty()) {
      return true;
    }
    boolean any = false;
    for (Value.ServiceRange range : app.get().wiring().usualPorts()) {
      any |= holds(FieldName.SERVICES, range, c);
    }
    return any;
  }

  private boolean holds(FieldName name, Value value, Connection c) {
    if (value instanceof Value.SetName set) {
      for (NamedSet candidate : rulebase.sets()) {
        if (candidate.kind() == name.kind() && candidate.name().equals(set.name())) {
          return candidate.values().stream().anyMatch(v -> holds(name, v, c));
        }
      }
      throw new AssertionError(set);
    }
    boolean from = name == FieldName.FROM_ZONES || name == FieldName.FROM_NETWORKS;
    Connection.Place place = from ? c.from().place() : c.to();
    if (value instanceof Value.ZoneName zone) {
      return zone.name().equals(place.zone());
    }
    if (value instanceof Value.Network net) {
      return net.range().low().version() == place.address().version()
          && net.range().low().number().compareTo(place.address().number()) <= 0
          && place.address().number().compareTo(net.range().high().number()) <= 0;
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
    Set<String> groups =
        new HashSet<>(surroundings.directory().person(login.get()).orElseThrow().groups());
    for (int round = 0; round < surroundings.directory().groups().size(); round++) {
      for (Directory.Group group : surroundings.directory().groups()) {
        if (groups.contains(group.name())) {
          groups.addAll(group.parents());
        }
      }
    }
    return groups.contains(((Value.GroupName) value).name());
  }

  private boolean application(Value value, Connection c) {
    if (c.using().application().isEmpty()) {
      return value == Value.Unrecognised.APPLICATION;
    }
    String name = c.using().application().get();
    Application app = surroundings.catalogue().application(name).orElseThrow();
    if (value instanceof Value.ApplicationName a) {
      return a.name().equals(name);
    }
    if (value instanceof Value.FeatureName f) {
      return f.application().equals(name) && f.feature().equals(c.using().feature().orElse(null));
    }
    if (value instanceof Value.FamilyName f) {
      return f.name().equals(app.grouping().family());
    }
    return value instanceof Value.CategoryName g && g.name().equals(app.grouping().category());
  }

  private static boolean time(Value.TimeSpan t, Connection c) {
    long day = c.at().toLocalDate().toEpochDay();
    if (day < t.dates().low() || day > t.dates().high()) {
      return false;
    }
    // Ask every day the span may have begun on, in whole minutes from its start.
    int length = t.toMinute() - t.fromMinute() + (t.toMinute() > t.fromMinute() ? 0 : 1440);
    for (int back = 0; back <= 1; back++) {
      DayOfWeek began = c.at().getDayOfWeek().minus(back);
      int since = c.at().getHour() * 60 + c.at().getMinute() + back * 1440 - t.fromMinute();
      if (t.days().contains(began) && since >= 0 && since < length) {
        return true;
      }
    }
    return false;
  }
}
