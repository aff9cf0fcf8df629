package ironsieve.compile;

import ironsieve.model.Connection;
import ironsieve.model.Connection.Place;
import ironsieve.model.Connection.Source;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Service;
import ironsieve.model.Surroundings;
import ironsieve.model.Value;
import ironsieve.region.Address;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import ironsieve.region.Range;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/**
 * The shared atoms of every dimension: the coarsest partition in which each value of some rules is
 * a union of atoms. A connection is a point (one atom for each {@link Dimension}), a claim a union
 * of boxes. Two points with equal coordinates are decided alike by every one of those rules.
 */
public final class Space {

  /** How many dimensions there are. */
  public static final int DIMENSIONS = Dimension.values().length;

  private static final List<Service> COMMON =
      List.of(
          new Service(Service.TCP, 443),
          new Service(Service.TCP, 80),
          new Service(Service.UDP, 53));

  private final Surroundings surroundings;
  private final PlaceAxis places;
  private final PersonAxis people;
  private final DeviceAxis devices;
  private final ServiceAxis services;
  private final UsingAxis uses;
  private final TimeAxis times;
  private final double[][] weights;
  private final IndexSet[] whole = new IndexSet[DIMENSIONS];
  private final Map<Address.Version, Box> versions = new EnumMap<>(Address.Version.class);

  /**
   * Some rules, and what the names in them stand for.
   *
   * @param names must have no problems with the rules
   */
  public record Scope(Collection<Rule> rules, Names names) {}

  /** The space in which all these rules can be told apart. */
  public Space(List<Scope> scopes, Surroundings surroundings) {
    this.surroundings = surroundings;
    Used used = new Used(scopes);
    places = new PlaceAxis(surroundings.zones(), used.ranges);
    people = new PersonAxis(surroundings.directory(), used.people);
    devices = new DeviceAxis(surroundings.deviceKinds());
    if (used.usualPorts) {
      surroundings.catalogue().applications().stream()
          .flatMap(application -> application.wiring().usualPorts().stream())
          .forEach(used.services::add);
    }
    services = new ServiceAxis(used.services);
    uses = new UsingAxis(surroundings.catalogue(), used.uses, used.usualPorts);
    times = new TimeAxis(surroundings.today(), used.times);
    weights =
        new double[][] {
          places.weights(),
          people.weights(),
          devices.weights(),
          places.weights(),
          services.weights(),
          uses.weights(),
          times.weights()
        };
    for (int d = 0; d < DIMENSIONS; d++) {
      whole[d] = IndexSet.upTo(weights[d].length);
    }
    versions.put(Address.Version.V4, version(Address.Version.V4, Service.ICMPV6));
    versions.put(Address.Version.V6, version(Address.Version.V6, Service.ICMP));
  }

  /** All values the rules use, named sets opened, sorted by the axis that needs them. */
  private static final class Used {
    private final List<Range<Address>> ranges = new ArrayList<>();
    private final List<Value> people = new ArrayList<>();
    private final List<Value> uses = new ArrayList<>();
    private final List<Value.ServiceRange> services = new ArrayList<>();
    private final List<Value.TimeSpan> times = new ArrayList<>();
    private boolean usualPorts;

    private Used(List<Scope> scopes) {
      for (Scope scope : scopes) {
        for (Rule rule : scope.rules()) {
          usualPorts |= rule.match().ports() == Rule.Ports.USUAL;
          rule.match()
              .fields()
              .forEach((name, field) -> scope.names().open(name, field).forEach(this::add));
        }
      }
    }

    private void add(Value value) {
      if (value instanceof Value.Network network) {
        ranges.add(network.range());
      } else if (value instanceof Value.ServiceRange service) {
        services.add(service);
      } else if (value instanceof Value.TimeSpan time) {
        times.add(time);
      } else if (value instanceof Value.PersonName || value instanceof Value.GroupName) {
        people.add(value);
      } else {
        uses.add(value);
      }
    }
  }

  /** Both addresses of a connection are of one version, and each version has its own ICMP. */
  private Box version(Address.Version version, int otherIcmp) {
    IndexSet ofVersion = places.version(version);
    return Box.of(whole)
        .with(Dimension.FROM.ordinal(), ofVersion)
        .with(Dimension.TO.ordinal(), ofVersion)
        .with(
            Dimension.SERVICE.ordinal(),
            whole[Dimension.SERVICE.ordinal()].minus(services.protocol(otherIcmp)));
  }

  /** All atoms of one dimension. */
  public IndexSet whole(int dimension) {
    return whole[dimension];
  }

  /** For each dimension the weight of each atom: how many points it stands for. */
  public double[][] weights() {
    return weights;
  }

  /** All connections there can be, from today on, as disjoint boxes: one for each version. */
  public List<Box> ahead() {
    return versions.values().stream()
        .map(box -> box.with(Dimension.TIME.ordinal(), times.ahead()))
        .toList();
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
      case NETWORK -> places.range(((Value.Network) value).range());
      case PERSON -> people.atoms(value);
      case DEVICE -> devices.atoms(value);
      case SERVICE -> services.atoms((Value.ServiceRange) value);
      case APPLICATION -> uses.atoms(value);
      case TIME -> times.atoms((Value.TimeSpan) value);
    };
  }

  /** The atoms a whole match allows in each dimension, before usual ports and IP versions. */
  IndexSet[] sides(Rule.Match match, Names names) {
    IndexSet[] sides = whole.clone();
    match
        .fields()
        .forEach(
            (name, field) -> {
              int dimension = Dimension.of(name).ordinal();
              sides[dimension] = sides[dimension].intersect(side(name, field, names));
            });
    return sides;
  }

  /**
   * The claim of a match as non-empty boxes, past times included: one box for each IP version and,
   * with usual ports, for each group of applications that share theirs.
   */
  public List<Box> claim(Rule.Match match, Names names) {
    Box product = Box.of(sides(match, names));
    List<Box> boxes = new ArrayList<>();
    for (Box version : versions.values()) {
      Box part = product.intersect(version);
      if (part.isEmpty()) {
        continue;
      }
      if (match.ports() == Rule.Ports.ANY) {
        boxes.add(part);
      } else {
        uses.portClasses().stream()
            .map(ports -> narrowed(part, ports))
            .filter(box -> !box.isEmpty())
            .forEach(boxes::add);
      }
    }
    return boxes;
  }

  private Box narrowed(Box box, UsingAxis.PortClass ports) {
    int using = Dimension.USING.ordinal();
    int service = Dimension.SERVICE.ordinal();
    Box ofClass = box.with(using, box.side(using).intersect(ports.atoms()));
    if (ports.usualPorts().isEmpty()) {
      return ofClass;
    }
    IndexSet allowed = IndexSet.EMPTY;
    for (Value.ServiceRange range : ports.usualPorts()) {
      allowed = allowed.union(services.atoms(range));
    }
    return ofClass.with(service, ofClass.side(service).intersect(allowed));
  }

  /**
   * The point of a connection.
   *
   * @throws ImpossibleConnectionException if there can be no such connection here
   */
  public int[] point(Connection connection) {
    Place from = connection.from().place();
    Place to = connection.to();
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
      services.atom(connection.service()),
      known(
          FieldName.APPLICATIONS,
          uses.atom(connection.using()),
          connection.using().application().orElse("")
              + connection.using().feature().map(f -> "/" + f).orElse("")),
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
   * one of its usual ports, or on a common one, if the box has it.
   */
  public int[] example(Box box) {
    int[] point = box.point().orElseThrow();
    int service = Dimension.SERVICE.ordinal();
    Stream<Value.ServiceRange> usual =
        uses.sample(point[Dimension.USING.ordinal()])
            .application()
            .flatMap(surroundings.catalogue()::application)
            .map(application -> application.wiring().usualPorts().stream())
            .orElse(Stream.empty());
    Stream.concat(usual.map(Value.ServiceRange::low), COMMON.stream())
        .map(services::atom)
        .filter(box.side(service)::contains)
        .findFirst()
        .ifPresent(atom -> point[service] = atom);
    return point;
  }

  /** One connection at a point; {@link #point} leads back. */
  public Connection sample(int[] point) {
    return new Connection(
        times.sample(point[Dimension.TIME.ordinal()]),
        new Source(
            places.sample(point[Dimension.FROM.ordinal()]),
            people.sample(point[Dimension.PERSON.ordinal()]),
            devices.sample(point[Dimension.DEVICE.ordinal()])),
        places.sample(point[Dimension.TO.ordinal()]),
        services.sample(point[Dimension.SERVICE.ordinal()]),
        uses.sample(point[Dimension.USING.ordinal()]));
  }

  public Surroundings surroundings() {
    return surroundings;
  }

  /** How many atoms each dimension has, for those who wonder where the time goes. */
  @Override
  public String toString() {
    return Arrays.toString(Arrays.stream(weights).mapToInt(w -> w.length).toArray());
  }
}
