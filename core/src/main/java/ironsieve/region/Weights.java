package ironsieve.region;

import java.util.Arrays;

/**
 * How many points each atom of one dimension stands for. Immutable. Where a set holds all of 64
 * neighbours, or of 512, they are weighed by one addition; nothing is ever subtracted, because an
 * IPv6 range beside a single address would swallow it.
 */
public final class Weights {

  private final double[] each;
  private final double[] ofWord;
  private final double[] ofBlock;

  /**
   * The weights of atoms 0, 1, …
   *
   * @param each 0 or more; not copied, and not to be changed any more
   */
  public Weights(double... each) {
    this.each = each;
    ofWord = new double[(each.length + 63) >> 6];
    for (int atom = 0; atom < each.length; atom++) {
      ofWord[atom >> 6] += each[atom];
    }
    ofBlock = new double[(ofWord.length + IndexSet.BLOCK - 1) / IndexSet.BLOCK];
    for (int word = 0; word < ofWord.length; word++) {
      ofBlock[word / IndexSet.BLOCK] += ofWord[word];
    }
  }

  /** So many atoms that weigh one each. */
  public static Weights ones(int count) {
    double[] each = new double[count];
    Arrays.fill(each, 1);
    return new Weights(each);
  }

  /** How many atoms there are. */
  public int count() {
    return each.length;
  }

  /** The weight of one atom. */
  public double of(int atom) {
    return each[atom];
  }

  /** The sum over the atoms of a set whose first block is numbered {@code offset}. */
  double sum(int offset, long[][] blocks) {
    double sum = 0;
    for (int b = 0; b < blocks.length; b++) {
      if (blocks[b] == IndexSet.FULL) {
        sum += ofBlock[offset + b];
      } else if (blocks[b] != null) {
        sum += sum((offset + b) * IndexSet.BLOCK, blocks[b]);
      }
    }
    return sum;
  }

  private double sum(int first, long[] words) {
    double sum = 0;
    for (int i = 0; i < words.length; i++) {
      if (words[i] == -1L) {
        sum += ofWord[first + i];
      } else {
        int base = (first + i) << 6;
        for (long word = words[i]; word != 0; word &= word - 1) {
          sum += each[base + Long.numberOfTrailingZeros(word)];
        }
      }
    }
    return sum;
  }
}
