package ironsieve.server.api;

import ironsieve.files.Contents;
import ironsieve.files.DocumentWriter;
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
import ironsieve.model.Chapter;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.edit.RulebaseStep;
import ironsieve.server.store.JournalEntry;
import ironsieve.text.Sentence;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** What the API shows of a rulebase: its rules, sets, other parts and journal. */
public final class Views {

  private Views() {}

  /** A rulebase in a list. */
  @Schema(requiredProperties = {"id", "name", "standing", "revision", "state", "rules"})
  public record HeadView(
      String id, String name, String standing, long revision, String state, int rules) {}

  /**
   * A whole rulebase at one revision; {@code undo} and {@code redo} say what the asking editor can
   * take back, {@code faults} what cannot be read and takes no part until it is repaired.
   */
  @Schema(
      requiredProperties = {
        "id",
        "name",
        "revision",
        "state",
        "defaultVerdict",
        "chapters",
        "sets",
        "parts",
        "faults"
      })
  public record RulebaseView(
      String id,
      String name,
      long revision,
      String state,
      String defaultVerdict,
      List<ChapterView> chapters,
      List<SetView> sets,
      PartsView parts,
      List<FaultView> faults,
      String undo,
      String redo) {}

  /** What cannot be read: what it belongs to, such as {@code rule r17}, its field, and why. */
  @Schema(requiredProperties = {"place", "field", "message"})
  public record FaultView(String place, String field, String message) {

    static List<FaultView> of(RulebaseSnapshot snapshot) {
      return snapshot.faults().stream()
          .map(fault -> new FaultView(fault.place(), fault.field(), fault.message()))
          .toList();
    }
  }

  /** What rules share besides sets; {@code capacity} is null if nobody said. */
  @Schema(requiredProperties = {"sheets", "notices", "lanes", "decryption"})
  public record PartsView(
      List<SheetDoc> sheets,
      List<NoticeDoc> notices,
      List<LaneDoc> lanes,
      List<DecryptionRuleDoc> decryption,
      RatesDoc capacity) {}

  /** A chapter with its rules. */
  @Schema(requiredProperties = {"id", "title", "note", "rules"})
  public record ChapterView(String id, String title, String note, List<RuleView> rules) {}

  /** A rule; {@code number} counts from the top, {@code sentence} is its claim in words. */
  @Schema(
      requiredProperties = {
        "id",
        "number",
        "name",
        "state",
        "fields",
        "ports",
        "verdict",
        "outcome",
        "logging",
        "note",
        "sentence"
      })
  public record RuleView(
      String id,
      int number,
      String name,
      String state,
      Map<String, FieldView> fields,
      String ports,
      String verdict,
      String outcome,
      String sheet,
      String logging,
      String note,
      MetadataDoc metadata,
      String sentence) {}

  /** One field of a rule. */
  @Schema(requiredProperties = {"sense", "values"})
  public record FieldView(String sense, List<String> values) {}

  /** A named set and where it is used. */
  @Schema(requiredProperties = {"kind", "name", "values", "note", "usedBy"})
  public record SetView(
      String kind, String name, List<String> values, String note, List<String> usedBy) {}

  /** One revision. */
  @Schema(requiredProperties = {"revision", "at", "who", "reason", "what", "action", "touched"})
  public record JournalView(
      long revision,
      Instant at,
      String who,
      String reason,
      String what,
      String action,
      List<String> touched) {}

  /**
   * What an edit led to: only what it changed. {@code rules} are those added or changed (their
   * numbers are given, but all below may have moved too), {@code removed} the ids of those that are
   * gone; {@code order} has all chapters if a rule or chapter came, went, moved or was named
   * otherwise, and {@code sets} and {@code parts} are there if they changed.
   */
  @Schema(
      requiredProperties = {
        "revision",
        "state",
        "since",
        "defaultVerdict",
        "rules",
        "removed",
        "faults",
        "entry"
      })
  public record EditedView(
      long revision,
      String state,
      long since,
      String defaultVerdict,
      List<RuleView> rules,
      List<String> removed,
      List<ChapterOrderView> order,
      List<SetView> sets,
      PartsView parts,
      List<FaultView> faults,
      String undo,
      String redo,
      JournalView entry) {}

  /**
   * A chapter and its rules: so many from its beginning as they were, then these, by id, then so
   * many from its end as they were.
   */
  @Schema(requiredProperties = {"id", "title", "note", "first", "rules", "last"})
  public record ChapterOrderView(
      String id, String title, String note, int first, List<String> rules, int last) {}

  static String word(Enum<?> constant) {
    return constant.name().toLowerCase(Locale.ROOT).replace('_', ' ');
  }

  static RulebaseView rulebase(RulebaseSnapshot snapshot, Editor.Possible possible) {
    Contents contents = snapshot.contents();
    Map<String, List<RuleDoc>> ordered = contents.rulesInOrder();
    Map<String, Rule> rules = new HashMap<>();
    for (Chapter chapter : snapshot.compiled().rulebase().chapters()) {
      chapter.rules().forEach(rule -> rules.put(rule.id(), rule));
    }
    List<ChapterView> chapters = new ArrayList<>();
    int number = 0;
    for (ChapterDoc chapter : contents.chaptersInOrder()) {
      List<RuleView> inside = new ArrayList<>();
      for (RuleDoc doc : ordered.getOrDefault(chapter.id(), List.of())) {
        number++;
        inside.add(rule(doc, number, rules.get(doc.id())));
      }
      chapters.add(new ChapterView(chapter.id(), chapter.title(), chapter.note(), inside));
    }
    return new RulebaseView(
        contents.id(),
        contents.name(),
        snapshot.revision(),
        snapshot.state().token(),
        contents.defaultVerdict(),
        chapters,
        sets(contents),
        parts(contents),
        FaultView.of(snapshot),
        possible.undo().orElse(null),
        possible.redo().orElse(null));
  }

  static PartsView parts(Contents contents) {
    return new PartsView(
        contents.sheetsInOrder(),
        contents.noticesInOrder(),
        contents.lanesInOrder(),
        contents.decryptionInOrder(),
        contents.title().capacity());
  }

  static RuleView rule(RuleDoc doc, int number, Rule rule) {
    Map<String, FieldView> fields = new HashMap<>();
    doc.fields().forEach((key, field) -> fields.put(key, field(field)));
    return new RuleView(
        doc.id(),
        number,
        or(doc.name(), ""),
        or(doc.state(), "on"),
        fields,
        or(doc.ports(), "any"),
        rule.then().verdict().word(),
        or(doc.verdict(), "deny"),
        doc.sheet() == null || doc.sheet().isEmpty() ? null : doc.sheet(),
        or(doc.logging(), "logged"),
        or(doc.note(), ""),
        doc.metadata(),
        Sentence.of(rule));
  }

  private static String or(String text, String otherwise) {
    return text == null ? otherwise : text;
  }

  private static FieldView field(FieldDoc doc) {
    return new FieldView(doc.sense() == null ? "is" : doc.sense(), doc.values());
  }

  static List<SetView> sets(Contents contents) {
    Map<String, List<String>> uses = new HashMap<>();
    for (SetDoc set : contents.setsInOrder()) {
      set.values().forEach(value -> use(uses, set.kind(), value, "set " + set.name()));
    }
    for (RuleDoc rule : contents.rules().values()) {
      rule.fields()
          .forEach(
              (key, field) -> {
                Arrays.stream(FieldName.values())
                    .filter(name -> name.key().equals(key) && field.values() != null)
                    .forEach(
                        name ->
                            field
                                .values()
                                .forEach(value -> use(uses, name.kind().word(), value, rule.id())));
              });
    }
    return contents.setsInOrder().stream()
        .map(
            set ->
                new SetView(
                    set.kind(),
                    set.name(),
                    set.values(),
                    set.note(),
                    uses.getOrDefault(set.id(), List.of())))
        .toList();
  }

  private static void use(Map<String, List<String>> uses, String kind, String value, String user) {
    if (value.startsWith("set ")) {
      uses.computeIfAbsent(kind + ":" + value.substring(4), id -> new ArrayList<>()).add(user);
    }
  }

  static JournalView journal(JournalEntry entry) {
    return new JournalView(
        entry.revision(),
        entry.at(),
        entry.who(),
        entry.reason(),
        entry.what(),
        entry.action(),
        entry.changes().stream().map(change -> change.kind() + ":" + change.id()).toList());
  }

  static RulebaseStep.RulePatch patch(Rule rule) {
    return patch(DocumentWriter.rule(rule));
  }

  private static RulebaseStep.RulePatch patch(RuleDoc doc) {
    return new RulebaseStep.RulePatch(
        Optional.of(doc.name()),
        Optional.of(doc.state()),
        doc.fields(),
        Optional.of(doc.ports()),
        Optional.of(doc.verdict()),
        Optional.of(doc.sheet() == null ? "" : doc.sheet()),
        Optional.of(doc.logging()),
        Optional.of(doc.note()),
        Optional.ofNullable(doc.metadata()));
  }

  /**
   * What a rule that came as text says; it is on, and its note says where it is from.
   *
   * @param comments that stood before it
   */
  static RulebaseStep.RulePatch pasted(Rule rule, List<String> comments) {
    RuleDoc doc = DocumentWriter.rule(rule);
    String from =
        comments.stream()
            .map(line -> line.replaceFirst("^#+\\s*", ""))
            .collect(Collectors.joining("; "));
    String note = "Pasted: " + (from.isEmpty() ? "rule " + rule.id() : from) + ". " + doc.note();
    return patch(doc.turnedOn(note.strip()));
  }
}
