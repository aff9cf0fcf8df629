package ironsieve.files;

import ironsieve.model.Application;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Zone;
import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Stream;

/**
 * What the words in somebody's spreadsheet stand for in their own network: a source may be called
 * by its zone, by a group or by an address list, and a service by an application. Capital letters
 * make no difference. Immutable.
 */
public final class OwnWords {

  /** Knows no word. */
  public static final OwnWords NONE = new OwnWords(Map.of());

  /** A value, and the field that it is a value of. */
  record Meaning(FieldName field, Value value) {}

  private final Map<FieldName, Map<String, Meaning>> byField;

  private OwnWords(Map<FieldName, Map<String, Meaning>> byField) {
    this.byField = byField;
  }

  /** The words for what there is in some surroundings. */
  public static OwnWords of(Environment environment) {
    Map<FieldName, Map<String, Meaning>> byField = new HashMap<>();
    Map<String, Meaning> from = new HashMap<>();
    Map<String, Meaning> to = new HashMap<>();
    // What comes first stays: a name of two things is taken as rules would take it.
    Stream<String> sets =
        environment.sets().stream()
            .filter(set -> set.kind() == ValueKind.NETWORK)
            .map(NamedSet::name);
    sets.forEach(
        name -> {
          add(from, name, FieldName.FROM_NETWORKS, Value.SetName::new);
          add(to, name, FieldName.TO_NETWORKS, Value.SetName::new);
        });
    for (Zone zone : environment.zones()) {
      add(from, zone.name(), FieldName.FROM_ZONES, Value.ZoneName::new);
      add(to, zone.name(), FieldName.TO_ZONES, Value.ZoneName::new);
    }
    for (String list : environment.atlas().lists().keySet()) {
      add(from, list, FieldName.FROM_NETWORKS, Value.ListName::new);
      add(to, list, FieldName.TO_NETWORKS, Value.ListName::new);
    }
    for (Directory.Group group : environment.directory().groups()) {
      add(from, group.name(), FieldName.PEOPLE, Value.GroupName::new);
    }
    for (Directory.Person person : environment.directory().people()) {
      add(from, person.login(), FieldName.PEOPLE, Value.PersonName::new);
    }
    Map<String, Meaning> used = new HashMap<>();
    for (Application application : environment.catalogue().applications()) {
      add(used, application.name(), FieldName.APPLICATIONS, Value.ApplicationName::new);
    }
    byField.put(FieldName.FROM_NETWORKS, from);
    byField.put(FieldName.TO_NETWORKS, to);
    byField.put(FieldName.SERVICES, used);
    return new OwnWords(byField);
  }

  private static void add(
      Map<String, Meaning> words, String name, FieldName field, Function<String, Value> value) {
    words.putIfAbsent(key(name), new Meaning(field, value.apply(name)));
  }

  private static String key(String word) {
    return word.strip().toLowerCase(Locale.ROOT);
  }

  /** What a word in a column for a field stands for, if it is one of these. */
  Optional<Meaning> meaning(FieldName column, String word) {
    return Optional.ofNullable(byField.getOrDefault(column, Map.of()).get(key(word)));
  }
}
