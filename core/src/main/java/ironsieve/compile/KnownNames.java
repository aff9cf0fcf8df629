package ironsieve.compile;

import ironsieve.model.Environment;
import ironsieve.model.Value;
import ironsieve.model.Value.Condition.Trait;
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
    if (value instanceof Value.ZoneName name) {
      return unless(zones().contains(name.name()), "there is no zone \"" + name.name() + "\"");
    }
    if (value instanceof Value.PersonName name) {
      return unless(
          environment.directory().person(name.login()).isPresent(),
          "nobody in the directory has the login \"" + name.login() + "\"");
    }
    if (value instanceof Value.GroupName name) {
      return unless(
          environment.directory().group(name.name()).isPresent(),
          "the directory has no group \"" + name.name() + "\"");
    }
    if (value instanceof Value.CountryName country) {
      return unless(
          environment.atlas().countries().containsKey(country.code()),
          "no addresses are known for country \"" + country.code() + "\"");
    }
    if (value instanceof Value.ListName list) {
      return unless(
          environment.atlas().lists().containsKey(list.name()),
          "there is no address list \"" + list.name() + "\"");
    }
    if (value instanceof Value.AttributeIs attribute) {
      return unless(
          environment.directory().attributes().contains(attribute.key()),
          "nobody in the directory has an attribute \"" + attribute.key() + "\"");
    }
    if (value instanceof Value.SiteCategory category) {
      return unless(
          siteCategories().contains(category.name()),
          "there is no site category \"" + category.name() + "\"");
    }
    if (value instanceof Value.DeviceClass device) {
      return device
          .kind()
          .flatMap(
              word ->
                  unless(
                      word.equals("unknown") || environment.deviceKinds().contains(word),
                      "there is no kind of device \"" + word + "\""));
    }
    if (value instanceof Value.ApplicationName name) {
      return unless(
          environment.catalogue().application(name.name()).isPresent(),
          "the catalogue has no application \"" + name.name() + "\"");
    }
    if (value instanceof Value.FeatureName name) {
      return unless(
          environment
              .catalogue()
              .application(name.application())
              .map(a -> a.features().contains(name.feature()))
              .orElse(false),
          "the catalogue has no feature \"" + name.application() + "/" + name.feature() + "\"");
    }
    if (value instanceof Value.FamilyName name) {
      return unless(
          !name.name().isEmpty() && environment.catalogue().families().contains(name.name()),
          "the catalogue has no family \"" + name.name() + "\"");
    }
    if (value instanceof Value.CategoryName name) {
      return unless(
          environment.catalogue().categories().contains(name.name()),
          "the catalogue has no category \"" + name.name() + "\"");
    }
    return value instanceof Value.Filter filter ? problemOf(filter) : Optional.empty();
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

  private static Optional<String> unless(boolean fine, String message) {
    return fine ? Optional.empty() : Optional.of(message);
  }
}
