package ironsieve.text;

import ironsieve.model.FieldName;
import java.util.List;
import java.util.Locale;

/** One part of a sentence, and the fields its values may belong to, the likeliest first. */
enum SentencePart {
  FROM(FieldName.FROM_ZONES, FieldName.FROM_NETWORKS),
  AS(FieldName.PEOPLE),
  ON(FieldName.DEVICES),
  TO(FieldName.TO_ZONES, FieldName.TO_NETWORKS, FieldName.TO_SITES),
  USING(FieldName.APPLICATIONS, FieldName.SERVICES),
  AT(FieldName.TIMES);

  private final List<FieldName> fields;

  SentencePart(FieldName... fields) {
    this.fields = List.of(fields);
  }

  /** The word that begins it. */
  String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** The fields of a rule its values may belong to. */
  List<FieldName> fields() {
    return fields;
  }
}
