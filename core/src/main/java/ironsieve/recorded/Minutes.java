package ironsieve.recorded;

import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;

/**
 * Local times as minutes since the beginning of 1970. Recorded traffic lies between {@link #FIRST}
 * and {@link #LAST}; whoever reads a time from outside asks {@link #isInRange} first.
 */
public final class Minutes {

  /** The earliest time of recorded traffic. */
  public static final LocalDateTime FIRST = LocalDateTime.of(1970, 1, 1, 0, 0);

  /** The latest time of recorded traffic, to the minute. */
  public static final LocalDateTime LAST = LocalDateTime.of(2999, 12, 31, 23, 59);

  /** What is said of a time that recorded traffic cannot have. */
  public static final String RANGE = "times of recorded traffic lie between 1970 and 2999";

  private static final int DAY = 24 * 60;

  private Minutes() {}

  /** Whether recorded traffic can be of this time. */
  public static boolean isInRange(LocalDateTime at) {
    return !at.isBefore(FIRST) && at.isBefore(LAST.plusMinutes(1));
  }

  /**
   * The minute a time lies in.
   *
   * @throws DateTimeException if recorded traffic cannot be of that time
   */
  public static int of(LocalDateTime at) {
    if (!isInRange(at)) {
      throw new DateTimeException(RANGE + ", not at " + at);
    }
    return (int) (at.toLocalDate().toEpochDay() * DAY) + at.getHour() * 60 + at.getMinute();
  }

  /** The minute a time lies in, or the first or last there can be where it lies beyond. */
  public static int nearest(LocalDateTime at) {
    return of(at.isBefore(FIRST) ? FIRST : at.isAfter(LAST) ? LAST : at);
  }

  /** The time a minute begins. */
  public static LocalDateTime time(int minute) {
    return LocalDateTime.of(
        LocalDate.ofEpochDay(Math.floorDiv(minute, DAY)),
        LocalTime.ofSecondOfDay(Math.floorMod(minute, DAY) * 60L));
  }
}
