package ironsieve.traffic.view;

import ironsieve.model.Tape;

/** How much there is of something. */
public record Sum(long times, long up, long down) {

  public static final Sum NOTHING = new Sum(0, 0, 0);

  /** With more. */
  public Sum and(Sum other) {
    return new Sum(times + other.times, up + other.up, down + other.down);
  }

  /** With another line. */
  public Sum and(Tape.Line line) {
    return and(new Sum(line.times(), line.volume().up(), line.volume().down()));
  }

  static Sum of(long[][] sums, int at) {
    return new Sum(sums[0][at], sums[1][at], sums[2][at]);
  }

  /** Bytes both ways. */
  public long bytes() {
    return up + down;
  }
}
