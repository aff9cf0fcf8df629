package ironsieve.files;

import com.fasterxml.jackson.annotation.JsonAlias;
import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
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
import ironsieve.model.Parts;
import ironsieve.model.Rulebase;
import ironsieve.text.RulebaseFile;
import java.math.BigDecimal;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;

/**
 * A rulebase as JSON; the schema is {@code docs/rulebase.schema.json}. Values and outcomes are
 * texts as everywhere; order is the order of the arrays.
 */
public final class RulebaseJson {

  private static final int MOST_LETTERS = 200;

  private static final ObjectMapper JSON =
      new ObjectMapper()
          .enable(JsonParser.Feature.STRICT_DUPLICATE_DETECTION)
          .enable(SerializationFeature.INDENT_OUTPUT)
          .disable(DeserializationFeature.FAIL_ON_NULL_FOR_PRIMITIVES)
          .setDefaultPropertyInclusion(JsonInclude.Include.NON_NULL);

  private RulebaseJson() {}

  record FileDoc(
      String name,
      @JsonAlias("lastLine") String defaultVerdict,
      RatesDoc capacity,
      List<SetDoc> sets,
      List<NoticeDoc> notices,
      List<LaneDoc> lanes,
      List<SheetDoc> sheets,
      @JsonAlias("reading") List<LineDoc> decryption,
      List<ChapterFileDoc> chapters,
      Map<String, List<String>> comments) {}

  record LineDoc(String id, String decision, Map<String, FieldDoc> fields, String note) {}

  record ChapterFileDoc(String id, String title, String note, List<RuleFileDoc> rules) {}

  record RuleFileDoc(
      String id,
      String name,
      String state,
      Map<String, FieldDoc> fields,
      String ports,
      String verdict,
      String sheet,
      String logging,
      String note,
      @JsonAlias("kept") MetadataDoc metadata) {}

  /** A rulebase as JSON, indented, without comments. */
  public static String write(Rulebase rulebase) {
    return write(RulebaseFile.of(rulebase));
  }

  /** A rulebase as JSON, indented; comments stand by what they belong to at the end. */
  public static String write(RulebaseFile file) {
    Rulebase rulebase = file.rulebase();
    Contents contents = DocumentWriter.contents("", rulebase);
    Map<String, List<RuleDoc>> rules = contents.rulesInOrder();
    FileDoc doc =
        new FileDoc(
            rulebase.name(),
            contents.defaultVerdict(),
            contents.title().capacity(),
            rulebase.sets().stream().map(DocumentWriter::set).toList(),
            rulebase.parts().notices().stream().map(DocumentWriter::notice).toList(),
            rulebase.parts().lanes().stream().map(DocumentWriter::lane).toList(),
            rulebase.parts().sheets().stream().map(DocumentWriter::sheet).toList(),
            contents.decryptionInOrder().stream()
                .map(l -> new LineDoc(l.id(), l.decision(), l.fields(), l.note()))
                .toList(),
            contents.chaptersInOrder().stream()
                .map(
                    c ->
                        new ChapterFileDoc(
                            c.id(),
                            c.title(),
                            c.note(),
                            rules.get(c.id()).stream().map(RulebaseJson::rule).toList()))
                .toList(),
            file.comments().isEmpty() ? null : new TreeMap<>(file.comments()));
    try {
      return JSON.writeValueAsString(doc) + "\n";
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("documents always become JSON", e);
    }
  }

  private static RuleFileDoc rule(RuleDoc rule) {
    return new RuleFileDoc(
        rule.id(),
        rule.name(),
        rule.state(),
        rule.fields(),
        rule.ports(),
        rule.verdict(),
        rule.sheet(),
        rule.logging(),
        rule.note(),
        rule.metadata());
  }

  /**
   * Reads a rulebase.
   *
   * @throws FaultException saying what cannot be read, and where
   */
  public static Rulebase read(String text) {
    return file(text).rulebase();
  }

  /**
   * Reads a rulebase with its comments.
   *
   * @throws FaultException saying what cannot be read, and where
   */
  public static RulebaseFile file(String text) {
    FileDoc doc = JsonText.read(JSON, "json", text, FileDoc.class);
    Rulebase rulebase = rulebase(doc);
    Map<String, List<String>> comments = new HashMap<>();
    given(doc.comments())
        .forEach(
            (key, lines) -> {
              if (lines.stream().anyMatch(line -> !line.startsWith("#") || line.contains("\n"))) {
                throw new FaultException(
                    "comments", key, "a comment is one line that begins with #");
              }
              comments.put(key, List.copyOf(lines));
            });
    return new RulebaseFile(rulebase, comments);
  }

  private static Rulebase rulebase(FileDoc doc) {
    if (doc.name() == null) {
      throw new FaultException(
          "rulebase", "name", "a rulebase has at least a name, a defaultVerdict and chapters");
    }
    if (doc.defaultVerdict() == null) {
      throw new FaultException("rulebase", "defaultVerdict", "expected allow, deny or reject");
    }
    if (doc.chapters() == null) {
      throw new FaultException(
          "rulebase", "chapters", "expected a list of chapters; it may be empty");
    }
    named("rulebase", doc.name());
    once("set", given(doc.sets()), set -> set.kind() + " " + set.name());
    once("notice", given(doc.notices()), NoticeDoc::name);
    once("lane", given(doc.lanes()), LaneDoc::name);
    once("sheet", given(doc.sheets()), SheetDoc::name);
    once("decryption rule", given(doc.decryption()), LineDoc::id);
    once("chapter", given(doc.chapters()), ChapterFileDoc::id);
    given(doc.chapters()).forEach(chapter -> named("chapter " + chapter.id(), chapter.title()));
    Contents contents =
        Contents.empty(new Contents.Title("", doc.name(), doc.defaultVerdict(), doc.capacity()));
    given(doc.sets()).forEach(set -> contents.put(RecordKind.SET, set));
    given(doc.notices()).forEach(notice -> contents.put(RecordKind.NOTICE, notice));
    given(doc.lanes()).forEach(lane -> contents.put(RecordKind.LANE, lane));
    given(doc.sheets()).forEach(sheet -> contents.put(RecordKind.SHEET, sheet));
    for (LineDoc line : given(doc.decryption())) {
      BigDecimal place = BigDecimal.valueOf(contents.decryption().size());
      contents.put(
          RecordKind.DECRYPTION_RULE,
          new DecryptionRuleDoc(line.id(), place, line.decision(), line.fields(), line.note()));
    }
    for (ChapterFileDoc chapter : given(doc.chapters())) {
      BigDecimal place = BigDecimal.valueOf(contents.chapters().size());
      contents.put(
          RecordKind.CHAPTER, new ChapterDoc(chapter.id(), place, chapter.title(), chapter.note()));
      for (RuleFileDoc rule : given(chapter.rules())) {
        put(contents, chapter.id(), rule);
      }
    }
    Rulebase read = contents.rulebase();
    // Contents order shared parts by name; a file has them as it has them.
    Parts parts =
        new Parts(
            given(doc.sets()).stream().map(DocumentReader::set).toList(),
            given(doc.sheets()).stream().map(DocumentReader::sheet).toList(),
            given(doc.notices()).stream().map(DocumentReader::notice).toList(),
            given(doc.lanes()).stream().map(DocumentReader::lane).toList(),
            read.parts().decryption(),
            read.parts().capacity());
    return new Rulebase(read.name(), read.chapters(), parts, read.defaultVerdict());
  }

  private static <T> List<T> given(List<T> list) {
    return list == null ? List.of() : list;
  }

  private static <V> Map<String, V> given(Map<String, V> map) {
    return map == null ? Map.of() : map;
  }

  private static void named(String place, String name) {
    FaultException.demandName(place, "name", name, MOST_LETTERS);
  }

  private static <T> void once(String what, List<T> docs, Function<T, String> name) {
    Set<String> taken = new HashSet<>();
    for (T doc : docs) {
      if (doc == null) {
        throw new FaultException(what, "", "expected a " + what + ", not null");
      }
      if (!taken.add(name.apply(doc))) {
        throw new FaultException(
            what + " " + name.apply(doc), "", "there already is a " + what + " of that name");
      }
    }
  }

  private static void put(Contents contents, String chapter, RuleFileDoc rule) {
    if (rule.id() == null || contents.rules().containsKey(rule.id())) {
      throw new FaultException("rule " + rule.id(), "id", "every rule has an id of its own");
    }
    if (rule.name() != null && !rule.name().isEmpty()) {
      named("rule " + rule.id(), rule.name());
    }
    contents.put(
        RecordKind.RULE,
        new RuleDoc(
            rule.id(),
            chapter,
            BigDecimal.valueOf(contents.rules().size()),
            rule.name(),
            rule.state(),
            rule.fields() == null ? Map.of() : rule.fields(),
            rule.ports(),
            rule.verdict(),
            rule.sheet(),
            rule.logging(),
            rule.note(),
            rule.metadata()));
  }
}
