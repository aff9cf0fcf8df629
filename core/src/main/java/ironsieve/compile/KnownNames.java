package ironsieve.compile;

import ironsieve.model.Atlas;
import ironsieve.model.Catalogue;
import ironsieve.model.Connection.Device;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.Value;
import ironsieve.model.Value.Condition.Trait;
import ironsieve.model.ValueCases;
import ironsieve.model.Zone;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/**
 * Which names stand for something in some surroundings, and why the others do not. One that stands
 * for nothing is no fault of the rule that uses it: what it named may have been removed since.
 */
final class KnownNames {

  /** What spells itself out stands for itself; a named set is opened by {@link Names}. */
  private static final List<Class<? extends Value>> NO_NAMES =
      List.of(
          Value.SetName.class,
          Value.Network.class,
          Value.HostObject.class,
          Value.Identity.class,
          Value.HostName.class,
          Value.Nameless.class,
          Value.ServiceRange.class,
          Value.ApplicationOver.class,
          Value.Unrecognised.class,
          Value.TimeSpan.class);

  private static final ValueCases<KnownNames, Optional<String>> PROBLEMS =
      new ValueCases.Builder<KnownNames, Optional<String>>()
          .on(NO_NAMES, (known, value) -> Optional.empty())
          .on(
              Value.ZoneName.class,
              (known, zone) ->
                  unless(known.zones().contains(zone.name()), "there is no zone", zone.name()))
          .on(
              Value.PersonName.class,
              (known, person) ->
                  unless(
                      known.directory().person(person.login()).isPresent(),
                      "nobody in the directory has the login",
                      person.login()))
          .on(
              Value.GroupName.class,
              (known, group) ->
                  unless(
                      known.directory().group(group.name()).isPresent(),
                      "the directory has no group",
                      group.name()))
          .on(
              Value.AttributeIs.class,
              (known, said) ->
                  unless(
                      known.directory().attributes().contains(said.key()),
                      "nobody in the directory has an attribute",
                      said.key()))
          .on(
              Value.CountryName.class,
              (known, country) ->
                  unless(
                      known.atlas().countries().containsKey(country.code()),
                      "no addresses are known for country",
                      country.code()))
          .on(
              Value.ListName.class,
              (known, list) ->
                  unless(
                      known.atlas().lists().containsKey(list.name()),
                      "there is no address list",
                      list.name()))
          .on(
              Value.SiteCategory.class,
              (known, category) ->
                  unless(
                      known.siteCategories().contains(category.name()),
                      "there is no site category",
                      category.name()))
          .on(Value.DeviceClass.class, (known, device) -> device.kind().flatMap(known::deviceKind))
          .on(
              Value.ApplicationName.class,
              (known, application) ->
                  unless(
                      known.catalogue().application(application.name()).isPresent(),
                      "the catalogue has no application",
                      application.name()))
          .on(
              Value.FeatureName.class,
              (known, feature) ->
                  unless(
                      known
                          .catalogue()
                          .application(feature.application())
                          .map(application -> application.features().contains(feature.feature()))
                          .orElse(false),
                      "the catalogue has no feature",
                      feature.application() + "/" + feature.feature()))
          .on(
              Value.FamilyName.class,
              (known, family) ->
                  unless(
                      !family.name().isEmpty()
                          && known.catalogue().families().contains(family.name()),
                      "the catalogue has no family",
                      family.name()))
          .on(
              Value.CategoryName.class,
              (known, category) ->
                  unless(
                      known.catalogue().categories().contains(category.name()),
                      "the catalogue has no category",
                      category.name()))
          .on(Value.Filter.class, KnownNames::problemOf)
          .table();

  private final Environment environment;
  private Set<String> zones;
  private Set<String> siteCategories;

  KnownNames(Environment environment) {
    this.environment = environment;
  }

  private Set<String> zones() {
    if (zones == null) {
      zones = Set.copyOf(environment.zones().stream().map(Zone::name).toList());
    }
    return zones;
  }

  private Set<String> siteCategories() {
    if (siteCategories == null) {
      siteCategories = Set.copyOf(environment.atlas().siteCategories());
    }
    return siteCategories;
  }

  /** Why a value that is no named set stands for nothing, if it does. */
  Optional<String> problem(Value value) {
    return PROBLEMS.of(this, value);
  }

  /**
   * Conditions ask for what the catalogue may come to have; but where applications are named alone,
   * they and what they are left out of must be there, for a wrong name would leave out nothing.
   */
  private Optional<String> problemOf(Value.Filter filter) {
    List<String> applications = filter.wanted(Trait.NAME);
    if (applications.isEmpty()) {
      return Optional.empty();
    }
    return Stream.of(
            applications.stream().<Value>map(Value.ApplicationName::new),
            filter.wanted(Trait.CATEGORY).stream().<Value>map(Value.CategoryName::new),
            filter.wanted(Trait.FAMILY).stream().<Value>map(Value.FamilyName::new))
        .flatMap(named -> named)
        .map(this::problem)
        .flatMap(Optional::stream)
        .findFirst();
  }

  private Directory directory() {
    return environment.directory();
  }

  private Atlas atlas() {
    return environment.atlas();
  }

  private Catalogue catalogue() {
    return environment.catalogue();
  }

  private Optional<String> deviceKind(String kind) {
    return unless(
        kind.equals(Device.UNKNOWN_KIND) || environment.deviceKinds().contains(kind),
        "there is no kind of device",
        kind);
  }

  private static Optional<String> unless(boolean isFine, String problem, String name) {
    return isFine ? Optional.empty() : Optional.of(problem + " \"" + name + "\"");
  }
}
