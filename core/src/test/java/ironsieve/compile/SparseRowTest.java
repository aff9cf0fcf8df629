package ironsieve.compile;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;

/** Rows say what plain bit sets say, and go where each of their bits goes. */
class SparseRowTest {

  private static final int MOST = 9_000;

  @Property(tries = 200)
  void aRowHoldsItsBits(@ForAll long seed) {
    Random random = new Random(seed);
    int size = 1 + random.nextInt(MOST);
    int marks = SparseRow.marks(size);
    BitSet bits = bits(random, size);
    BitSet others = bits(random, size);
    long[] row = row(bits, marks);
    assertThat(plain(row, marks)).isEqualTo(bits);
    for (int word = 0; word < marks << 6; word++) {
      assertThat(SparseRow.word(row, marks, word)).isEqualTo(word(bits, word));
    }
    BitSet both = (BitSet) bits.clone();
    both.or(others);
    assertThat(plain(SparseRow.union(row, row(others, marks), marks), marks)).isEqualTo(both);
    int from = random.nextInt(marks << 6);
    int to = from + random.nextInt((marks << 6) - from + 1);
    assertThat(SparseRow.isClear(row, marks, from, to))
        .isEqualTo(bits.get(from << 6, to << 6).isEmpty());
  }

  @Property(tries = 300)
  void bitsGoWhereTheirBoxesGo(@ForAll long seed) {
    Random random = new Random(seed);
    int before = 1 + random.nextInt(MOST);
    int[] origins = origins(random, before);
    Rearrangement rearrangement = new Rearrangement(origins, before);
    int marks = SparseRow.marks(origins.length);
    SparseRow.Making making = new SparseRow.Making(marks);
    for (int round = 0; round < 3; round++) {
      BitSet old = bits(random, before);
      BitSet expected = new BitSet();
      for (int box = 0; box < origins.length; box++) {
        expected.set(box, origins[box] >= 0 && old.get(origins[box]));
      }
      long[] row = rearrangement.of(row(old, SparseRow.marks(before)), making);
      assertThat(plain(row, marks)).isEqualTo(expected);
    }
  }

  /** Blocks moved, taken out and put in; often none but one, as people edit. */
  private static int[] origins(Random random, int before) {
    List<int[]> blocks = new ArrayList<>();
    int edits = random.nextInt(5);
    List<Integer> cuts = new ArrayList<>(List.of(0, before));
    for (int i = 0; i < 2 * edits; i++) {
      cuts.add(random.nextInt(before + 1));
    }
    Collections.sort(cuts);
    for (int i = 1; i < cuts.size(); i++) {
      blocks.add(new int[] {cuts.get(i - 1), cuts.get(i)});
    }
    for (int i = 0; i < edits; i++) {
      switch (random.nextInt(3)) {
        case 0 ->
            Collections.swap(blocks, random.nextInt(blocks.size()), random.nextInt(blocks.size()));
        case 1 -> blocks.remove(random.nextInt(blocks.size()));
        default ->
            blocks.add(random.nextInt(blocks.size() + 1), new int[] {-1, random.nextInt(300)});
      }
      if (blocks.isEmpty()) {
        blocks.add(new int[] {-1, 1});
      }
    }
    List<Integer> origins = new ArrayList<>();
    for (int[] block : blocks) {
      for (int i = block[0] < 0 ? 0 : block[0]; i < block[1]; i++) {
        origins.add(block[0] < 0 ? -1 : i);
      }
    }
    return origins.stream().mapToInt(Integer::intValue).toArray();
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
