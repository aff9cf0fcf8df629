package ironsieve.model;

import java.util.Arrays;
import java.util.stream.Collectors;

/**
 * The fields of a rule that say which connections it is about, in reading order. A rule without a
 * field says "any" there.
 */
public enum FieldName {
  FROM_ZONES("from.zones", "from zone", ValueKind.ZONE),
  FROM_NETWORKS("from.networks", "from network", ValueKind.NETWORK),
  PEOPLE("from.people", "person", ValueKind.PERSON),
  DEVICES("from.devices", "device", ValueKind.DEVICE),
  TO_ZONES("to.zones", "to zone", ValueKind.ZONE),
  TO_NETWORKS("to.networks", "to network", ValueKind.NETWORK),
  TO_SITES("to.sites", "site", ValueKind.SITE),
  SERVICES("using.services", "service", ValueKind.SERVICE),
  APPLICATIONS("using.applications", "application", ValueKind.APPLICATION),
  TIMES("when.times", "time", ValueKind.TIME);

  private final String key;
  private final String label;
  private final ValueKind kind;

  FieldName(String key, String label, ValueKind kind) {
    this.key = key;
    this.label = label;
    this.kind = kind;
  }

  /** The name in the API and in files, such as {@code from.zones}. */
  public String key() {
    return key;
  }

  /** How a sentence speaks of it. */
  public String label() {
    return label;
  }

  /** Which values it takes. */
  public ValueKind kind() {
    return kind;
  }

  /**
   * The field with this key.
   *
   * @throws IllegalArgumentException listing the keys there are
   */
  public static FieldName ofKey(String key) {
    return Arrays.stream(values())
        .filter(field -> field.key.equals(key))
        .findFirst()
        .orElseThrow(
            () ->
                new IllegalArgumentException(
                    "there is no field \""
                        + key
                        + "\"; the fields are "
                        + Arrays.stream(values())
                            .map(FieldName::key)
                            .collect(Collectors.joining(", "))));
  }
}
