package ironsieve.compile;

import java.util.Arrays;

/**
 * A row of bits of which only the words that are not 0 are kept: most addresses are named by a few
 * rules out of thousands. A row is a plain array, so that it lies in one place: first marks, a bit
 * for each word that is kept, then those words in order. All functions take the same number of
 * marks, {@link #marks(int)} of the number of boxes. No row is ever changed.
 */
final class SparseRow {

  private SparseRow() {}

  /** How many words of marks a row has in which so many bits can be set. */
  static int marks(int bits) {
    return (bits + 4095) >> 12;
  }

  /** A word of a row. */
  static long word(long[] row, int marks, int number) {
    long mark = row[number >> 6];
    if ((mark & (1L << number)) == 0) {
      return 0;
    }
    int before = marks + Long.bitCount(mark & ((1L << number) - 1));
    for (int m = 0; m < number >> 6; m++) {
      before += Long.bitCount(row[m]);
    }
    return row[before];
  }

  /** Sets all bits of a row in plain words. */
  static void or(long[] row, int marks, long[] into) {
    int next = marks;
    for (int m = 0; m < marks; m++) {
      for (long mark = row[m]; mark != 0; mark &= mark - 1) {
        into[(m << 6) + Long.numberOfTrailingZeros(mark)] |= row[next++];
      }
    }
  }

  /**
   * A row of which some words are others.
   *
   * @param numbers of these words, ascending
   * @param kept for each of them the bits that stay as they are
   * @param set for each of them the bits that are set then
   */
  static long[] changed(long[] row, int marks, int[] numbers, long[] kept, long[] set) {
    Making making = new Making(marks);
    int next = marks;
    int i = 0;
    for (int m = 0; m < marks; m++) {
      for (long mark = row[m]; mark != 0; mark &= mark - 1) {
        int number = (m << 6) + Long.numberOfTrailingZeros(mark);
        for (; i < numbers.length && numbers[i] < number; i++) {
          making.or(numbers[i], set[i]);
        }
        long word = row[next++];
        if (i < numbers.length && numbers[i] == number) {
          word = word & kept[i] | set[i++];
        }
        making.or(number, word);
      }
    }
    for (; i < numbers.length; i++) {
      making.or(numbers[i], set[i]);
    }
    return making.row();
  }

  /** A row while it is put together, from its first word to its last; can be used again. */
  static final class Making {
    private final int marks;
    private long[] row;
    private int end;
    private int last = -1;

    Making(int marks) {
      this.marks = marks;
      row = new long[marks + 4];
      end = marks;
    }

    /** Sets bits in a word that is none of those before the last. */
    void or(int number, long bits) {
      if (bits == 0) {
        return;
      }
      if (number != last) {
        if (end == row.length) {
          row = Arrays.copyOf(row, 2 * end);
        }
        row[number >> 6] |= 1L << number;
        row[end++] = 0;
        last = number;
      }
      row[end - 1] |= bits;
    }

    /** The row as it is now; then begins another. */
    long[] row() {
      long[] made = Arrays.copyOf(row, end);
      Arrays.fill(row, 0, marks, 0);
      end = marks;
      last = -1;
      return made;
    }
  }
}
