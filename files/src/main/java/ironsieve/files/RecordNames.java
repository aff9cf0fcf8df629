package ironsieve.files;

import ironsieve.model.Value;
import ironsieve.model.Value.Condition.Trait;
import ironsieve.model.ValueCases;
import ironsieve.model.ValueKind;
import java.util.List;
import java.util.Optional;
import java.util.function.BiFunction;

/** The records of a workspace that a value names, and the value with other names for them. */
public final class RecordNames {

  private static final ValueCases<Names, Value> NAMED =
      new ValueCases.Builder<Names, Value>()
          .on(
              Value.SetName.class,
              (names, set) ->
                  new Value.SetName(
                      names.next(WorkspaceKind.SET, setId(names.kind, set.name()), set.name())))
          .on(
              Value.ZoneName.class,
              (names, zone) -> new Value.ZoneName(names.next(WorkspaceKind.ZONE, zone.name())))
          .on(
              Value.HostObject.class,
              (names, host) -> new Value.HostObject(names.next(WorkspaceKind.HOST, host.name())))
          .on(
              Value.CountryName.class,
              (names, country) ->
                  new Value.CountryName(names.next(WorkspaceKind.COUNTRY, country.code())))
          .on(
              Value.ListName.class,
              (names, list) ->
                  new Value.ListName(names.next(WorkspaceKind.ADDRESS_LIST, list.name())))
          .on(
              Value.PersonName.class,
              (names, person) ->
                  new Value.PersonName(names.next(WorkspaceKind.PERSON, person.login())))
          .on(
              Value.GroupName.class,
              (names, group) -> new Value.GroupName(names.next(WorkspaceKind.GROUP, group.name())))
          .on(
              Value.DeviceClass.class,
              (names, device) ->
                  new Value.DeviceClass(
                      device.kind().map(kind -> names.next(WorkspaceKind.DEVICE_KIND, kind)),
                      device.posture()))
          .on(
              Value.ApplicationName.class,
              (names, application) ->
                  new Value.ApplicationName(
                      names.next(WorkspaceKind.APPLICATION, application.name())))
          .on(
              Value.FeatureName.class,
              (names, feature) ->
                  new Value.FeatureName(
                      names.next(WorkspaceKind.APPLICATION, feature.application()),
                      feature.feature()))
          .on(Value.Filter.class, RecordNames::filter)
          // These name no record of the workspace.
          .on(
              List.of(
                  Value.Network.class,
                  Value.AttributeIs.class,
                  Value.Identity.class,
                  Value.HostName.class,
                  Value.SiteCategory.class,
                  Value.Nameless.class,
                  Value.ServiceRange.class,
                  Value.ApplicationOver.class,
                  Value.FamilyName.class,
                  Value.CategoryName.class,
                  Value.Unrecognised.class,
                  Value.TimeSpan.class),
              (names, value) -> value)
          .table();

  private RecordNames() {}

  private record Names(ValueKind kind, BiFunction<WorkspaceKind, String, Optional<String>> next) {

    private String next(WorkspaceKind kind, String name) {
      return next(kind, name, name);
    }

    private String next(WorkspaceKind kind, String id, String name) {
      return next.apply(kind, id).orElse(name);
    }
  }

  private static String setId(ValueKind kind, String name) {
    return kind.word() + ":" + name;
  }

  private static Value filter(Names names, Value.Filter filter) {
    return new Value.Filter(
        filter.conditions().stream()
            .map(
                condition ->
                    condition.trait() == Trait.NAME
                        ? new Value.Condition(
                            Trait.NAME,
                            condition.comparison(),
                            names.next(WorkspaceKind.APPLICATION, condition.wanted()))
                        : condition)
            .toList());
  }

  /**
   * A value with other names.
   *
   * @param kind the kind of the field or set that it stands in
   * @param next the new name of a record, by its kind and what identifies it; nothing where it
   *     keeps its own
   */
  public static Value map(
      ValueKind kind, Value value, BiFunction<WorkspaceKind, String, Optional<String>> next) {
    return NAMED.of(new Names(kind, next), value);
  }

  /** Whether a value names a record. */
  public static boolean has(ValueKind kind, Value value, WorkspaceKind record, String id) {
    boolean[] found = new boolean[1];
    map(
        kind,
        value,
        (named, one) -> {
          found[0] |= named == record && one.equals(id);
          return Optional.empty();
        });
    return found[0];
  }
}
