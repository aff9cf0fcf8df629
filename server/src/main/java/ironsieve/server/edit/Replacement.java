package ironsieve.server.edit;

import ironsieve.files.Contents;
import ironsieve.files.DocumentWriter;
import ironsieve.files.Documents.ChapterDoc;
import ironsieve.files.Documents.DecryptionRuleDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.RecordKind;
import ironsieve.model.Chapter;
import ironsieve.model.Rulebase;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a rulebase becomes when a text is put in its place: what the text says, with the promises
 * and accepted findings there were. Rules, chapters and decryption rules that stand in their old
 * order keep their places, so that what is not changed is not told as changed.
 */
final class Replacement {

  private Replacement() {}

  static Contents of(Contents before, Rulebase says) {
    Contents after =
        DocumentWriter.contents(
            before.id(),
            new Rulebase(before.name(), says.chapters(), says.parts(), says.defaultVerdict()));
    for (RecordKind kind : List.of(RecordKind.PROMISE, RecordKind.ACCEPTED)) {
      before.records().get(kind).values().forEach(record -> after.put(kind, record));
    }
    chapters(before, after, says);
    for (Chapter chapter : says.chapters()) {
      rules(before, after, chapter);
    }
    decryption(before, after, says);
    return after;
  }

  private static void chapters(Contents before, Contents after, Rulebase says) {
    Map<String, BigDecimal> known = new HashMap<>();
    before.chapters().forEach((id, chapter) -> known.put(id, chapter.position()));
    places(says.chapters().stream().map(Chapter::id).toList(), known)
        .forEach(
            (id, place) -> {
              ChapterDoc doc = after.chapters().get(id);
              after.put(RecordKind.CHAPTER, new ChapterDoc(id, place, doc.title(), doc.note()));
            });
  }

  private static void rules(Contents before, Contents after, Chapter chapter) {
    Map<String, BigDecimal> known = new HashMap<>();
    before
        .rules()
        .forEach(
            (id, rule) -> {
              if (chapter.id().equals(rule.chapter())) {
                known.put(id, rule.position());
              }
            });
    places(chapter.rules().stream().map(rule -> rule.id()).toList(), known)
        .forEach(
            (id, place) -> {
              RuleDoc doc = after.rules().get(id);
              after.put(RecordKind.RULE, doc.at(chapter.id(), place));
            });
  }

  private static void decryption(Contents before, Contents after, Rulebase says) {
    Map<String, BigDecimal> known = new HashMap<>();
    before.decryption().forEach((id, line) -> known.put(id, line.position()));
    places(says.parts().decryption().stream().map(line -> line.id()).toList(), known)
        .forEach(
            (id, place) -> {
              DecryptionRuleDoc doc = after.decryption().get(id);
              after.put(
                  RecordKind.DECRYPTION_RULE,
                  new DecryptionRuleDoc(id, place, doc.decision(), doc.fields(), doc.note()));
            });
  }

  /** A place for each, rising in their order; as many as can keep theirs. */
  static Map<String, BigDecimal> places(List<String> order, Map<String, BigDecimal> known) {
    boolean[] kept = rising(order.stream().map(known::get).toList());
    Map<String, BigDecimal> places = new HashMap<>();
    Optional<BigDecimal> below = Optional.empty();
    List<String> open = new ArrayList<>();
    for (int i = 0; i < order.size(); i++) {
      if (kept[i]) {
        BigDecimal own = known.get(order.get(i));
        fill(open, below, Optional.of(own), places);
        places.put(order.get(i), own);
        below = Optional.of(own);
      } else {
        open.add(order.get(i));
      }
    }
    fill(open, below, Optional.empty(), places);
    return places;
  }

  private static void fill(
      List<String> open,
      Optional<BigDecimal> below,
      Optional<BigDecimal> above,
      Map<String, BigDecimal> places) {
    if (!open.isEmpty()) {
      List<BigDecimal> numbers = Positions.between(below, above, open.size());
      for (int i = 0; i < open.size(); i++) {
        places.put(open.get(i), numbers.get(i));
      }
      open.clear();
    }
  }

  /** Which of some numbers are of a longest rising row among them; O(n log n). */
  private static boolean[] rising(List<BigDecimal> numbers) {
    int[] last = new int[numbers.size() + 1];
    int[] before = new int[numbers.size()];
    int length = 0;
    for (int i = 0; i < numbers.size(); i++) {
      BigDecimal number = numbers.get(i);
      if (number == null) {
        continue;
      }
      int low = 1;
      int high = length;
      while (low <= high) {
        int middle = (low + high) >>> 1;
        if (numbers.get(last[middle]).compareTo(number) < 0) {
          low = middle + 1;
        } else {
          high = middle - 1;
        }
      }
      before[i] = low > 1 ? last[low - 1] : -1;
      last[low] = i;
      length = Math.max(length, low);
    }
    boolean[] kept = new boolean[numbers.size()];
    for (int i = length > 0 ? last[length] : -1; i >= 0; i = before[i]) {
      kept[i] = true;
    }
    return kept;
  }
}
