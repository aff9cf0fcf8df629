package ironsieve.text;

import ironsieve.model.FieldName;
import java.util.List;

/** One part of the sentence, and the fields its values may belong to, the likeliest first. */
enum QuickRulePart {
  FROM("from", FieldName.FROM_ZONES, FieldName.FROM_NETWORKS),
  TO("to", FieldName.TO_ZONES, FieldName.TO_NETWORKS, FieldName.TO_SITES),
  AS("as", FieldName.PEOPLE),
  ON("on", FieldName.DEVICES),
  USING("using", FieldName.APPLICATIONS, FieldName.SERVICES),
  AT("at", FieldName.TIMES);

  final String word;
  final List<FieldName> fields;

  QuickRulePart(String word, FieldName... fields) {
    this.word = word;
    this.fields = List.of(fields);
  }
}
