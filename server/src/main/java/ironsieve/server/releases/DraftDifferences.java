package ironsieve.server.releases;

import ironsieve.files.Contents;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.RecordKind;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * How a draft differs from a release.
 *
 * @param marks what became of the draft's rules that are not as released, by their ids
 * @param gone the released rules that the draft has no more, in reading order
 * @param others what else differs, each in a few words such as {@code 2 usage sheets}
 */
public record DraftDifferences(Map<String, Mark> marks, List<RuleDoc> gone, List<String> others) {

  /** What became of a rule; one that changed and moved has changed. */
  public enum Mark {
    NEW,
    CHANGED,
    MOVED
  }

  /** What is decided by, beside the rules. */
  private static final Map<RecordKind, String> KINDS =
      Map.of(
          RecordKind.SET, "set",
          RecordKind.SHEET, "usage sheet",
          RecordKind.NOTICE, "notice",
          RecordKind.LANE, "lane",
          RecordKind.DECRYPTION_RULE, "decryption rule");

  public DraftDifferences {
    marks = Map.copyOf(marks);
    gone = List.copyOf(gone);
    others = List.copyOf(others);
  }

  /** How many there are of all kinds. */
  public int count() {
    return marks.size() + gone.size() + others.size();
  }

  /**
   * Compares what is released with a draft.
   *
   * @param was the digests of the surroundings that are released, by file
   * @param is the same of those of now
   */
  static DraftDifferences of(
      Contents released, Contents draft, Map<String, String> was, Map<String, String> is) {
    List<RuleDoc> before = inOrder(released);
    List<RuleDoc> after = inOrder(draft);
    Map<String, Integer> places = new HashMap<>();
    before.forEach(rule -> places.put(rule.id(), places.size()));
    int[] olds = after.stream().mapToInt(rule -> places.getOrDefault(rule.id(), -1)).toArray();
    BitSet stayed = longestRising(olds);
    Map<String, Mark> marks = new HashMap<>();
    for (int at = 0; at < olds.length; at++) {
      RuleDoc rule = after.get(at);
      if (olds[at] < 0) {
        marks.put(rule.id(), Mark.NEW);
      } else if (!before.get(olds[at]).at(rule.chapter(), rule.position()).equals(rule)) {
        marks.put(rule.id(), Mark.CHANGED);
      } else if (!stayed.get(at)) {
        marks.put(rule.id(), Mark.MOVED);
      }
    }
    return new DraftDifferences(
        marks,
        before.stream().filter(rule -> !draft.rules().containsKey(rule.id())).toList(),
        others(released, draft, was, is));
  }

  private static List<RuleDoc> inOrder(Contents contents) {
    return contents.rulesInOrder().values().stream().flatMap(List::stream).toList();
  }

  /** The places of as many as possible that rise; those below 0 belong to none. */
  private static BitSet longestRising(int[] numbers) {
    int[] ends = new int[numbers.length];
    int[] heads = new int[numbers.length];
    int[] before = new int[numbers.length];
    int length = 0;
    for (int at = 0; at < numbers.length; at++) {
      if (numbers[at] < 0) {
        continue;
      }
      int found = -1 - Arrays.binarySearch(heads, 0, length, numbers[at]);
      before[at] = found == 0 ? -1 : ends[found - 1];
      ends[found] = at;
      heads[found] = numbers[at];
      length = Math.max(length, found + 1);
    }
    BitSet rising = new BitSet();
    for (int at = length == 0 ? -1 : ends[length - 1]; at >= 0; at = before[at]) {
      rising.set(at);
    }
    return rising;
  }

  private static List<String> others(
      Contents released, Contents draft, Map<String, String> was, Map<String, String> is) {
    List<String> others = new ArrayList<>();
    if (!released.defaultVerdict().equals(draft.defaultVerdict())) {
      others.add("the default verdict");
    }
    if (!Objects.equals(released.title().capacity(), draft.title().capacity())) {
      others.add("the capacity of the link");
    }
    for (RecordKind kind : RecordKind.values()) {
      if (KINDS.containsKey(kind)) {
        int differing = differing(released.records().get(kind), draft.records().get(kind)).size();
        if (differing > 0) {
          others.add(differing + " " + KINDS.get(kind) + (differing == 1 ? "" : "s"));
        }
      }
    }
    Collection<String> words = new TreeSet<>();
    differing(was, is).forEach(path -> words.add(word(path)));
    others.addAll(words);
    return others;
  }

  private static Collection<String> differing(Map<String, ?> one, Map<String, ?> other) {
    Map<String, Object> differing = new TreeMap<>(one);
    other.forEach(
        (id, doc) -> {
          if (!differing.remove(id, doc)) {
            differing.put(id, doc);
          }
        });
    return differing.keySet();
  }

  /** What a file of the surroundings is about. */
  private static String word(String path) {
    if (path.startsWith("directory/")) {
      return "the directory";
    }
    if (path.startsWith("catalogue/")) {
      return "the catalogue";
    }
    if (path.startsWith("atlas/")) {
      return "lists and places";
    }
    return path.equals("sets.csv") ? "shared sets" : "zones and the edition in use";
  }
}
