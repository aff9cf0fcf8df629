package ironsieve.replay;

import ironsieve.traffic.tape.TapeMaker;
import java.util.Arrays;

/** What records are, by the codes of what they say. */
final class Kinds {

  private static final int MOST = 4_000_000;

  /** The codes that are asked for. */
  final int[] asked;

  private int count;
  private int[] rows;
  private TapeMaker.Kind[] kinds = new TapeMaker.Kind[1 << 10];
  private int[] table = new int[1 << 11];
  private int slot;

  /** For records of which so many things are told apart. */
  Kinds(int width) {
    asked = new int[width];
    rows = new int[width << 10];
  }

  /** What is known of {@link #asked}; null for nothing. */
  TapeMaker.Kind known() {
    int width = asked.length;
    slot = slot(asked, 0);
    while (table[slot] != 0) {
      int at = table[slot] - 1;
      if (Arrays.equals(rows, at * width, at * width + width, asked, 0, width)) {
        return kinds[at];
      }
      slot = slot + 1 & table.length - 1;
    }
    return null;
  }

  /** Keeps what {@link #asked} is, which was just not known. */
  void keep(TapeMaker.Kind kind) {
    int width = asked.length;
    if (count >= MOST) {
      forget();
      slot = slot(asked, 0);
    }
    if (count == kinds.length) {
      kinds = Arrays.copyOf(kinds, count * 2);
      rows = Arrays.copyOf(rows, count * 2 * width);
    }
    System.arraycopy(asked, 0, rows, count * width, width);
    kinds[count++] = kind;
    table[slot] = count;
    if (count > table.length >> 1) {
      table = new int[table.length * 2];
      for (int at = 0; at < count; at++) {
        int free = slot(rows, at * width);
        while (table[free] != 0) {
          free = free + 1 & table.length - 1;
        }
        table[free] = at + 1;
      }
    }
  }

  /** Forgets all. */
  void forget() {
    count = 0;
    Arrays.fill(kinds, null);
    Arrays.fill(table, 0);
  }

  private int slot(int[] row, int from) {
    long hash = 0;
    for (int i = from; i < from + asked.length; i++) {
      hash = (hash ^ row[i]) * 0xD6E8FEB86659FD93L ^ hash >>> 32;
    }
    return (int) (hash * 0x9E3779B97F4A7C15L >>> 33) & table.length - 1;
  }
}
