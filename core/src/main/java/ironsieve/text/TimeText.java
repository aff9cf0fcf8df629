package ironsieve.text;

import ironsieve.model.Value.TimeSpan;
import ironsieve.region.Range;
import java.time.DateTimeException;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Spans of time as text: {@code [first..last] [days] [hh:mm-hh:mm]}, each part optional but not
 * all, such as {@code 2026-04-01..2026-09-30 mon-fri 06:00-22:00}, {@code sat,sun}, {@code
 * ..2026-03-31} or {@code 22:00-06:00}, which crosses midnight and belongs to the day it begins on.
 */
public final class TimeText {

  private static final List<String> DAYS = List.of("mon", "tue", "wed", "thu", "fri", "sat", "sun");
  private static final Pattern DATES =
      Pattern.compile("(\\d{4}-\\d{2}-\\d{2})?\\.\\.(\\d{4}-\\d{2}-\\d{2})?");
  private static final Pattern HOURS = Pattern.compile("(\\d{2}):(\\d{2})-(\\d{2}):(\\d{2})");
  private static final DateTimeFormatter MOMENT =
      DateTimeFormatter.ofPattern("EEE yyyy-MM-dd HH:mm", Locale.ENGLISH);

  private TimeText() {}

  /**
   * Reads a span.
   *
   * @throws TextException naming the part that is wrong
   */
  public static TimeSpan parse(String text) {
    Range<Integer> dates = new Range<>(TimeSpan.FIRST_DAY, TimeSpan.LAST_DAY);
    Set<DayOfWeek> days = EnumSet.allOf(DayOfWeek.class);
    int from = 0;
    int to = 24 * 60;
    if (text.isBlank()) {
      throw new TextException(0, "a time is such as mon-fri 08:00-18:00 or ..2026-03-31");
    }
    for (String part : text.trim().split("\\s+")) {
      Matcher asDates = DATES.matcher(part);
      Matcher asHours = HOURS.matcher(part);
      if (asDates.matches()) {
        dates = dates(text, asDates.group(1), asDates.group(2));
      } else if (asHours.matches()) {
        from = minute(text, asHours.group(1), asHours.group(2));
        to = minute(text, asHours.group(3), asHours.group(4));
        if (from == 24 * 60 || to == 0) {
          throw new TextException(
              0, "\"" + text + "\": a span starts before 24:00 and ends after 00:00");
        }
      } else {
        days = days(text, part);
      }
    }
    return new TimeSpan(dates, days, from, to);
  }

  private static Range<Integer> dates(String text, String first, String last) {
    int low = first == null ? TimeSpan.FIRST_DAY : date(text, first);
    int high = last == null ? TimeSpan.LAST_DAY : date(text, last);
    if (low > high) {
      throw new TextException(0, "\"" + text + "\" ends before it begins");
    }
    return new Range<>(low, high);
  }

  private static int date(String text, String date) {
    try {
      long day = LocalDate.parse(date).toEpochDay();
      if (day < TimeSpan.FIRST_DAY || day > TimeSpan.LAST_DAY) {
        throw new TextException(0, "\"" + text + "\": dates lie between 1970 and 9999");
      }
      return (int) day;
    } catch (DateTimeException e) {
      throw new TextException(0, "\"" + text + "\": there is no day " + date);
    }
  }

  private static int minute(String text, String hour, String minute) {
    int total = Integer.parseInt(hour) * 60 + Integer.parseInt(minute);
    if (Integer.parseInt(minute) > 59 || total > 24 * 60) {
      throw new TextException(0, "\"" + text + "\": there is no time " + hour + ":" + minute);
    }
    return total;
  }

  private static Set<DayOfWeek> days(String text, String part) {
    Set<DayOfWeek> days = EnumSet.noneOf(DayOfWeek.class);
    for (String run : part.split(",", -1)) {
      String[] ends = run.split("-", -1);
      Optional<DayOfWeek> first = day(ends[0]);
      Optional<DayOfWeek> last = day(ends[ends.length - 1]);
      if (ends.length > 2 || first.isEmpty() || last.isEmpty()) {
        throw new TextException(
            0,
            "\""
                + text
                + "\": \""
                + run
                + "\" is no day; days are mon to sun, such as mon-fri or sat,sun");
      }
      DayOfWeek next = first.get();
      days.add(next);
      while (next != last.get()) {
        next = next.plus(1);
        days.add(next);
      }
    }
    return days;
  }

  /** The day of the week with this short name, in any case. */
  static Optional<DayOfWeek> day(String word) {
    int at = DAYS.indexOf(word.toLowerCase(Locale.ROOT));
    return at < 0 ? Optional.empty() : Optional.of(DayOfWeek.of(at + 1));
  }

  /** Writes a span so that {@link #parse} reads it back. */
  public static String print(TimeSpan span) {
    List<String> parts = new ArrayList<>();
    boolean openStart = span.dates().low() == TimeSpan.FIRST_DAY;
    boolean openEnd = span.dates().high() == TimeSpan.LAST_DAY;
    if (!openStart || !openEnd) {
      parts.add(
          (openStart ? "" : LocalDate.ofEpochDay(span.dates().low()))
              + ".."
              + (openEnd ? "" : LocalDate.ofEpochDay(span.dates().high())));
    }
    boolean wholeDay = span.fromMinute() == 0 && span.toMinute() == 24 * 60;
    if (span.days().size() < 7 || (wholeDay && parts.isEmpty())) {
      parts.add(printDays(span.days()));
    }
    if (!wholeDay) {
      parts.add(clock(span.fromMinute()) + "-" + clock(span.toMinute()));
    }
    return String.join(" ", parts);
  }

  private static String printDays(Set<DayOfWeek> days) {
    List<String> runs = new ArrayList<>();
    for (int i = 0; i < 7; i++) {
      if (!days.contains(DayOfWeek.of(i + 1))) {
        continue;
      }
      int from = i;
      while (i + 1 < 7 && days.contains(DayOfWeek.of(i + 2))) {
        i++;
      }
      runs.add(
          i == from ? DAYS.get(from) : DAYS.get(from) + (i == from + 1 ? "," : "-") + DAYS.get(i));
    }
    return String.join(",", runs);
  }

  private static String clock(int minute) {
    return String.format(Locale.ROOT, "%02d:%02d", minute / 60, minute % 60);
  }

  /** A moment, such as {@code tue 2026-11-24 09:30}. */
  public static String print(LocalDateTime at) {
    return MOMENT.format(at).toLowerCase(Locale.ROOT);
  }

  /** Whether a span holds a moment; a night belongs to the day it begins on. */
  public static boolean holds(TimeSpan span, LocalDateTime at) {
    int minute = at.getHour() * 60 + at.getMinute();
    boolean overnight = span.toMinute() <= span.fromMinute();
    boolean today = minute >= span.fromMinute() && (overnight || minute < span.toMinute());
    return (today && begins(span, at.toLocalDate()))
        || (overnight && minute < span.toMinute() && begins(span, at.toLocalDate().minusDays(1)));
  }

  private static boolean begins(TimeSpan span, LocalDate day) {
    boolean beforeAll = day.toEpochDay() < TimeSpan.FIRST_DAY && span.dates().low() == 0;
    return span.days().contains(day.getDayOfWeek())
        && (beforeAll || span.dates().contains((int) day.toEpochDay()));
  }
}
