package ironsieve.decide;

import ironsieve.compile.Filters;
import ironsieve.compile.Names;
import ironsieve.model.Atlas;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Environment;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Service;
import ironsieve.model.Value;
import ironsieve.model.ValueCases;
import ironsieve.text.TimeText;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Reads rules field by field against one connection, straight from what the engineer wrote and
 * without atoms, to say which field held or failed and why. Its answers agree with the atoms'; a
 * property test holds them to it.
 */
final class FieldReader {

  /** A connection, and the end of it that a zone or network is asked about. */
  private record At(FieldReader reader, Connection.Place place) {

    private boolean isWithin(Value network) {
      return reader.environment.atlas().ranges(network).orElseThrow().stream()
          .anyMatch(range -> range.contains(place.address()));
    }

    private Optional<String> person() {
      return reader.connection.from().person();
    }

    private Optional<String> host() {
      return reader.connection.to().host();
    }
  }

  private static final ValueCases<At, Boolean> HOLDS =
      new ValueCases.Builder<At, Boolean>()
          .on(Value.ZoneName.class, (at, zone) -> zone.name().equals(at.place().zone()))
          .on(
              List.of(
                  Value.Network.class,
                  Value.CountryName.class,
                  Value.ListName.class,
                  Value.HostObject.class),
              At::isWithin)
          .on(
              Value.PersonName.class,
              (at, name) -> at.person().map(name.login()::equals).orElse(false))
          .on(Value.GroupName.class, (at, group) -> at.reader.groups.contains(group.name()))
          .on(Value.AttributeIs.class, (at, said) -> at.reader.attribute(said))
          .on(
              Value.Identity.class,
              (at, identity) -> at.person().isPresent() == (identity == Value.Identity.IDENTIFIED))
          .on(Value.DeviceClass.class, (at, device) -> at.reader.device(device))
          .on(
              Value.HostName.class,
              (at, names) -> at.host().map(name -> Atlas.holds(names, name)).orElse(false))
          .on(Value.SiteCategory.class, (at, category) -> at.reader.siteCategory(category))
          .on(Value.Nameless.class, (at, nameless) -> at.host().isEmpty())
          .on(Value.ServiceRange.class, (at, range) -> at.reader.service(range))
          .on(Value.TimeSpan.class, (at, span) -> TimeText.holds(span, at.reader.connection.at()))
          .on(
              List.of(
                  Value.ApplicationName.class,
                  Value.FeatureName.class,
                  Value.ApplicationOver.class,
                  Value.FamilyName.class,
                  Value.CategoryName.class,
                  Value.Filter.class,
                  Value.Unrecognised.class),
              (at, value) -> at.reader.uses(value, at.reader.connection.using()))
          .on(
              Value.SetName.class,
              (at, set) -> {
                throw new IllegalArgumentException(set + " has to be opened before it is asked");
              })
          .table();

  private final Names names;
  private final Environment environment;
  private final Connection connection;
  // All uses the gateway cannot tell from the connection's own, itself included.
  private final List<ApplicationUse> indistinguishable = new ArrayList<>();
  private final boolean readable;
  private final Set<String> groups = new HashSet<>();
  // One connection meets the same values in many rules.
  private final Map<Value, Boolean> known = new HashMap<>();

  /**
   * Reads rules against a connection.
   *
   * @param readable whether the gateway sees what is done inside it
   */
  FieldReader(Names names, Connection connection, boolean readable) {
    this.names = names;
    this.environment = names.environment();
    this.connection = connection;
    this.readable = readable;
    indistinguishable.add(connection.using());
    if (!readable) {
      addEncrypted(connection.using());
    }
    connection
        .from()
        .person()
        .flatMap(environment.directory()::person)
        .ifPresent(person -> groups.addAll(environment.directory().groupsOf(person)));
  }

  private void addEncrypted(ApplicationUse use) {
    indistinguishable.add(new ApplicationUse(use.application(), use.carrier(), Optional.empty()));
    environment
        .catalogue()
        .application(use.application().orElseThrow())
        .orElseThrow()
        .features()
        .forEach(
            feature ->
                indistinguishable.add(
                    new ApplicationUse(use.application(), use.carrier(), Optional.of(feature))));
  }

  /** Every field of the rule that does not hold the connection. */
  List<Reason> misses(Rule rule) {
    List<Reason> misses = new ArrayList<>();
    rule.match()
        .fields()
        .forEach(
            (name, field) -> {
              if (!holds(name, field)) {
                misses.add(new Reason(name, had(name), wanted(field) + encrypted(name, field)));
              }
            });
    if (rule.match().ports() == Rule.Ports.USUAL && !onUsualPort()) {
      misses.add(
          new Reason(
              FieldName.SERVICES,
              had(FieldName.SERVICES),
              "the usual ports of " + had(FieldName.APPLICATIONS) + ": " + usualPorts()));
    }
    return misses;
  }

  /**
   * Whether the fields of a rule that show at the first packet hold the connection; the others may
   * still hold what it could turn out to be.
   */
  boolean holdsAtFirst(Rule rule) {
    return rule.match().fields().entrySet().stream()
        .filter(entry -> showsAtFirst(entry.getKey(), entry.getValue()))
        .allMatch(entry -> holds(entry.getKey(), entry.getValue()));
  }

  /** A host name object is also a name, and that is asked for later. */
  private boolean showsAtFirst(FieldName name, Field field) {
    return name != FieldName.TO_SITES
        && name != FieldName.APPLICATIONS
        && (name != FieldName.TO_NETWORKS
            || names.open(name, field).stream().noneMatch(Value.HostObject.class::isInstance));
  }

  /** For each field of a rule that holds the connection, the value that does. */
  List<Reason> matches(Rule rule) {
    List<Reason> matches = new ArrayList<>();
    rule.match()
        .fields()
        .forEach((name, field) -> matches.add(new Reason(name, had(name), holder(name, field))));
    return matches;
  }

  /** Says so where a field fails only because the feature cannot be seen. */
  private String encrypted(FieldName name, Field field) {
    boolean some =
        name == FieldName.APPLICATIONS
            && indistinguishable.stream().anyMatch(use -> holds(field, use));
    return some ? ", which stays encrypted here" : "";
  }

  private String holder(FieldName name, Field field) {
    if (field.sense() == Field.Sense.IS_NOT) {
      return wanted(field);
    }
    return field.values().stream()
        .filter(value -> names.open(name.kind(), value).stream().anyMatch(v -> holds(name, v)))
        .findFirst()
        .map(ValueText::print)
        .orElseThrow();
  }

  private boolean holds(Field field, ApplicationUse use) {
    boolean any =
        field.values().stream()
            .flatMap(value -> names.open(FieldName.APPLICATIONS.kind(), value).stream())
            .anyMatch(value -> uses(value, use));
    return any == (field.sense() == Field.Sense.IS);
  }

  private boolean holds(FieldName name, Field field) {
    if (name == FieldName.APPLICATIONS && !readable) {
      return indistinguishable.stream().allMatch(use -> holds(field, use));
    }
    boolean any =
        field.values().stream()
            .flatMap(value -> names.open(name.kind(), value).stream())
            .anyMatch(value -> holds(name, value));
    return any == (field.sense() == Field.Sense.IS);
  }

  private boolean holds(FieldName name, Value value) {
    return switch (name) {
      case FROM_ZONES, FROM_NETWORKS -> HOLDS.of(new At(this, connection.from().place()), value);
      case TO_ZONES -> HOLDS.of(new At(this, connection.to().place()), value);
      case TO_NETWORKS -> HOLDS.of(new At(this, connection.to().place()), value) || named(value);
      default -> known.computeIfAbsent(value, this::holdsAnywhere);
    };
  }

  private boolean holdsAnywhere(Value value) {
    return HOLDS.of(new At(this, connection.from().place()), value);
  }

  private boolean named(Value value) {
    return value instanceof Value.HostObject host
        && connection.to().host().map(host.name()::equals).orElse(false);
  }

  private boolean attribute(Value.AttributeIs attribute) {
    return connection
        .from()
        .person()
        .flatMap(environment.directory()::person)
        .map(person -> person.attributes().get(attribute.key()))
        .map(attribute.value()::equals)
        .orElse(false);
  }

  private boolean device(Value.DeviceClass device) {
    Device own = connection.from().device();
    return device.kind().map(own.kind()::equals).orElse(true)
        && device.posture().map(own.posture()::equals).orElse(true);
  }

  private boolean service(Value.ServiceRange range) {
    return range.low().compareTo(connection.service()) <= 0
        && connection.service().compareTo(range.high()) <= 0;
  }

  private boolean siteCategory(Value.SiteCategory category) {
    return connection
        .to()
        .host()
        .map(environment.atlas()::category)
        .map(category.name()::equals)
        .orElse(false);
  }

  private boolean uses(Value value, ApplicationUse use) {
    if (value == Value.Unrecognised.APPLICATION) {
      return use.application().isEmpty();
    }
    if (value instanceof Value.FeatureName name) {
      return use.application().map(name.application()::equals).orElse(false)
          && use.feature().map(name.feature()::equals).orElse(false);
    }
    return use.application()
        .flatMap(environment.catalogue()::application)
        .map(application -> Filters.holds(value, application))
        .orElse(false);
  }

  private boolean onUsualPort() {
    List<Value.ServiceRange> usual = usual();
    return usual.isEmpty() || usual.stream().anyMatch(this::service);
  }

  private List<Value.ServiceRange> usual() {
    return connection
        .using()
        .application()
        .flatMap(environment.catalogue()::application)
        .map(application -> application.wiring().usualPorts())
        .orElse(List.of());
  }

  private String usualPorts() {
    return usual().stream().map(ValueText::print).collect(Collectors.joining(", "));
  }

  private String had(FieldName name) {
    return switch (name) {
      case FROM_ZONES -> connection.from().place().zone();
      case TO_ZONES -> connection.to().zone();
      case FROM_NETWORKS -> connection.from().place().address().toString();
      case TO_NETWORKS -> connection.to().address().toString();
      case PEOPLE -> connection.from().person().orElse("unidentified");
      case DEVICES -> ValueText.print(connection.from().device());
      case TO_SITES -> connection.to().host().orElse("no host name");
      case SERVICES -> service(connection.service());
      case APPLICATIONS -> ValueText.print(connection.using());
      case TIMES -> TimeText.print(connection.at());
    };
  }

  private static String service(Service service) {
    return ValueText.print(new Value.ServiceRange(service, service));
  }

  private static String wanted(Field field) {
    return ValueText.print(field);
  }
}
