package ironsieve.compile;

import ironsieve.model.Application;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Place;
import ironsieve.model.Connection.Source;
import ironsieve.model.Environment;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Service;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.region.Address;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import ironsieve.region.Range;
import ironsieve.region.Weights;
import java.util.AbstractSet;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.EnumMap;
import java.util.Iterator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.IntUnaryOperator;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/**
 * The shared atoms of every dimension: the coarsest partition in which each value of some rules is
 * a union of atoms. A connection is a point (one atom for each {@link Dimension}), a claim a union
 * of boxes. Two points with equal coordinates are decided alike by every one of those rules.
 */
public final class Space {

  /** How many dimensions there are. */
  public static final int DIMENSIONS = Dimension.values().length;

  private static final int MOST_CUTS = 64;
  private static final int SITE = Dimension.SITE.ordinal();
  private static final int SERVICE = Dimension.SERVICE.ordinal();
  private static final int USING = Dimension.USING.ordinal();
  private static final int TIME = Dimension.TIME.ordinal();

  private static final List<Service> COMMON =
      List.of(
          new Service(Service.TCP, 443),
          new Service(Service.TCP, 80),
          new Service(Service.UDP, 53));

  private final Environment environment;
  private final Used used;
  private final Axes axes;
  private final PlaceAxis places;
  private final PersonAxis people;
  private final DeviceAxis devices;
  private final SiteAxis sites;
  private final ServiceAxis services;
  private final UsingAxis uses;
  private final TimeAxis times;
  private final Weights[] weights;
  private final IndexSet[] whole = new IndexSet[DIMENSIONS];
  private final Map<Address.Version, Box> versions = new EnumMap<>(Address.Version.class);
  private final List<Box> ahead;

  /**
   * A rulebase, and what the names in it stand for.
   *
   * @param names must have no problems with the rulebase
   */
  public record Scope(Rulebase rulebase, Names names) {}

  /** The space in which all rules of these rulebases can be told apart. */
  public Space(List<Scope> scopes, Environment environment) {
    this(environment, new Used(scopes));
  }

  private Space(Environment environment, Used used) {
    this(
        environment,
        used,
        new Axes(
            new PlaceAxis(environment.zones(), ranges(environment, used.places)),
            people(environment, used),
            sites(environment, used),
            services(environment, used),
            uses(environment, used),
            times(environment, used)));
  }

  /** One axis for each kind of value; devices need none that depends on the rules. */
  private record Axes(
      PlaceAxis places,
      PersonAxis people,
      SiteAxis sites,
      ServiceAxis services,
      UsingAxis uses,
      TimeAxis times) {}

  private Space(Environment environment, Used used, Axes axes) {
    this.environment = environment;
    this.used = used;
    this.axes = axes;
    places = axes.places();
    people = axes.people();
    sites = axes.sites();
    services = axes.services();
    uses = axes.uses();
    times = axes.times();
    devices = new DeviceAxis(environment.deviceKinds());
    weights =
        new Weights[] {
          places.weights(),
          people.weights(),
          devices.weights(),
          places.weights(),
          sites.weights(),
          services.weights(),
          uses.weights(),
          times.weights()
        };
    for (int d = 0; d < DIMENSIONS; d++) {
      whole[d] = IndexSet.upTo(weights[d].count());
    }
    versions.put(Address.Version.V4, version(Address.Version.V4, Service.ICMPV6));
    versions.put(Address.Version.V6, version(Address.Version.V6, Service.ICMP));
    ahead =
        versions.values().stream()
            .map(box -> box.with(Dimension.TIME.ordinal(), times.ahead()))
            .toList();
  }

  private static List<List<Range<Address>>> ranges(
      Environment environment, Collection<Value> places) {
    return places.stream().map(place -> ranges(environment, place)).toList();
  }

  private static List<Range<Address>> ranges(Environment environment, Value place) {
    return environment.atlas().ranges(place).orElseThrow();
  }

  private static PersonAxis people(Environment environment, Used used) {
    return new PersonAxis(environment.directory(), used.people);
  }

  private static SiteAxis sites(Environment environment, Used used) {
    return new SiteAxis(environment.atlas(), used.sites);
  }

  private static ServiceAxis services(Environment environment, Used used) {
    List<Value.ServiceRange> all = new ArrayList<>(used.services);
    if (used.usualPorts) {
      environment.catalogue().applications().stream()
          .flatMap(application -> application.wiring().usualPorts().stream())
          .forEach(all::add);
    }
    return new ServiceAxis(all);
  }

  private static UsingAxis uses(Environment environment, Used used) {
    return new UsingAxis(environment.catalogue(), used.uses, used.usualPorts);
  }

  private static TimeAxis times(Environment environment, Used used) {
    return new TimeAxis(environment.today(), used.times);
  }

  /** A space, and how its atoms lie inside those of another. */
  record Refined(Space space, Refinement refinement) {}

  /**
   * A space in which some more rules can be told apart; this one if they already can.
   *
   * @return nothing if a space made afresh is better: because rules that hold applications to their
   *     usual ports are new to these atoms, or because they were cut so often that many of them
   *     tell apart what no rule names any more
   */
  Optional<Refined> telling(List<Rule> more, Names names) {
    Used asked = new Used();
    more.forEach(rule -> asked.add(rule, names));
    if (used.holds(asked)) {
      return Optional.of(new Refined(this, refinement(this, Optional.empty())));
    }
    Used all = used.with(asked);
    if (all.usualPorts != used.usualPorts || all.cuts > MOST_CUTS) {
      return Optional.empty();
    }
    List<Integer> cut = new ArrayList<>();
    List<Value> morePlaces =
        asked.places.stream().filter(place -> !used.places.contains(place)).toList();
    Axes next =
        new Axes(
            morePlaces.isEmpty() ? places : places.cut(ranges(environment, morePlaces), cut),
            all.people == used.people ? people : people(environment, all),
            all.sites == used.sites ? sites : sites(environment, all),
            all.services == used.services ? services : services(environment, all),
            all.uses == used.uses ? uses : uses(environment, all),
            all.times == used.times ? times : times(environment, all));
    if (next.equals(axes)) {
      return Optional.of(new Refined(this, refinement(this, Optional.empty())));
    }
    Space space = new Space(environment, all, next);
    Optional<int[]> placeParents =
        morePlaces.isEmpty()
            ? Optional.empty()
            : Optional.of(cut.stream().mapToInt(Integer::intValue).toArray());
    return Optional.of(new Refined(space, refinement(space, placeParents)));
  }

  /** Where atoms are numbered anew, what an atom was is what it was to one of its points. */
  private Refinement refinement(Space finer, Optional<int[]> placeParents) {
    return new Refinement(
        List.of(
            placeParents,
            parents(Dimension.PERSON, finer, a -> people.atom(finer.people.sample(a))),
            Optional.empty(),
            placeParents,
            parents(Dimension.SITE, finer, a -> sites.atom(finer.sites.sample(a))),
            parents(Dimension.SERVICE, finer, a -> services.atom(finer.services.sample(a))),
            parents(Dimension.USING, finer, a -> uses.atom(finer.uses.sample(a))),
            parents(Dimension.TIME, finer, a -> times.atom(finer.times.sample(a)))));
  }

  private Optional<int[]> parents(Dimension dimension, Space finer, IntUnaryOperator parent) {
    Weights next = finer.weights[dimension.ordinal()];
    return next == weights[dimension.ordinal()]
        ? Optional.empty()
        : Optional.of(IntStream.range(0, next.count()).map(parent).toArray());
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

  /** All values some rules use, named sets opened, sorted by the axis that needs them. */
  private static final class Used {
    private final Set<Value> places;
    private final Set<Value> people;
    private final Set<Value> sites;
    private final Set<Value> uses;
    private final Set<Value.ServiceRange> services;
    private final Set<Value.TimeSpan> times;
    private boolean usualPorts;
    private final int cuts;

    private Used() {
      places = new LinkedHashSet<>();
      people = new LinkedHashSet<>();
      sites = new LinkedHashSet<>();
      uses = new LinkedHashSet<>();
      services = new LinkedHashSet<>();
      times = new LinkedHashSet<>();
      cuts = 0;
    }

    private Used(Used one, Used more) {
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

    private Used with(Used more) {
      return new Used(this, more);
    }

    private boolean holds(Used other) {
      return places.containsAll(other.places)
          && people.containsAll(other.people)
          && sites.containsAll(other.sites)
          && uses.containsAll(other.uses)
          && services.containsAll(other.services)
          && times.containsAll(other.times)
          && (usualPorts || !other.usualPorts);
    }

    private Used(List<Scope> scopes) {
      this();
      for (Scope scope : scopes) {
        scope.rulebase().rules().forEach(rule -> add(rule, scope.names()));
        scope.rulebase().parts().reading().forEach(line -> add(line.match(), scope.names()));
      }
    }

    private void add(Rule rule, Names names) {
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
            sites.add(named(host));
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
  }

  /** The connections that ask for a host name object by name. */
  static Value.HostName named(Value.HostObject host) {
    return new Value.HostName(host.name(), Value.HostName.Reach.EXACT);
  }

  /** Both addresses of a connection are of one version, and each version has its own ICMP. */
  private Box version(Address.Version version, int otherIcmp) {
    IndexSet ofVersion = places.version(version);
    return everything()
        .with(Dimension.FROM.ordinal(), ofVersion)
        .with(Dimension.TO.ordinal(), ofVersion)
        .with(SERVICE, whole[SERVICE].minus(services.protocol(otherIcmp)));
  }

  /** All points, those that cannot be for their IP versions included. */
  public Box everything() {
    return Box.of(whole);
  }

  /** All atoms of one dimension. */
  public IndexSet whole(int dimension) {
    return whole[dimension];
  }

  /** For each dimension the weight of each atom: how many points it stands for. */
  public Weights[] weights() {
    return weights;
  }

  /** All connections there can be, from today on, as disjoint boxes: one for each version. */
  public List<Box> ahead() {
    return ahead;
  }

  /** Which IP version the connections of a non-empty box have. */
  public Address.Version versionOf(Box box) {
    return places.sample(box.side(Dimension.FROM.ordinal()).first()).address().version();
  }

  /** The atoms one field allows in its dimension. */
  public IndexSet side(FieldName name, Field field, Names names) {
    int dimension = Dimension.of(name).ordinal();
    IndexSet sum = IndexSet.EMPTY;
    for (Value value : names.open(name, field)) {
      sum = sum.union(atoms(name, value));
    }
    return field.sense() == Field.Sense.IS ? sum : whole[dimension].minus(sum);
  }

  private IndexSet atoms(FieldName name, Value value) {
    return switch (name.kind()) {
      case ZONE -> places.zone(((Value.ZoneName) value).name());
      case NETWORK -> places.value(value, place -> ranges(environment, place));
      case SITE -> sites.atoms(value);
      case PERSON -> people.atoms(value);
      case DEVICE -> devices.atoms(value);
      case SERVICE -> services.atoms((Value.ServiceRange) value);
      case APPLICATION -> uses.atoms(value);
      case TIME -> times.atoms((Value.TimeSpan) value);
    };
  }

  /** The atoms of the connections that name a host. */
  IndexSet site(Value.HostName host) {
    return sites.atoms(host);
  }

  UsingAxis uses() {
    return uses;
  }

  Collection<Box> versions() {
    return versions.values();
  }

  /**
   * What could still be true of a connection while only some of it is known: all points that agree
   * with it in what shows by then.
   *
   * @param point the connection's own point
   */
  public Box known(Connection connection, int[] point, Knowledge knowledge) {
    Box exactly = Box.at(point);
    return switch (knowledge) {
      case FIRST_PACKET -> exactly.with(SITE, whole[SITE]).with(USING, whole[USING]);
      case NAMED -> exactly.with(USING, uses.outside(connection.using()));
      case IDENTIFIED -> exactly.with(USING, uses.features(connection.using()));
      case READ -> exactly;
    };
  }

  /** The atoms of an application with none of its features, over all its carriers. */
  public IndexSet bare(Application application) {
    return uses.bare(application);
  }

  /** The atoms of some services. */
  public IndexSet serviceAtoms(List<Value.ServiceRange> ranges) {
    IndexSet all = IndexSet.EMPTY;
    for (Value.ServiceRange range : ranges) {
      all = all.union(services.atoms(range));
    }
    return all;
  }

  /** The atoms of the places in zones of one side. */
  public IndexSet placesOn(ironsieve.model.Zone.Side side) {
    IndexSet all = IndexSet.EMPTY;
    for (ironsieve.model.Zone zone : environment.zones()) {
      if (zone.side() == side) {
        all = all.union(places.zone(zone.name()));
      }
    }
    return all;
  }

  /** The atoms of each zone; every place is in exactly one. */
  List<IndexSet> zones() {
    return environment.zones().stream().map(zone -> places.zone(zone.name())).toList();
  }

  /** Writes sets of atoms out where no rule's own words fit. */
  public Spelling spelling() {
    return new Spelling(this, places, people, sites, services, uses, times);
  }

  Connection.Device device(int atom) {
    return devices.sample(atom);
  }

  IndexSet devices(Value value) {
    return devices.atoms(value);
  }

  /** The atoms of one zone. */
  public IndexSet zone(String name) {
    return places.zone(name);
  }

  /**
   * The atoms of some people, whether or not a rule names them: those whom no rule tells from one
   * of them are decided as they are.
   */
  public IndexSet people(Value value) {
    return people.like(value, environment.directory());
  }

  /** The atoms of all of an application, or of one feature of it. */
  public IndexSet uses(Application application, Optional<String> feature) {
    return uses.of(application, feature);
  }

  /** The atom of what nothing recognises. */
  public IndexSet unrecognised() {
    return uses.atoms(Value.Unrecognised.APPLICATION);
  }

  /** The atom of somebody unidentified. */
  public IndexSet unidentified() {
    return people.atoms(Value.Identity.UNIDENTIFIED);
  }

  /** Whether the content of a connection travels inside a seal. */
  public boolean isSealed(Connection connection) {
    return uses.isSealed(connection.using());
  }

  /**
   * The point of a connection.
   *
   * @throws ImpossibleConnectionException if there can be no such connection here
   */
  public int[] point(Connection connection) {
    Place from = connection.from().place();
    Place to = connection.to().place();
    if (from.address().version() != to.address().version()) {
      throw new ImpossibleConnectionException(
          FieldName.TO_NETWORKS,
          from.address() + " and " + to.address() + " are of different IP versions");
    }
    int[] point = {
      place(FieldName.FROM_NETWORKS, from),
      known(
          FieldName.PEOPLE,
          people.atom(connection.from().person()),
          connection.from().person().orElse("")),
      known(
          FieldName.DEVICES,
          devices.atom(connection.from().device()),
          connection.from().device().kind()),
      place(FieldName.TO_NETWORKS, to),
      sites.atom(connection.to().host()),
      services.atom(connection.service()),
      known(
          FieldName.APPLICATIONS,
          uses.atom(connection.using()),
          connection.using().application().orElse("")
              + connection.using().feature().map(f -> "/" + f).orElse("")
              + connection.using().carrier().map(c -> " over " + c).orElse("")),
      times.atom(connection.at())
    };
    if (versions.values().stream().noneMatch(box -> box.contains(point))) {
      throw new ImpossibleConnectionException(
          FieldName.SERVICES, "ICMP is for IPv4 and ICMPv6 for IPv6, not the other way round");
    }
    return point;
  }

  private static int known(FieldName field, int atom, String what) {
    if (atom < 0) {
      throw new ImpossibleConnectionException(
          field, "there is no " + field.label() + " \"" + what + "\"");
    }
    return atom;
  }

  private int place(FieldName field, Place place) {
    return places
        .atom(place)
        .orElseThrow(
            () ->
                new ImpossibleConnectionException(
                    field, place.address() + " does not lie behind zone " + place.zone()));
  }

  /**
   * A point of a non-empty box that reads like a connection somebody would make: the application on
   * one of its usual ports, or on a common one, or else what is usual on the port there is, in
   * office hours of a working day, and without a host name, if the box has it.
   */
  public int[] example(Box box) {
    int[] point = box.point().orElseThrow();
    point[TIME] = times.plainest(box.side(TIME));
    int nameless = sites.atom(Optional.empty());
    if (box.side(SITE).contains(nameless)) {
      point[SITE] = nameless;
    }
    ApplicationUse use = uses.sample(point[USING]);
    for (Service service : usual(use)) {
      int atom = services.atom(service);
      if (box.side(SERVICE).contains(atom)) {
        point[SERVICE] = atom;
        break;
      }
    }
    Service service = service(use, point[SERVICE]);
    if (!isUsual(use, service)) {
      IndexSet side = box.side(USING);
      usuallyOn(service, side)
          .or(() -> Optional.of(ApplicationUse.UNRECOGNISED))
          .map(uses::atom)
          .filter(side::contains)
          .ifPresent(atom -> point[USING] = atom);
    }
    return point;
  }

  /** The services to look for first where an application is seen: its own, then common ones. */
  private List<Service> usual(ApplicationUse use) {
    List<Service> usual = new ArrayList<>();
    usualPorts(use).forEach(range -> usual.add(range.low()));
    usual.addAll(COMMON);
    return usual;
  }

  private List<Value.ServiceRange> usualPorts(ApplicationUse use) {
    return use.application()
        .flatMap(environment.catalogue()::application)
        .map(application -> application.wiring().usualPorts())
        .orElse(List.of());
  }

  private boolean isUsual(ApplicationUse use, Service service) {
    List<Value.ServiceRange> ports = usualPorts(use);
    for (Value.ServiceRange range : ports) {
      if (range.low().compareTo(service) <= 0 && service.compareTo(range.high()) <= 0) {
        return true;
      }
    }
    return ports.isEmpty();
  }

  /** What normally is on a service, among some atoms, if the catalogue has such a thing. */
  private Optional<ApplicationUse> usuallyOn(Service service, IndexSet atoms) {
    return environment.catalogue().usuallyOn(service).stream()
        .map(Application::plainUse)
        .filter(use -> atoms.contains(uses.atom(use)))
        .findFirst();
  }

  /** One service of an atom, for a use. */
  private Service service(ApplicationUse use, int atom) {
    for (Service service : usual(use)) {
      if (services.atom(service) == atom) {
        return service;
      }
    }
    return services.sample(atom);
  }

  /** One connection at a point; {@link #point} leads back. */
  public Connection sample(int[] point) {
    ApplicationUse first = uses.sample(point[USING]);
    Service service = service(first, point[SERVICE]);
    ApplicationUse use =
        isUsual(first, service)
            ? first
            : usuallyOn(service, IndexSet.of(point[USING])).orElse(first);
    return new Connection(
        times.sample(point[Dimension.TIME.ordinal()]),
        new Source(
            places.sample(point[Dimension.FROM.ordinal()]),
            people.sample(point[Dimension.PERSON.ordinal()]),
            devices.sample(point[Dimension.DEVICE.ordinal()])),
        new Connection.Destination(
            places.sample(point[Dimension.TO.ordinal()]), sites.sample(point[SITE])),
        service,
        use);
  }

  public Environment environment() {
    return environment;
  }

  /** How many atoms each dimension has, for those who wonder where the time goes. */
  @Override
  public String toString() {
    return Arrays.toString(Arrays.stream(weights).mapToInt(Weights::count).toArray());
  }
}
