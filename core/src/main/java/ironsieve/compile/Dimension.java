package ironsieve.compile;

import ironsieve.model.FieldName;
import java.util.Arrays;
import java.util.List;

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
    return Arrays.stream(values()).filter(d -> d.fields.contains(field)).findFirst().orElseThrow();
  }
}
