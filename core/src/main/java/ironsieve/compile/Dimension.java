package ironsieve.compile;

import ironsieve.model.FieldName;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;

/**
 * The independent dimensions of a connection. Fields tied to each other share one: a zone and the
 * networks behind it are a place, a host name has its site category, and the country of an address
 * is a set of places. Whether content can be read follows from the others.
 */
public enum Dimension {
  FROM(FieldName.FROM_ZONES, FieldName.FROM_NETWORKS),
  PERSON(FieldName.PEOPLE),
  DEVICE(FieldName.DEVICES),
  TO(FieldName.TO_ZONES, FieldName.TO_NETWORKS),
  SITE(FieldName.TO_SITES),
  SERVICE(FieldName.SERVICES),
  USING(FieldName.APPLICATIONS),
  TIME(FieldName.TIMES);

  private static final Map<FieldName, Dimension> OF_FIELD = new EnumMap<>(FieldName.class);

  static {
    for (Dimension dimension : values()) {
      dimension.fields.forEach(field -> OF_FIELD.put(field, dimension));
    }
  }

  private final List<FieldName> fields;

  Dimension(FieldName... fields) {
    this.fields = List.of(fields);
  }

  /** The fields that narrow this dimension. */
  public List<FieldName> fields() {
    return fields;
  }

  /** The dimension a field narrows. */
  public static Dimension of(FieldName field) {
    return OF_FIELD.get(field);
  }
}
