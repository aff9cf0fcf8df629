package ironsieve.compile;

import ironsieve.model.Rule;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import java.util.AbstractSet;
import java.util.Iterator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;

/**
 * All values some rules use, named sets opened, sorted by the axis that needs them. Only added to
 * while it is put together.
 */
final class UsedValues {
  final Set<Value> places;
  final Set<Value> people;
  final Set<Value> sites;
  final Set<Value> uses;
  final Set<Value.ServiceRange> services;
  final Set<Value.TimeSpan> times;
  boolean usualPorts;
  final int cuts;

  UsedValues() {
    places = new LinkedHashSet<>();
    people = new LinkedHashSet<>();
    sites = new LinkedHashSet<>();
    uses = new LinkedHashSet<>();
    services = new LinkedHashSet<>();
    times = new LinkedHashSet<>();
    cuts = 0;
  }

  UsedValues(UsedValues one, UsedValues more) {
    places = both(one.places, more.places);
    people = both(one.people, more.people);
    sites = both(one.sites, more.sites);
    uses = both(one.uses, more.uses);
    services = both(one.services, more.services);
    times = both(one.times, more.times);
    usualPorts = one.usualPorts || more.usualPorts;
    cuts = one.cuts + 1;
  }

  /** The same object if there is nothing more. */
  private static <V> Set<V> both(Set<V> one, Set<V> more) {
    return one.containsAll(more) ? one : new Grown<>(one, more);
  }

  UsedValues with(UsedValues more) {
    return new UsedValues(this, more);
  }

  boolean holds(UsedValues other) {
    return places.containsAll(other.places)
        && people.containsAll(other.people)
        && sites.containsAll(other.sites)
        && uses.containsAll(other.uses)
        && services.containsAll(other.services)
        && times.containsAll(other.times)
        && (usualPorts || !other.usualPorts);
  }

  UsedValues(List<Space.Scope> scopes) {
    this();
    for (Space.Scope scope : scopes) {
      scope.rulebase().rules().forEach(rule -> add(rule, scope.names()));
      scope.rulebase().parts().decryption().forEach(line -> add(line.match(), scope.names()));
    }
  }

  void add(Rule rule, Names names) {
    if (rule.isOn()) {
      add(rule.match(), names);
      rule.then()
          .sheet()
          .flatMap(names::sheet)
          .ifPresent(sheet -> sheet.lines().forEach(line -> uses.add(line.about())));
    }
  }

  private void add(Rule.Match match, Names names) {
    usualPorts |= match.ports() == Rule.Ports.USUAL;
    match
        .fields()
        .forEach(
            (name, field) -> names.open(name, field).forEach(value -> add(name.kind(), value)));
  }

  private void add(ValueKind kind, Value value) {
    switch (kind) {
      case NETWORK -> {
        places.add(value);
        if (value instanceof Value.HostObject host) {
          sites.add(Space.named(host));
        }
      }
      case PERSON -> people.add(value);
      case SITE -> sites.add(value);
      case SERVICE -> services.add((Value.ServiceRange) value);
      case APPLICATION -> {
        uses.add(value);
        if (value instanceof Value.ApplicationOver over) {
          services.addAll(over.services());
        }
      }
      case TIME -> times.add((Value.TimeSpan) value);
      case ZONE, DEVICE -> {
        // Zones and kinds of device are told apart in any case.
      }
    }
  }

  /** A set and a few more; the many are not copied for the few. */
  private static final class Grown<V> extends AbstractSet<V> {
    private final Set<V> many;
    private final Set<V> few;

    private Grown(Set<V> one, Set<V> more) {
      many = one instanceof Grown<V> grown ? grown.many : one;
      few = new LinkedHashSet<>(one instanceof Grown<V> grown ? grown.few : Set.of());
      more.stream().filter(value -> !many.contains(value)).forEach(few::add);
    }

    @Override
    public boolean contains(Object value) {
      return many.contains(value) || few.contains(value);
    }

    @Override
    public Iterator<V> iterator() {
      return Stream.concat(many.stream(), few.stream()).iterator();
    }

    @Override
    public int size() {
      return many.size() + few.size();
    }
  }
}
