package ironsieve.traffic.view;

import ironsieve.recorded.Minutes;
import ironsieve.recorded.TapeColumns;
import java.time.LocalDateTime;
import java.util.List;
import java.util.stream.IntStream;

/** The time that tapes span, in at most sixty even steps. */
record StepsOfTime(int begin, int minutes, int count) {

  private static final int MOST = 60;
  private static final int DAY = 24 * 60;
  private static final int[] LENGTHS = {1, 5, 15, 60, 6 * 60, DAY, 7 * DAY, 28 * DAY};

  static StepsOfTime of(List<TapeColumns> tapes) {
    if (tapes.stream().allMatch(tape -> tape.first().isEmpty())) {
      return new StepsOfTime(0, 1, 0);
    }
    int first = tapes.stream().flatMapToInt(tape -> tape.first().stream()).min().orElseThrow();
    int last = tapes.stream().flatMapToInt(tape -> tape.last().stream()).max().orElseThrow();
    long whole = (long) last - first;
    int length =
        IntStream.of(LENGTHS)
            .filter(one -> whole / one < MOST)
            .findFirst()
            .orElse((int) (28L * DAY * (1 + whole / (28L * DAY * MOST))));
    int midnight = Math.floorDiv(first, DAY) * DAY;
    int begin = midnight + (first - midnight) / length * length;
    return new StepsOfTime(begin, length, (int) (((long) last - begin) / length) + 1);
  }

  /** Which step a minute lies in. */
  int step(int minute) {
    return (minute - begin) / minutes;
  }

  /** When a step begins. */
  LocalDateTime begin(int step) {
    return Minutes.time(begin + step * minutes);
  }
}
