package ironsieve.recorded;

import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;

/** Local times as minutes since the beginning of 1970. */
public final class Minutes {

  private static final int DAY = 24 * 60;

  private Minutes() {}

  /** The minute a time lies in. */
  public static int of(LocalDateTime at) {
    return (int) (at.toLocalDate().toEpochDay() * DAY) + at.getHour() * 60 + at.getMinute();
  }

  /** The time a minute begins. */
  public static LocalDateTime time(int minute) {
    return LocalDateTime.of(
        LocalDate.ofEpochDay(Math.floorDiv(minute, DAY)),
        LocalTime.ofSecondOfDay(Math.floorMod(minute, DAY) * 60L));
  }
}
