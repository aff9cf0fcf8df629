package ironsieve.traffic.protocol;

import java.util.Map;
import java.util.TreeMap;

/** Pieces of a row of bytes put in order: they come in any order, twice, and overlap. */
final class OrderedBytes {

  /** Who is given the bytes in their order. */
  interface Reader {
    /**
     * The next bytes.
     *
     * @param bytes only until this returns
     */
    void next(byte[] bytes, int offset, int length);
  }

  private final int mostHeld;
  private final TreeMap<Long, byte[]> waiting = new TreeMap<>();
  private long next;
  private int held;

  /**
   * None yet.
   *
   * @param mostHeld so many bytes may wait for one that is missing
   */
  OrderedBytes(int mostHeld) {
    this.mostHeld = mostHeld;
  }

  /**
   * Takes a piece and hands on what is in order now.
   *
   * @param offset its place in the row
   * @param piece kept
   * @return false if it cannot be kept, so that nothing more will be in order
   */
  boolean add(long offset, byte[] piece, Reader reader) {
    if (offset + piece.length <= next) {
      return true;
    }
    if (offset > next) {
      return keep(offset, piece);
    }
    hand(offset, piece, reader);
    Map.Entry<Long, byte[]> first = waiting.firstEntry();
    while (first != null && first.getKey() <= next) {
      waiting.pollFirstEntry();
      held -= first.getValue().length;
      hand(first.getKey(), first.getValue(), reader);
      first = waiting.firstEntry();
    }
    return true;
  }

  private boolean keep(long offset, byte[] piece) {
    byte[] before = waiting.get(offset);
    int more = piece.length - (before == null ? 0 : before.length);
    if (more <= 0) {
      return true;
    }
    if (held + more > mostHeld) {
      return false;
    }
    waiting.put(offset, piece);
    held += more;
    return true;
  }

  private void hand(long offset, byte[] piece, Reader reader) {
    int late = (int) Math.min(piece.length, next - offset);
    if (late < piece.length) {
      next += piece.length - late;
      reader.next(piece, late, piece.length - late);
    }
  }

  /** Lets go of what waits. */
  void clear() {
    waiting.clear();
    held = 0;
  }

  /** How many bytes wait. */
  int held() {
    return held;
  }
}
