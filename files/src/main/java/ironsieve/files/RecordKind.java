package ironsieve.files;

import ironsieve.files.Documents.AcceptedDoc;
import ironsieve.files.Documents.ChapterDoc;
import ironsieve.files.Documents.LaneDoc;
import ironsieve.files.Documents.NoticeDoc;
import ironsieve.files.Documents.PromiseDoc;
import ironsieve.files.Documents.ReadingDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.Documents.SheetDoc;
import java.util.Arrays;
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
  READING("reading", ReadingDoc.class, doc -> ((ReadingDoc) doc).id()),
  PROMISE("promise", PromiseDoc.class, doc -> ((PromiseDoc) doc).id()),
  ACCEPTED("accepted", AcceptedDoc.class, doc -> ((AcceptedDoc) doc).id());

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

  /** The kind with this word, if there is one. */
  public static Optional<RecordKind> ofWord(String word) {
    return Arrays.stream(values()).filter(kind -> kind.word.equals(word)).findFirst();
  }
}
