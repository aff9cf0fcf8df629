package ironsieve.recorded;

import java.util.Arrays;

/** For each code what the lines come to that have it. */
final class CatchSums {

  private long[] lines = new long[64];
  private long[] times = new long[64];
  private long[] up = new long[64];
  private long[] down = new long[64];
  private int[] last = new int[64];

  private void hold(int code) {
    if (code >= lines.length) {
      int longer = Math.max(code + 1, lines.length * 2);
      lines = Arrays.copyOf(lines, longer);
      times = Arrays.copyOf(times, longer);
      up = Arrays.copyOf(up, longer);
      down = Arrays.copyOf(down, longer);
      last = Arrays.copyOf(last, longer);
    }
  }

  CatchSums copy() {
    CatchSums same = new CatchSums();
    same.lines = lines.clone();
    same.times = times.clone();
    same.up = up.clone();
    same.down = down.clone();
    same.last = last.clone();
    return same;
  }

  void add(int code, int minute, long more, long bytesUp, long bytesDown) {
    hold(code);
    last[code] = lines[code] == 0 ? minute : Math.max(last[code], minute);
    lines[code]++;
    times[code] += more;
    up[code] += bytesUp;
    down[code] += bytesDown;
  }

  /** Takes a line out; {@link #last} is then looked for anew. */
  void remove(int code, long less, long bytesUp, long bytesDown) {
    lines[code]--;
    times[code] -= less;
    up[code] -= bytesUp;
    down[code] -= bytesDown;
  }

  CatchSums and(CatchSums other) {
    for (int code = 0; code < other.lines.length; code++) {
      if (other.lines[code] > 0) {
        hold(code);
        last[code] = lines[code] == 0 ? other.last[code] : Math.max(last[code], other.last[code]);
        lines[code] += other.lines[code];
        times[code] += other.times[code];
        up[code] += other.up[code];
        down[code] += other.down[code];
      }
    }
    return this;
  }

  int codes() {
    return lines.length;
  }

  long lines(int code) {
    return code < lines.length ? lines[code] : 0;
  }

  long times(int code) {
    return code < lines.length ? times[code] : 0;
  }

  long up(int code) {
    return up[code];
  }

  long down(int code) {
    return down[code];
  }

  int last(int code) {
    return last[code];
  }

  void setLast(int code, int minute) {
    last[code] = minute;
  }
}
