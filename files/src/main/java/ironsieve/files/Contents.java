package ironsieve.files;

import com.fasterxml.jackson.annotation.JsonAlias;
import ironsieve.files.Documents.AcceptedDoc;
import ironsieve.files.Documents.ChapterDoc;
import ironsieve.files.Documents.DecryptionRuleDoc;
import ironsieve.files.Documents.LaneDoc;
import ironsieve.files.Documents.NoticeDoc;
import ironsieve.files.Documents.PromiseDoc;
import ironsieve.files.Documents.RatesDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.Documents.SheetDoc;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import java.math.BigDecimal;
import java.util.Collection;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * All records of one rulebase, by kind and id. Copied before it is changed; what an editor sees is
 * never half an edit. Records keep the order they came in, for what is nearly in order is sorted
 * quickly.
 *
 * @param title the rulebase itself
 * @param records by kind, then by id
 */
public record Contents(Title title, Map<RecordKind, Map<String, Object>> records) {

  /**
   * The rulebase itself.
   *
   * @param defaultVerdict the word of its default verdict
   * @param capacity what the link can carry; null if nobody said
   */
  public record Title(
      String id, String name, @JsonAlias("lastLine") String defaultVerdict, RatesDoc capacity) {

    /** The same with another verdict for what no rule matches. */
    public Title withDefaultVerdict(String verdict) {
      return new Title(id, name, verdict, capacity);
    }
  }

  private static final String ORPHANS = "without-chapter";

  /** A rulebase without records yet. */
  public static Contents empty(Title title) {
    Map<RecordKind, Map<String, Object>> records = new EnumMap<>(RecordKind.class);
    for (RecordKind kind : RecordKind.values()) {
      records.put(kind, new LinkedHashMap<>());
    }
    return new Contents(title, records);
  }

  /** Whether both say the same, record for record. */
  public boolean saysTheSame(Contents other) {
    return title.equals(other.title) && records.equals(other.records);
  }

  public String id() {
    return title.id();
  }

  public String name() {
    return title.name();
  }

  public String defaultVerdict() {
    return title.defaultVerdict();
  }

  /** Adds a record, or puts it in the place of the one with its id. */
  public void put(RecordKind kind, Object doc) {
    records.get(kind).put(kind.id(doc), doc);
  }

  @SuppressWarnings("unchecked") // put() takes care that a kind holds documents of its own type.
  private <T> Map<String, T> of(RecordKind kind) {
    return (Map<String, T>) (Map<String, ?>) records.get(kind);
  }

  public Map<String, ChapterDoc> chapters() {
    return of(RecordKind.CHAPTER);
  }

  public Map<String, RuleDoc> rules() {
    return of(RecordKind.RULE);
  }

  public Map<String, SetDoc> sets() {
    return of(RecordKind.SET);
  }

  public Map<String, SheetDoc> sheets() {
    return of(RecordKind.SHEET);
  }

  public Map<String, NoticeDoc> notices() {
    return of(RecordKind.NOTICE);
  }

  public Map<String, LaneDoc> lanes() {
    return of(RecordKind.LANE);
  }

  public Map<String, DecryptionRuleDoc> decryption() {
    return of(RecordKind.DECRYPTION_RULE);
  }

  public Map<String, PromiseDoc> promises() {
    return of(RecordKind.PROMISE);
  }

  public Map<String, AcceptedDoc> accepted() {
    return of(RecordKind.ACCEPTED);
  }

  /** A copy that can be changed without changing this. */
  public Contents copy() {
    Map<RecordKind, Map<String, Object>> copied = new EnumMap<>(RecordKind.class);
    records.forEach((kind, docs) -> copied.put(kind, new LinkedHashMap<>(docs)));
    return new Contents(title, copied);
  }

  /** The same with another default verdict or capacity. */
  public Contents with(Title newTitle) {
    return new Contents(newTitle, records);
  }

  /** Chapters in reading order. */
  public List<ChapterDoc> chaptersInOrder() {
    return chapters().values().stream()
        .sorted(Comparator.comparing(ChapterDoc::position).thenComparing(ChapterDoc::id))
        .toList();
  }

  /** The rules of each chapter in reading order. */
  public Map<String, List<RuleDoc>> rulesInOrder() {
    Map<String, List<RuleDoc>> byChapter = new LinkedHashMap<>();
    chaptersInOrder().forEach(chapter -> byChapter.put(chapter.id(), List.of()));
    byChapter.putAll(
        rules().values().stream()
            .sorted(Comparator.comparing(RuleDoc::position).thenComparing(RuleDoc::id))
            .collect(Collectors.groupingBy(RuleDoc::chapter)));
    return byChapter;
  }

  /** Sets by kind and name. */
  public Collection<SetDoc> setsInOrder() {
    return sets().values().stream()
        .sorted(Comparator.comparing(SetDoc::kind).thenComparing(SetDoc::name))
        .toList();
  }

  /** Promises by group and name. */
  public List<PromiseDoc> promisesInOrder() {
    return promises().values().stream()
        .sorted(Comparator.comparing(PromiseDoc::group).thenComparing(PromiseDoc::name))
        .toList();
  }

  /** Decryption rules in order. */
  public List<DecryptionRuleDoc> decryptionInOrder() {
    return decryption().values().stream()
        .sorted(
            Comparator.comparing(DecryptionRuleDoc::position).thenComparing(DecryptionRuleDoc::id))
        .toList();
  }

  private static <T> List<T> named(Map<String, T> docs) {
    return docs.entrySet().stream()
        .sorted(Map.Entry.comparingByKey())
        .map(Map.Entry::getValue)
        .toList();
  }

  /** Sheets by name. */
  public List<SheetDoc> sheetsInOrder() {
    return named(sheets());
  }

  /** Notices by name. */
  public List<NoticeDoc> noticesInOrder() {
    return named(notices());
  }

  /** Lanes by name. */
  public List<LaneDoc> lanesInOrder() {
    return named(lanes());
  }

  /** Puts rules whose chapter there is not into one that is made for them, so that none is lost. */
  public void adoptOrphans() {
    List<RuleDoc> orphans =
        rules().values().stream()
            .filter(rule -> rule.chapter() == null || !chapters().containsKey(rule.chapter()))
            .toList();
    if (!orphans.isEmpty()) {
      put(
          RecordKind.CHAPTER,
          new ChapterDoc(ORPHANS, BigDecimal.ZERO, "Rules whose chapter is gone", ""));
      orphans.forEach(rule -> put(RecordKind.RULE, rule.at(ORPHANS, rule.position())));
    }
  }

  /** The core's rulebase. */
  public Rulebase rulebase() {
    return rulebase(DocumentReader::rule);
  }

  /** The core's rulebase, with another way to read a rule; such as one that remembers. */
  public Rulebase rulebase(Function<RuleDoc, Rule> read) {
    Map<String, List<RuleDoc>> ordered = rulesInOrder();
    return new Rulebase(
        name(),
        chaptersInOrder().stream()
            .map(
                chapter -> {
                  List<Rule> inside = ordered.get(chapter.id()).stream().map(read).toList();
                  return DocumentReader.chapter(chapter, inside);
                })
            .toList(),
        new Parts(
            setsInOrder().stream().map(DocumentReader::set).toList(),
            sheetsInOrder().stream().map(DocumentReader::sheet).toList(),
            noticesInOrder().stream().map(DocumentReader::notice).toList(),
            lanesInOrder().stream().map(DocumentReader::lane).toList(),
            decryptionInOrder().stream().map(DocumentReader::decryption).toList(),
            DocumentReader.rates(title.capacity())),
        DocumentReader.verdict("rulebase " + id(), defaultVerdict()));
  }
}
