package ironsieve.recorded;

import java.util.Arrays;

/**
 * The code of each line of a tape. What follows an edit shares the columns of what was before and
 * has beside them the few lines that changed; once those are many, columns of its own.
 */
final class TapeCodes {

  /** More than one line in so many that differ are written into columns. */
  private static final int FEW = 16;

  private final int[][] blocks;
  private final long[] changedLines;
  private final int[] changedCodes;

  private TapeCodes(int[][] blocks, long[] changedLines, int[] changedCodes) {
    this.blocks = blocks;
    this.changedLines = changedLines;
    this.changedCodes = changedCodes;
  }

  /** Columns of codes, one for each block. */
  static TapeCodes of(int[][] blocks) {
    return new TapeCodes(blocks, new long[0], new int[0]);
  }

  /** The number of a line on its tape. */
  static long number(int block, int line) {
    return (long) block << 32 | line;
  }

  static int block(long number) {
    return (int) (number >>> 32);
  }

  static int line(long number) {
    return (int) number;
  }

  /** Reads the codes of a block. */
  void read(int block, int[] into) {
    System.arraycopy(blocks[block], 0, into, 0, blocks[block].length);
    int at = Arrays.binarySearch(changedLines, number(block, 0));
    for (int i = at < 0 ? -at - 1 : at;
        i < changedLines.length && block(changedLines[i]) == block;
        i++) {
      into[line(changedLines[i])] = changedCodes[i];
    }
  }

  /** About how many bytes of it are shared with nobody, where that is the case of the columns. */
  long bytes(boolean ownColumns) {
    long columns = Arrays.stream(blocks).mapToLong(block -> block.length).sum() * Integer.BYTES;
    return (ownColumns ? columns : 0) + changedLines.length * (Long.BYTES + Integer.BYTES);
  }

  /** The code of one line. */
  int code(long number) {
    int at = Arrays.binarySearch(changedLines, number);
    return at >= 0 ? changedCodes[at] : blocks[block(number)][line(number)];
  }

  /**
   * The same with other codes for some lines.
   *
   * @param lines their numbers, ascending
   */
  TapeCodes with(long[] lines, int[] codes) {
    long[] merged = new long[lines.length + changedLines.length];
    int[] mergedCodes = new int[merged.length];
    int count = 0;
    int old = 0;
    for (int i = 0; i < lines.length; i++) {
      while (old < changedLines.length && changedLines[old] < lines[i]) {
        merged[count] = changedLines[old];
        mergedCodes[count++] = changedCodes[old++];
      }
      if (old < changedLines.length && changedLines[old] == lines[i]) {
        old++;
      }
      merged[count] = lines[i];
      mergedCodes[count++] = codes[i];
    }
    while (old < changedLines.length) {
      merged[count] = changedLines[old];
      mergedCodes[count++] = changedCodes[old++];
    }
    long all = Arrays.stream(blocks).mapToLong(block -> block.length).sum();
    if (count <= all / FEW) {
      return new TapeCodes(blocks, Arrays.copyOf(merged, count), Arrays.copyOf(mergedCodes, count));
    }
    int[][] own = blocks.clone();
    int block = -1;
    for (int i = 0; i < count; i++) {
      if (block(merged[i]) != block) {
        block = block(merged[i]);
        own[block] = blocks[block].clone();
      }
      own[block][line(merged[i])] = mergedCodes[i];
    }
    return of(own);
  }
}
