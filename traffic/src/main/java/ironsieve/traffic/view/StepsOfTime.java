package ironsieve.traffic.view;

import ironsieve.recorded.Minutes;
import java.time.LocalDateTime;
import java.util.OptionalInt;
import java.util.stream.IntStream;

/**
 * The time that traffic spans, in at most sixty even steps.
 *
 * @param begin the minute since 1970 in which the first begins
 * @param minutes how long each is
 */
public record StepsOfTime(int begin, int minutes, int count) {

  private static final int MOST = 60;
  private static final int DAY = 24 * 60;
  private static final int HOUR = 60;
  private static final int[] LENGTHS = {1, 5, 15, HOUR, 6 * 60, DAY, 7 * DAY, 28 * DAY};

  /** Steps from one minute to another; none where there is no line. */
  static StepsOfTime of(OptionalInt from, OptionalInt to) {
    if (from.isEmpty() || to.isEmpty()) {
      return new StepsOfTime(0, 1, 0);
    }
    return of(from.getAsInt(), to.getAsInt(), 1);
  }

  /** Steps of whole hours, for what is known by the hour only. */
  public static StepsOfTime ofHours(int from, int to) {
    return of(from, to, HOUR);
  }

  private static StepsOfTime of(int first, int last, int shortest) {
    long whole = (long) last - first;
    int length =
        IntStream.of(LENGTHS)
            .filter(one -> one >= shortest && whole / one < MOST)
            .findFirst()
            .orElse((int) (28L * DAY * (1 + whole / (28L * DAY * MOST))));
    int midnight = Math.floorDiv(first, DAY) * DAY;
    int begin = midnight + (first - midnight) / length * length;
    return new StepsOfTime(begin, length, (int) (((long) last - begin) / length) + 1);
  }

  /** Which step a minute lies in. */
  public int step(int minute) {
    return (minute - begin) / minutes;
  }

  /** When a step begins. */
  public LocalDateTime begin(int step) {
    return Minutes.time(begin + step * minutes);
  }
}
