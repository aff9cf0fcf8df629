package ironsieve.traffic.view;

import ironsieve.compile.Dimension;
import ironsieve.model.Application;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Place;
import ironsieve.model.Environment;
import ironsieve.model.Tape.Unsaid;
import ironsieve.recorded.TapeColumns;
import ironsieve.recorded.Values;
import ironsieve.region.Address;
import ironsieve.region.Range;
import ironsieve.text.ValueText;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;

/**
 * Finds what the conversations of tapes are called by application, person, place and so on, in some
 * surroundings. Safe for use by many threads.
 */
final class LabelMaker {

  /** Stands for no application, host, person and so on. */
  public static final String NONE = "none";

  private final Environment environment;
  private final Map<String, List<String>> groups = new ConcurrentHashMap<>();
  private final TreeMap<Address, Country> countries = new TreeMap<>();

  private record Country(Address high, String code) {}

  LabelMaker(Environment environment) {
    this.environment = environment;
    environment
        .atlas()
        .countries()
        .forEach(
            (code, ranges) -> {
              for (Range<Address> range : ranges) {
                countries.put(range.low(), new Country(range.high(), code));
              }
            });
  }

  /**
   * The labels of one tape.
   *
   * @throws IllegalArgumentException for what is found by decision or by tape
   */
  Labels labels(By by, TapeColumns tape) {
    Values values = tape.values();
    return switch (by) {
      case APPLICATION ->
          uses(tape, use -> use.application().orElse(NONE), Optional.of(Unsaid.APPLICATION));
      case FEATURE ->
          uses(
              tape,
              use ->
                  use.feature()
                      .flatMap(feature -> use.application().map(name -> name + "/" + feature))
                      .orElse(NONE),
              Optional.empty());
      case FAMILY ->
          uses(
              tape,
              use ->
                  application(use)
                      .map(application -> application.grouping().family())
                      .filter(family -> !family.isEmpty())
                      .orElse(NONE),
              Optional.empty());
      case CATEGORY ->
          uses(
              tape,
              use ->
                  application(use)
                      .map(application -> application.grouping().category())
                      .orElse(NONE),
              Optional.of(Unsaid.APPLICATION));
      case RECOGNISED ->
          new Labels(
              tape.conversations(),
              Dimension.USING,
              values.uses(),
              use -> List.of(Recognition.of(use, Set.of())),
              Optional.of(Unsaid.APPLICATION),
              false);
      case PERSON ->
          new Labels(
              tape.conversations(),
              Dimension.PERSON,
              values.people(),
              login -> List.of(login.orElse("unidentified")),
              Optional.of(Unsaid.PERSON),
              false);
      case GROUP ->
          new Labels(
              tape.conversations(),
              Dimension.PERSON,
              values.people(),
              login -> login.map(this::groups).orElse(List.of(NONE)),
              Optional.of(Unsaid.PERSON),
              false);
      case DEVICE ->
          new Labels(
              tape.conversations(),
              Dimension.DEVICE,
              values.devices(),
              device -> List.of(device.kind()),
              Optional.of(Unsaid.DEVICE),
              false);
      case FROM_ZONE -> places(tape, Dimension.FROM, Place::zone);
      case TO_ZONE -> places(tape, Dimension.TO, Place::zone);
      case SOURCE -> places(tape, Dimension.FROM, place -> place.address().toString());
      case DESTINATION -> places(tape, Dimension.TO, place -> place.address().toString());
      case COUNTRY -> places(tape, Dimension.TO, place -> country(place.address()));
      case HOST ->
          new Labels(
              tape.conversations(),
              Dimension.SITE,
              values.hosts(),
              host -> List.of(host.orElse(NONE)),
              Optional.of(Unsaid.HOST),
              true);
      case SITE ->
          new Labels(
              tape.conversations(),
              Dimension.SITE,
              values.hosts(),
              host -> List.of(host.map(environment.atlas()::category).orElse(NONE)),
              Optional.of(Unsaid.HOST),
              true);
      case SERVICE ->
          new Labels(
              tape.conversations(),
              Dimension.SERVICE,
              values.services(),
              service -> List.of(ValueText.print(service)),
              Optional.empty(),
              false);
      case RULE, VERDICT, TAPE -> throw new IllegalArgumentException(by + " has no labels");
    };
  }

  private static Labels uses(
      TapeColumns tape, Function<ApplicationUse, String> label, Optional<Unsaid> unsaid) {
    return new Labels(
        tape.conversations(),
        Dimension.USING,
        tape.values().uses(),
        use -> List.of(label.apply(use)),
        unsaid,
        true);
  }

  private static Labels places(TapeColumns tape, Dimension end, Function<Place, String> label) {
    return new Labels(
        tape.conversations(),
        end,
        end == Dimension.FROM ? tape.values().from() : tape.values().to(),
        place -> List.of(label.apply(place)),
        Optional.empty(),
        false);
  }

  private Optional<Application> application(ApplicationUse use) {
    return use.application().flatMap(environment.catalogue()::application);
  }

  private List<String> groups(String login) {
    return groups.computeIfAbsent(
        login,
        who -> {
          List<String> all =
              environment.directory().person(who).stream()
                  .flatMap(person -> environment.directory().groupsOf(person).stream())
                  .sorted()
                  .toList();
          return all.isEmpty() ? List.of(NONE) : all;
        });
  }

  private String country(Address address) {
    Map.Entry<Address, Country> below = countries.floorEntry(address);
    return below == null || address.compareTo(below.getValue().high()) > 0
        ? NONE
        : below.getValue().code();
  }
}
