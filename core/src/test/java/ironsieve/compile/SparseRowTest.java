package ironsieve.compile;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.BitSet;
import java.util.Random;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;

/** Rows say what plain bit sets say. */
class SparseRowTest {

  private static final int MOST = 9_000;

  @Property(tries = 200)
  void aRowHoldsItsBits(@ForAll long seed) {
    Random random = new Random(seed);
    int size = 1 + random.nextInt(MOST);
    int marks = SparseRow.marks(size);
    BitSet bits = bits(random, size);
    long[] row = row(bits, marks);
    assertThat(plain(row, marks)).isEqualTo(bits);
    for (int word = 0; word < marks << 6; word++) {
      assertThat(SparseRow.word(row, marks, word)).isEqualTo(word(bits, word));
    }
  }

  @Property(tries = 300)
  void someWordsOfARowAreOthers(@ForAll long seed) {
    Random random = new Random(seed);
    int size = 1 + random.nextInt(MOST);
    int marks = SparseRow.marks(size);
    BitSet before = bits(random, size);
    BitSet gone = bits(random, size);
    BitSet come = bits(random, size);
    BitSet all = (BitSet) gone.clone();
    all.or(come);
    int[] words = all.stream().map(bit -> bit >> 6).distinct().toArray();
    long[] kept = Arrays.stream(words).mapToLong(number -> ~word(gone, number)).toArray();
    long[] set = Arrays.stream(words).mapToLong(number -> word(come, number)).toArray();
    long[] row = row(before, marks);
    BitSet expected = (BitSet) before.clone();
    expected.andNot(gone);
    expected.or(come);
    assertThat(SparseRow.changed(row, marks, words, kept, set)).isEqualTo(row(expected, marks));
    assertThat(plain(row, marks)).isEqualTo(before);
  }

  private static BitSet bits(Random random, int size) {
    BitSet bits = new BitSet();
    int count = random.nextInt(60);
    for (int i = 0; i < count; i++) {
      int start = random.nextInt(size);
      bits.set(
          start, Math.min(size, start + 1 + (random.nextInt(4) == 0 ? random.nextInt(300) : 0)));
    }
    return bits;
  }

  private static long[] row(BitSet bits, int marks) {
    SparseRow.Making making = new SparseRow.Making(marks);
    for (int bit = bits.nextSetBit(0); bit >= 0; bit = bits.nextSetBit(bit + 1)) {
      making.or(bit >> 6, 1L << bit);
    }
    return making.row();
  }

  private static long word(BitSet bits, int word) {
    long[] words = bits.toLongArray();
    return word < words.length ? words[word] : 0;
  }

  private static BitSet plain(long[] row, int marks) {
    long[] words = new long[marks << 6];
    SparseRow.or(row, marks, words);
    return BitSet.valueOf(words);
  }
}
