package ironsieve.traffic.view;

import ironsieve.compile.Dimension;
import ironsieve.model.Tape.Unsaid;
import ironsieve.recorded.Conversations;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/**
 * What the conversations of one tape are called in one view: each value of a part of them has one
 * label or, where it is somebody in several groups, several.
 */
final class Labels {

  private final Conversations conversations;
  private final int[] column;
  private final int[][] ofValue;
  private final List<String> texts;
  private final int unsaidBit;
  private final boolean onlyWhereNone;
  private final int notSaid;
  private final int none;

  /**
   * Labels.
   *
   * @param part which part of conversations they are of
   * @param labels those of one value
   * @param unsaid what may not be said of it; nothing where that is no question
   * @param onlyWhereNone whether what is said all the same goes before
   */
  <T> Labels(
      Conversations conversations,
      Dimension part,
      List<T> values,
      Function<T, List<String>> labels,
      Optional<Unsaid> unsaid,
      boolean onlyWhereNone) {
    this.conversations = conversations;
    column = conversations.column(part.ordinal());
    this.onlyWhereNone = onlyWhereNone;
    unsaidBit = unsaid.map(one -> 1 << one.ordinal()).orElse(0);
    Map<String, Integer> numbers = new HashMap<>();
    texts = new ArrayList<>();
    ofValue = new int[values.size()][];
    for (int i = 0; i < ofValue.length; i++) {
      List<String> of = labels.apply(values.get(i));
      ofValue[i] = new int[of.size()];
      for (int l = 0; l < ofValue[i].length; l++) {
        ofValue[i][l] = number(of.get(l), numbers);
      }
    }
    notSaid = unsaidBit == 0 ? -1 : number(Recognition.NOT_SAID, numbers);
    none = numbers.getOrDefault(LabelMaker.NONE, -1);
  }

  private int number(String label, Map<String, Integer> numbers) {
    Integer known = numbers.get(label);
    if (known == null) {
      known = texts.size();
      numbers.put(label, known);
      texts.add(label);
    }
    return known;
  }

  /** How many keys there are: one for each value, and one for what is not said. */
  int keys() {
    return ofValue.length + 1;
  }

  /** The key of a conversation. */
  int key(int conversation) {
    int value = column[conversation];
    boolean isUnsaid =
        unsaidBit != 0
            && (conversations.unsaidBits(conversation) & unsaidBit) != 0
            && (!onlyWhereNone || ofValue[value][0] == none);
    return isUnsaid ? ofValue.length : value;
  }

  /** Adds up by key what there is by conversation: times, bytes up and bytes down. */
  long[][] sums(long[][] byConversation) {
    long[][] sums = new long[byConversation.length][keys()];
    long[] times = byConversation[0];
    for (int c = 0; c < times.length; c++) {
      if (times[c] != 0) {
        int key = unsaidBit == 0 ? column[c] : key(c);
        for (int s = 0; s < sums.length; s++) {
          sums[s][key] += byConversation[s][c];
        }
      }
    }
    return sums;
  }

  /** The texts of the labels of a key. */
  List<String> texts(int key) {
    if (key == ofValue.length) {
      return notSaid < 0 ? List.of() : List.of(Recognition.NOT_SAID);
    }
    List<String> all = new ArrayList<>(ofValue[key].length);
    for (int label : ofValue[key]) {
      all.add(texts.get(label));
    }
    return all;
  }
}
