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
import java.util.Set;

/** Minutes of the week, 0 … 10079, counted from Monday 00:00; days as days since 1970-01-01. */
final class WeekClock {

  static final int DAY = 24 * 60;
  static final int WEEK = 7 * DAY;
  static final Line<Integer> MINUTES = Line.integers(0, WEEK - 1);

  private WeekClock() {}

  /** Some days of the calendar, and the minutes of the week that a span holds on them. */
  record Part(Range<Integer> dates, RangeSet<Integer> minutes) {

    boolean contains(int day, int minuteOfWeek) {
      return dates.contains(day) && minutes.contains(minuteOfWeek);
    }
  }

  /**
   * A span as one or two parts whose union it is. A night belongs to the day it begins on: what
   * lies after midnight has the dates and the weekdays moved on by one.
   */
  static List<Part> parts(TimeSpan span) {
    boolean overnight = span.toMinute() <= span.fromMinute();
    List<Part> parts = new ArrayList<>();
    parts.add(
        new Part(
            span.dates(),
            minutes(span.days(), 0, span.fromMinute(), overnight ? DAY : span.toMinute())));
    if (overnight) {
      Range<Integer> dates = span.dates();
      parts.add(
          new Part(
              new Range<>(
                  dates.low() == TimeSpan.FIRST_DAY ? dates.low() : dates.low() + 1,
                  Math.min(dates.high() + 1, TimeSpan.LAST_DAY)),
              minutes(span.days(), 1, 0, span.toMinute())));
    }
    return parts;
  }

  /** On the days that come so long after some weekdays, the minutes from one to before another. */
  private static RangeSet<Integer> minutes(Set<DayOfWeek> days, int later, int from, int before) {
    List<Range<Integer>> runs = new ArrayList<>();
    if (from < before) {
      for (DayOfWeek day : days) {
        int start = (day.plus(later).getValue() - 1) * DAY;
        runs.add(new Range<>(start + from, start + before - 1));
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
