package ironsieve.recorded;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Arrays;
import java.util.List;

/**
 * Up to {@value #MOST} lines of a tape as columns: which conversation, in which minute, how often,
 * and bytes up and down. Each column is kept as what its values are above the least of them, in the
 * fewest of 0, 1, 2, 4 or 8 bytes that hold the largest.
 *
 * <p>Layout, little endian: the count (4 bytes); for each column its least value (8) and its width
 * (1); then the columns one after the other.
 */
public final class LineBlock {

  /** More lines than this are in another block. */
  public static final int MOST = 1 << 16;

  private static final int COLUMN_HEAD = Long.BYTES + 1;

  /** What is said of each line. */
  public enum Column {
    CONVERSATION,
    MINUTE,
    TIMES,
    UP,
    DOWN
  }

  private static final int COLUMNS = Column.values().length;
  private static final int HEAD = Integer.BYTES + COLUMNS * COLUMN_HEAD;

  private final ByteBuffer bytes;
  private final int count;
  private final long[] least = new long[COLUMNS];
  private final int[] widths = new int[COLUMNS];
  private final int[] starts = new int[COLUMNS];
  private int first = Integer.MAX_VALUE;
  private int last = Integer.MIN_VALUE;
  private final long times;
  private final boolean isSorted;

  /**
   * A block that was written.
   *
   * @throws IllegalArgumentException if it is none
   */
  public LineBlock(ByteBuffer written) {
    bytes = written.slice().order(ByteOrder.LITTLE_ENDIAN);
    if (bytes.limit() < HEAD) {
      throw new IllegalArgumentException("a block of lines is longer than " + HEAD + " bytes");
    }
    count = bytes.getInt(0);
    int start = HEAD;
    for (int c = 0; c < COLUMNS; c++) {
      int head = Integer.BYTES + c * COLUMN_HEAD;
      least[c] = bytes.getLong(head);
      widths[c] = bytes.get(head + Long.BYTES);
      boolean isWidth = widths[c] == 8 && c >= 2 || List.of(0, 1, 2, 4).contains(widths[c]);
      if (!isWidth) {
        throw new IllegalArgumentException("a block of lines is damaged");
      }
      starts[c] = start;
      start += widths[c] * count;
    }
    if (count < 1 || count > MOST || start != bytes.limit()) {
      throw new IllegalArgumentException("a block of lines is damaged");
    }
    int[] minutes = new int[count];
    read(Column.MINUTE, minutes);
    for (int minute : minutes) {
      first = Math.min(first, minute);
      last = Math.max(last, minute);
    }
    long[] counts = new long[count];
    read(Column.TIMES, counts);
    times = Arrays.stream(counts).sum();
    int[] conversations = minutes;
    read(Column.CONVERSATION, conversations);
    boolean ascend = true;
    for (int i = 1; i < count && ascend; i++) {
      ascend = conversations[i - 1] <= conversations[i];
    }
    isSorted = ascend;
  }

  /** A block of these lines; the arrays may be longer than {@code count}. */
  public static LineBlock of(
      int count, int[] conversations, int[] minutes, long[] times, long[] up, long[] down) {
    long[][] columns = {
      Arrays.stream(conversations, 0, count).asLongStream().toArray(),
      Arrays.stream(minutes, 0, count).asLongStream().toArray(),
      times,
      up,
      down
    };
    int[] widths = new int[COLUMNS];
    long[] least = new long[COLUMNS];
    int size = HEAD;
    for (int c = 0; c < COLUMNS; c++) {
      long low = Long.MAX_VALUE;
      long high = Long.MIN_VALUE;
      for (int i = 0; i < count; i++) {
        low = Math.min(low, columns[c][i]);
        high = Math.max(high, columns[c][i]);
      }
      least[c] = low;
      widths[c] = width(high - low);
      size += widths[c] * count;
    }
    ByteBuffer out = ByteBuffer.allocate(size).order(ByteOrder.LITTLE_ENDIAN);
    out.putInt(count);
    for (int c = 0; c < COLUMNS; c++) {
      out.putLong(least[c]).put((byte) widths[c]);
    }
    for (int c = 0; c < COLUMNS; c++) {
      for (int i = 0; i < count && widths[c] > 0; i++) {
        put(out, widths[c], columns[c][i] - least[c]);
      }
    }
    return new LineBlock(out.flip());
  }

  private static int width(long above) {
    if (above == 0) {
      return 0;
    }
    if (above < 0 || above > 0xFFFF_FFFFL) {
      return Long.BYTES;
    }
    return above <= 0xFF ? 1 : above <= 0xFFFF ? Short.BYTES : Integer.BYTES;
  }

  private static void put(ByteBuffer out, int width, long value) {
    switch (width) {
      case 1 -> out.put((byte) value);
      case Short.BYTES -> out.putShort((short) value);
      case Integer.BYTES -> out.putInt((int) value);
      default -> out.putLong(value);
    }
  }

  /** How many lines. */
  public int count() {
    return count;
  }

  /** The minute of its first line, since 1970. */
  public int first() {
    return first;
  }

  /** The minute of its last line. */
  public int last() {
    return last;
  }

  /** How many connections, all lines together. */
  public long times() {
    return times;
  }

  /** Whether conversations ascend, so that one can be looked up. */
  boolean isSorted() {
    return isSorted;
  }

  /** The first line of a conversation of this number or a higher one, if they ascend. */
  int firstOf(int conversation) {
    int low = 0;
    int high = count;
    while (low < high) {
      int middle = low + high >>> 1;
      if (value(Column.CONVERSATION, middle) < conversation) {
        low = middle + 1;
      } else {
        high = middle;
      }
    }
    return low;
  }

  /** As it is written; not to be changed. */
  public ByteBuffer bytes() {
    return bytes.duplicate();
  }

  /** Reads a column of values that fit. */
  public void read(Column column, int[] into) {
    int c = column.ordinal();
    int start = starts[c];
    int base = (int) least[c];
    switch (widths[c]) {
      case 0 -> Arrays.fill(into, 0, count, base);
      case 1 -> {
        for (int i = 0; i < count; i++) {
          into[i] = base + (bytes.get(start + i) & 0xFF);
        }
      }
      case Short.BYTES -> {
        for (int i = 0; i < count; i++) {
          into[i] = base + (bytes.getShort(start + (i << 1)) & 0xFFFF);
        }
      }
      case Integer.BYTES -> {
        for (int i = 0; i < count; i++) {
          into[i] = base + bytes.getInt(start + (i << 2));
        }
      }
      default -> throw new IllegalStateException("numbers of 8 bytes");
    }
  }

  /** Reads a column. */
  public void read(Column column, long[] into) {
    int c = column.ordinal();
    int start = starts[c];
    long base = least[c];
    switch (widths[c]) {
      case 0 -> Arrays.fill(into, 0, count, base);
      case 1 -> {
        for (int i = 0; i < count; i++) {
          into[i] = base + (bytes.get(start + i) & 0xFF);
        }
      }
      case Short.BYTES -> {
        for (int i = 0; i < count; i++) {
          into[i] = base + (bytes.getShort(start + (i << 1)) & 0xFFFF);
        }
      }
      case Integer.BYTES -> {
        for (int i = 0; i < count; i++) {
          into[i] = base + (bytes.getInt(start + (i << 2)) & 0xFFFF_FFFFL);
        }
      }
      default -> {
        for (int i = 0; i < count; i++) {
          into[i] = base + bytes.getLong(start + (i << 3));
        }
      }
    }
  }

  /** One value. */
  public long value(Column column, int line) {
    int c = column.ordinal();
    int at = starts[c] + line * widths[c];
    return least[c]
        + switch (widths[c]) {
          case 0 -> 0;
          case 1 -> bytes.get(at) & 0xFF;
          case Short.BYTES -> bytes.getShort(at) & 0xFFFF;
          case Integer.BYTES -> bytes.getInt(at) & 0xFFFF_FFFFL;
          default -> bytes.getLong(at);
        };
  }
}
