package ironsieve.recorded;

import ironsieve.recorded.LineBlock.Column;

/**
 * The columns of one block as arrays, used again for the next block; longer than the block has
 * lines. For one thread.
 */
public final class BlockLines {

  private final int[] conversations = new int[LineBlock.MOST];
  private final int[] minutes = new int[LineBlock.MOST];
  private final long[][] sums = new long[3][LineBlock.MOST];
  private int count;

  /** Reads a block. */
  public void read(LineBlock block) {
    count = block.count();
    block.read(Column.CONVERSATION, conversations);
    block.read(Column.MINUTE, minutes);
    block.read(Column.TIMES, sums[0]);
    block.read(Column.UP, sums[1]);
    block.read(Column.DOWN, sums[2]);
  }

  /** How many lines the block has. */
  public int count() {
    return count;
  }

  /** The conversation of each line. */
  public int[] conversations() {
    return conversations;
  }

  /** When each line was seen, in minutes since 1970. */
  public int[] minutes() {
    return minutes;
  }

  /** Of each line how often it was seen, bytes up and bytes down; three columns. */
  public long[][] sums() {
    return sums;
  }

  /** The lines from one minute on as a block of their own; null for none. */
  LineBlock since(int minute) {
    int kept = 0;
    for (int i = 0; i < count; i++) {
      if (minutes[i] >= minute) {
        conversations[kept] = conversations[i];
        minutes[kept] = minutes[i];
        for (long[] sum : sums) {
          sum[kept] = sum[i];
        }
        kept++;
      }
    }
    count = kept;
    return kept == 0 ? null : LineBlock.of(kept, conversations, minutes, sums[0], sums[1], sums[2]);
  }
}
