package ironsieve.files;

import ironsieve.files.Documents.ChapterDoc;
import ironsieve.files.Documents.DecryptionRuleDoc;
import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.LaneDoc;
import ironsieve.files.Documents.MetadataDoc;
import ironsieve.files.Documents.NoticeDoc;
import ironsieve.files.Documents.RatesDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.Documents.SheetDoc;
import ironsieve.files.Documents.SheetLineDoc;
import ironsieve.model.Chapter;
import ironsieve.model.DecryptionRule;
import ironsieve.model.Field;
import ironsieve.model.Lane;
import ironsieve.model.NamedSet;
import ironsieve.model.Notice;
import ironsieve.model.Rule;
import ironsieve.model.RuleMetadata;
import ironsieve.model.Rulebase;
import ironsieve.model.UsageSheet;
import ironsieve.text.OutcomeText;
import ironsieve.text.ValueText;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;

/** The core's nouns as documents; {@link DocumentReader} reads them back. */
public final class DocumentWriter {

  private DocumentWriter() {}

  /** All records of a rulebase. */
  public static Contents contents(String id, Rulebase rulebase) {
    Lane.Rates capacity = rulebase.parts().capacity();
    Contents contents =
        Contents.empty(
            new Contents.Title(
                id,
                rulebase.name(),
                rulebase.defaultVerdict().word(),
                capacity.equals(Lane.Rates.NONE) ? null : rates(capacity)));
    int number = 0;
    for (Chapter chapter : rulebase.chapters()) {
      BigDecimal place = BigDecimal.valueOf(contents.chapters().size() + 1L);
      contents.put(
          RecordKind.CHAPTER, new ChapterDoc(chapter.id(), place, chapter.title(), chapter.note()));
      for (Rule rule : chapter.rules()) {
        contents.put(RecordKind.RULE, rule(rule).at(chapter.id(), BigDecimal.valueOf(++number)));
      }
    }
    rulebase.sets().forEach(set -> contents.put(RecordKind.SET, set(set)));
    rulebase.parts().sheets().forEach(s -> contents.put(RecordKind.SHEET, sheet(s)));
    rulebase.parts().notices().forEach(n -> contents.put(RecordKind.NOTICE, notice(n)));
    rulebase.parts().lanes().forEach(l -> contents.put(RecordKind.LANE, lane(l)));
    for (DecryptionRule line : rulebase.parts().decryption()) {
      contents.put(
          RecordKind.DECRYPTION_RULE,
          decryption(line, BigDecimal.valueOf(contents.decryption().size() + 1L)));
    }
    return contents;
  }

  /** A rule, without its place. */
  public static RuleDoc rule(Rule rule) {
    return new RuleDoc(
        rule.id(),
        "",
        null,
        rule.name(),
        word(rule.state()),
        fields(rule.match()),
        word(rule.match().ports()),
        OutcomeText.print(rule.then().outcome()),
        rule.then().sheet().orElse(null),
        word(rule.then().logging()),
        rule.note(),
        metadata(rule.metadata()));
  }

  private static MetadataDoc metadata(RuleMetadata metadata) {
    MetadataDoc found =
        new MetadataDoc(
            emptyToNull(metadata.owner()),
            emptyToNull(metadata.changes()),
            metadata.reviewBy().map(LocalDate::toString).orElse(null));
    return found.equals(new MetadataDoc(null, null, null)) ? null : found;
  }

  private static String emptyToNull(String text) {
    return text.isEmpty() ? null : text;
  }

  /** How a document says one of a few. */
  static String word(Enum<?> constant) {
    return constant.name().toLowerCase(Locale.ROOT).replace('_', ' ');
  }

  /** The fields of a match by key. */
  public static Map<String, FieldDoc> fields(Rule.Match match) {
    Map<String, FieldDoc> fields = new TreeMap<>();
    match
        .fields()
        .forEach(
            (name, field) ->
                fields.put(
                    name.key(),
                    new FieldDoc(
                        field.sense() == Field.Sense.IS ? "is" : "is not",
                        field.values().stream().map(ValueText::print).toList())));
    return fields;
  }

  /** A named set as a document. */
  public static SetDoc set(NamedSet set) {
    List<String> values = set.values().stream().map(ValueText::print).toList();
    return new SetDoc(set.kind().word(), set.name(), values, set.note());
  }

  static SheetDoc sheet(UsageSheet sheet) {
    return new SheetDoc(
        sheet.name(),
        sheet.lines().stream()
            .map(
                line ->
                    new SheetLineDoc(
                        ValueText.print(line.about()), OutcomeText.print(line.outcome())))
            .toList(),
        OutcomeText.print(sheet.otherwise()),
        sheet.note());
  }

  static NoticeDoc notice(Notice notice) {
    return new NoticeDoc(notice.name(), notice.verdict().word(), notice.text());
  }

  static LaneDoc lane(Lane lane) {
    return new LaneDoc(
        lane.name(),
        word(lane.scope()),
        rates(lane.ceiling()),
        rates(lane.guarantee()),
        lane.clients(),
        lane.note());
  }

  static RatesDoc rates(Lane.Rates rates) {
    return new RatesDoc(rates.up(), rates.down());
  }

  /** A decryption rule; its position may be null for the end. */
  public static DecryptionRuleDoc decryption(DecryptionRule line, BigDecimal position) {
    return new DecryptionRuleDoc(
        line.id(), position, word(line.decision()), fields(line.match()), line.note());
  }
}
