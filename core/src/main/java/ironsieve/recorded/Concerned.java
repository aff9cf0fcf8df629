package ironsieve.recorded;

import ironsieve.compile.CompiledEdit;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Dimension;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;

/** Which conversations an edit can concern: those that may lie in a claim it touched. */
final class Concerned {

  private static final int AT_ONCE = Long.SIZE;

  /** Of more boxes than this everything is decided anew. */
  private static final int MOST_BOXES = 32 * AT_ONCE;

  private Concerned() {}

  /** The boxes of the rules an edit touched, before and after; nothing if they are too many. */
  static Optional<List<Box>> boxes(CompiledEdit edit) {
    List<Box> all = new ArrayList<>();
    boolean isAll =
        add(edit.before(), edit.touchedBefore(), all)
            && add(edit.after(), edit.touchedAfter(), all);
    return isAll ? Optional.of(all) : Optional.empty();
  }

  private static boolean add(CompiledRulebase rulebase, IndexSet rules, List<Box> to) {
    for (int rule = rules.next(0); rule >= 0; rule = rules.next(rule + 1)) {
      to.addAll(rulebase.rules().get(rule).boxes());
      if (to.size() > MOST_BOXES) {
        return false;
      }
    }
    return true;
  }

  /** The conversations of a tape that may lie in one of some boxes at some time, ascending. */
  static int[] conversations(TapeColumns tape, Located located, List<Box> boxes, int[] counts) {
    Conversations all = tape.conversations();
    long[] words = new long[(all.count() + Long.SIZE - 1) / Long.SIZE];
    for (int begin = 0; begin < boxes.size(); begin += AT_ONCE) {
      List<Box> some = boxes.subList(begin, Math.min(boxes.size(), begin + AT_ONCE));
      long[][] masks = new long[Conversations.PARTS][];
      for (int d = 0; d < masks.length; d++) {
        masks[d] = masks(some, d, located.atoms(d), counts[d]);
      }
      IntStream.range(0, words.length)
          .parallel()
          .forEach(word -> words[word] |= word(all, masks, word));
    }
    int[] numbers = new int[Arrays.stream(words).mapToInt(Long::bitCount).sum()];
    int next = 0;
    for (int w = 0; w < words.length; w++) {
      for (long word = words[w]; word != 0; word &= word - 1) {
        numbers[next++] = w * Long.SIZE + Long.numberOfTrailingZeros(word);
      }
    }
    return numbers;
  }

  private static long word(Conversations all, long[][] masks, int word) {
    long hits = 0;
    int end = Math.min(all.count(), (word + 1) * Long.SIZE);
    // Places are always said, and they tell nearly all apart.
    int[] from = all.column(Dimension.FROM.ordinal());
    int[] to = all.column(Dimension.TO.ordinal());
    long[] ofFrom = masks[Dimension.FROM.ordinal()];
    long[] ofTo = masks[Dimension.TO.ordinal()];
    for (int c = word * Long.SIZE; c < end; c++) {
      long boxes = ofFrom[from[c]] & ofTo[to[c]];
      if (boxes == 0) {
        continue;
      }
      int unsaid = Deciding.ignored(all.unsaidBits(c));
      for (int d = 0; d < masks.length && boxes != 0; d++) {
        long mask = masks[d][all.column(d)[c]];
        // What is not said may lie anywhere; what there is not can lie nowhere.
        boxes &= (unsaid >> d & 1) == 0 ? mask : -1L;
      }
      hits |= boxes == 0 ? 0 : 1L << c;
    }
    return hits;
  }

  /** For each value of a part the boxes that hold its atom. */
  private static long[] masks(List<Box> boxes, int dimension, int[] atoms, int count) {
    long[] ofAtom = new long[count];
    for (int b = 0; b < boxes.size(); b++) {
      long bit = 1L << b;
      boxes.get(b).side(dimension).forEach(atom -> ofAtom[atom] |= bit);
    }
    long[] masks = new long[atoms.length];
    for (int i = 0; i < atoms.length; i++) {
      masks[i] = atoms[i] < 0 ? 0 : ofAtom[atoms[i]];
    }
    return masks;
  }
}
