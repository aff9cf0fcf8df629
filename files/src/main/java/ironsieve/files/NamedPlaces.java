package ironsieve.files;

import ironsieve.files.Documents.DecryptionRuleDoc;
import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.Documents.SheetDoc;
import ironsieve.files.Documents.SheetLineDoc;
import ironsieve.model.FieldName;
import ironsieve.model.ValueKind;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

/**
 * The one walk over everything in a rulebase's records where a value, and so a name, may stand:
 * fields of rules and of decryption rules, what sets hold, what lines of sheets are about.
 * Renaming, finding uses and finding what is not known are written with it.
 */
public final class NamedPlaces {

  private NamedPlaces() {}

  /**
   * A place where a value stands.
   *
   * @param record the kind of the record it stands in
   * @param id the record's id among those of its kind
   * @param kind of the value
   * @param text the value as it is written
   */
  public record Place(RecordKind record, String id, ValueKind kind, String text) {}

  /** Makes another value of one. */
  @FunctionalInterface
  public interface Mapping {

    /** The text that stands there from now on; the same one where nothing changes. */
    String text(Place place);
  }

  /** Looks at each value. */
  public static void each(Contents contents, Consumer<Place> look) {
    map(
        contents,
        place -> {
          look.accept(place);
          return place.text();
        });
  }

  /** The same records with other values; those that do not change are the same objects. */
  public static Contents map(Contents contents, Mapping mapping) {
    Contents next = contents.copy();
    for (RuleDoc rule : contents.rules().values()) {
      Map<String, FieldDoc> fields = fields(RecordKind.RULE, rule.id(), rule.fields(), mapping);
      if (!fields.equals(rule.fields())) {
        next.put(RecordKind.RULE, rule.withFields(fields));
      }
    }
    contents.sets().values().forEach(set -> next.put(RecordKind.SET, map(set, mapping)));
    for (SheetDoc sheet : contents.sheets().values()) {
      List<SheetLineDoc> lines =
          sheet.lines().stream()
              .map(
                  line ->
                      new SheetLineDoc(
                          mapping.text(
                              new Place(
                                  RecordKind.SHEET,
                                  sheet.name(),
                                  ValueKind.APPLICATION,
                                  line.about())),
                          line.outcome()))
              .toList();
      next.put(
          RecordKind.SHEET, new SheetDoc(sheet.name(), lines, sheet.otherwise(), sheet.note()));
    }
    for (DecryptionRuleDoc rule : contents.decryption().values()) {
      next.put(
          RecordKind.DECRYPTION_RULE,
          new DecryptionRuleDoc(
              rule.id(),
              rule.position(),
              rule.decision(),
              fields(RecordKind.DECRYPTION_RULE, rule.id(), rule.fields(), mapping),
              rule.note()));
    }
    return next;
  }

  /** A set with other values. */
  public static SetDoc map(SetDoc set, Mapping mapping) {
    return new SetDoc(
        set.kind(),
        set.name(),
        values(RecordKind.SET, set.id(), kindOf(set.kind()), set.values(), mapping),
        set.note());
  }

  private static Map<String, FieldDoc> fields(
      RecordKind record, String id, Map<String, FieldDoc> fields, Mapping mapping) {
    if (fields == null) {
      return Map.of();
    }
    Map<String, FieldDoc> next = new LinkedHashMap<>();
    fields.forEach(
        (key, field) ->
            next.put(
                key,
                new FieldDoc(
                    field.sense(), values(record, id, kindOfField(key), field.values(), mapping))));
    return next;
  }

  /** Of a kind that cannot be read, told elsewhere, nothing changes. */
  private static List<String> values(
      RecordKind record,
      String id,
      Optional<ValueKind> kind,
      List<String> values,
      Mapping mapping) {
    return kind.isEmpty() || values == null
        ? values
        : values.stream()
            .map(value -> mapping.text(new Place(record, id, kind.get(), value)))
            // Two names may have become one.
            .distinct()
            .toList();
  }

  private static Optional<ValueKind> kindOf(String word) {
    try {
      return Optional.of(ValueKind.ofWord(word));
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    }
  }

  private static Optional<ValueKind> kindOfField(String key) {
    try {
      return Optional.of(FieldName.ofKey(key).kind());
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    }
  }
}
