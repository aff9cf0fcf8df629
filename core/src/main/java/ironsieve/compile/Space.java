package ironsieve.compile;

import ironsieve.model.Application;
import ironsieve.model.Connection;
import ironsieve.model.Connection.Place;
import ironsieve.model.Environment;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Service;
import ironsieve.model.Value;
import ironsieve.region.Address;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import ironsieve.region.Range;
import ironsieve.region.Weights;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.IntUnaryOperator;
import java.util.stream.IntStream;

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

  private final Environment environment;
  private final UsedValues used;
  private final Axes axes;
  private final PlaceAxis places;
  private final PersonAxis people;
  private final DeviceAxis devices;
  private final SiteAxis sites;
  private final ServiceAxis services;
  private final UsingAxis uses;
  private final TimeAxis times;
  private final Examples examples;
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
    this(environment, new UsedValues(scopes));
  }

  private Space(Environment environment, UsedValues used) {
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
  record Axes(
      PlaceAxis places,
      PersonAxis people,
      SiteAxis sites,
      ServiceAxis services,
      UsingAxis uses,
      TimeAxis times) {}

  private Space(Environment environment, UsedValues used, Axes axes) {
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
    examples = new Examples(environment, axes, devices);
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

  private static PersonAxis people(Environment environment, UsedValues used) {
    return new PersonAxis(environment.directory(), used.people);
  }

  private static SiteAxis sites(Environment environment, UsedValues used) {
    return new SiteAxis(environment.atlas(), used.sites);
  }

  private static ServiceAxis services(Environment environment, UsedValues used) {
    List<Value.ServiceRange> all = new ArrayList<>(used.services);
    if (used.usualPorts) {
      environment.catalogue().applications().stream()
          .flatMap(application -> application.wiring().usualPorts().stream())
          .forEach(all::add);
    }
    return new ServiceAxis(all);
  }

  private static UsingAxis uses(Environment environment, UsedValues used) {
    return new UsingAxis(environment.catalogue(), used.uses, used.usualPorts);
  }

  private static TimeAxis times(Environment environment, UsedValues used) {
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
    UsedValues asked = new UsedValues();
    more.forEach(rule -> asked.add(rule, names));
    if (used.holds(asked)) {
      return Optional.of(new Refined(this, refinement(this, Optional.empty())));
    }
    UsedValues all = used.with(asked);
    if (all.usualPorts != used.usualPorts || all.cuts > MOST_CUTS) {
      return Optional.empty();
    }
    List<Value> morePlaces =
        asked.places.stream().filter(place -> !used.places.contains(place)).toList();
    Optional<PlaceAxis.Cut> cut =
        morePlaces.isEmpty()
            ? Optional.empty()
            : Optional.of(places.cut(ranges(environment, morePlaces)));
    Axes next =
        new Axes(
            cut.map(PlaceAxis.Cut::axis).orElse(places),
            all.people == used.people ? people : tellingPeople(asked, all),
            all.sites == used.sites ? sites : sites(environment, all),
            all.services == used.services ? services : services(environment, all),
            all.uses == used.uses ? uses : uses(environment, all),
            all.times == used.times ? times : times(environment, all));
    if (next.equals(axes)) {
      return Optional.of(new Refined(this, refinement(this, Optional.empty())));
    }
    Space space = new Space(environment, all, next);
    return Optional.of(new Refined(space, refinement(space, cut.map(PlaceAxis.Cut::parents))));
  }

  private PersonAxis tellingPeople(UsedValues asked, UsedValues all) {
    List<Value> more =
        asked.people.stream().filter(person -> !used.people.contains(person)).toList();
    return people.telling(more).orElseGet(() -> people(environment, all));
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

  /** What of some disjoint boxes lies from today on; none of it empty. */
  public List<Box> ahead(List<Box> boxes) {
    return boxes.stream()
        .flatMap(box -> ahead.stream().filter(box::intersects).map(box::intersect))
        .toList();
  }

  /** How many connections, weighted, some disjoint boxes hold. */
  public double weight(List<Box> boxes) {
    return boxes.stream().mapToDouble(box -> box.weight(weights)).sum();
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

  /** Whether the content of a connection travels encrypted. */
  public boolean isEncrypted(Connection connection) {
    return uses.isEncrypted(connection.using());
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

  /** The atom of a place; −1 if the address does not lie behind the zone. */
  public int atom(Place part) {
    return places.atom(part).orElse(-1);
  }

  /** The atom of a login, or of nobody identified; −1 for a stranger. */
  public int personAtom(Optional<String> login) {
    return people.atom(login);
  }

  /** The atom of a device; −1 for a kind there is not. */
  public int atom(Connection.Device device) {
    return devices.atom(device);
  }

  /** The atom of a host name, or of none. */
  public int hostAtom(Optional<String> host) {
    return sites.atom(host);
  }

  /** The atom of a service. */
  public int atom(Service service) {
    return services.atom(service);
  }

  /** The atom of a use; −1 for an application or feature there is not. */
  public int atom(Connection.ApplicationUse use) {
    return uses.atom(use);
  }

  /** The atom of a time. */
  public int atom(LocalDateTime at) {
    return times.atom(at);
  }

  /**
   * The atoms of times a minute apart.
   *
   * @param first in minutes since the first of 1970
   */
  public int[] atoms(int first, int many) {
    return times.atoms(first, many);
  }

  /** Which IP versions connections can have that lie at an atom: a bit for each, the same ones. */
  public int versionsAt(int dimension, int atom) {
    int bits = 0;
    for (Map.Entry<Address.Version, Box> entry : versions.entrySet()) {
      if (entry.getValue().side(dimension).contains(atom)) {
        bits |= 1 << entry.getKey().ordinal();
      }
    }
    return bits;
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
    return examples.example(box);
  }

  /** One connection at a point; {@link #point} leads back. */
  public Connection sample(int[] point) {
    return examples.sample(point);
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
