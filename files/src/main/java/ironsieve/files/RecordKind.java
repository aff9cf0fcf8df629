package ironsieve.files;

import ironsieve.files.Documents.AcceptedDoc;
import ironsieve.files.Documents.ChapterDoc;
import ironsieve.files.Documents.DecryptionRuleDoc;
import ironsieve.files.Documents.LaneDoc;
import ironsieve.files.Documents.NoticeDoc;
import ironsieve.files.Documents.PromiseDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.Documents.SheetDoc;
import java.math.BigDecimal;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/** The kinds of record a rulebase is made of. */
public enum RecordKind {
  CHAPTER("chapter", ChapterDoc.class, doc -> ((ChapterDoc) doc).id()),
  RULE("rule", RuleDoc.class, doc -> ((RuleDoc) doc).id()),
  SET("set", SetDoc.class, doc -> ((SetDoc) doc).id()),
  SHEET("sheet", SheetDoc.class, doc -> ((SheetDoc) doc).name()),
  NOTICE("notice", NoticeDoc.class, doc -> ((NoticeDoc) doc).name()),
  LANE("lane", LaneDoc.class, doc -> ((LaneDoc) doc).name()),
  DECRYPTION_RULE(
      "decryption rule", DecryptionRuleDoc.class, doc -> ((DecryptionRuleDoc) doc).id()),
  PROMISE("promise", PromiseDoc.class, doc -> ((PromiseDoc) doc).id()),
  ACCEPTED("accepted", AcceptedDoc.class, doc -> ((AcceptedDoc) doc).id());

  private static final String UNREADABLE = "unreadable";

  private final String word;
  private final Class<?> type;
  private final Function<Object, String> id;

  RecordKind(String word, Class<?> type, Function<Object, String> id) {
    this.word = word;
    this.type = type;
    this.id = id;
  }

  /** The word in the journal. */
  public String word() {
    return word;
  }

  /** The class of its documents. */
  public Class<?> type() {
    return type;
  }

  /** What identifies a document among those of its kind. */
  public String id(Object doc) {
    return id.apply(doc);
  }

  /**
   * What stands in for a record that cannot be read: it has its id, says what stood there in its
   * note, and cannot be read as a noun either, so that it is told and can be repaired or removed.
   *
   * @param text what stands in the database
   */
  public Object unreadable(String id, String text) {
    String note = "Cannot be read: " + text.substring(0, Math.min(500, text.length()));
    return switch (this) {
      case CHAPTER -> new ChapterDoc(id, BigDecimal.ZERO, "Chapter " + id, note);
      case RULE ->
          new RuleDoc(
              id,
              "",
              BigDecimal.ZERO,
              "",
              "on",
              Map.of(),
              "any",
              UNREADABLE,
              null,
              "logged",
              note,
              null);
      case SET ->
          new SetDoc(
              id.replaceFirst(":.*", ""), id.replaceFirst("[^:]*:", ""), List.of(UNREADABLE), note);
      case SHEET -> new SheetDoc(id, List.of(), UNREADABLE, note);
      case NOTICE -> new NoticeDoc(id, UNREADABLE, note);
      case LANE -> new LaneDoc(id, UNREADABLE, null, null, 0, note);
      case DECRYPTION_RULE ->
          new DecryptionRuleDoc(id, BigDecimal.ZERO, UNREADABLE, Map.of(), note);
      case PROMISE -> new PromiseDoc(id, "", id, UNREADABLE, "deny", null);
      case ACCEPTED ->
          new AcceptedDoc(
              id.replaceFirst(":.*", ""), id.replaceFirst("[^:]*:", ""), UNREADABLE, note, "");
    };
  }

  /** The kind with this word, if there is one. */
  public static Optional<RecordKind> ofWord(String word) {
    // "reading" is what older journals say.
    String now = word.equals("reading") ? DECRYPTION_RULE.word : word;
    return Arrays.stream(values()).filter(kind -> kind.word.equals(now)).findFirst();
  }
}
