package ironsieve.compile;

import ironsieve.model.Value.TimeSpan;
import ironsieve.region.Line;
import ironsieve.region.Range;
import ironsieve.region.RangeSet;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;

/** Minutes of the week, 0 … 10079, counted from Monday 00:00; days as days since 1970-01-01. */
final class WeekClock {

  static final int DAY = 24 * 60;
  static final int WEEK = 7 * DAY;
  static final Line<Integer> MINUTES = Line.integers(0, WEEK - 1);

  private WeekClock() {}

  /**
   * The minutes of the week that a span's weekly part covers; it may run over midnight, and over
   * Sunday.
   */
  static RangeSet<Integer> minutes(TimeSpan span) {
    int length = span.toMinute() - span.fromMinute();
    int last = (length > 0 ? length : length + DAY) - 1;
    List<Range<Integer>> runs = new ArrayList<>();
    for (DayOfWeek day : span.days()) {
      int from = (day.getValue() - 1) * DAY + span.fromMinute();
      int to = from + last;
      runs.add(new Range<>(from, Math.min(to, WEEK - 1)));
      if (to >= WEEK) {
        runs.add(new Range<>(0, to - WEEK));
      }
    }
    return RangeSet.of(MINUTES, runs);
  }

  static int minuteOfWeek(LocalDateTime at) {
    return (at.getDayOfWeek().getValue() - 1) * DAY + at.getHour() * 60 + at.getMinute();
  }

  static int day(LocalDateTime at) {
    return (int) at.toLocalDate().toEpochDay();
  }

  /** Which day of the week a day is, 0 for Monday. */
  static int weekday(int day) {
    return LocalDate.ofEpochDay(day).getDayOfWeek().getValue() - 1;
  }

  static LocalDateTime dateTime(int day, int minuteOfDay) {
    return LocalDate.ofEpochDay(day).atStartOfDay().plusMinutes(minuteOfDay);
  }
}
