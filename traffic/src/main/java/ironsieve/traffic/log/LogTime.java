package ironsieve.traffic.log;

import java.math.BigDecimal;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeFormatterBuilder;
import java.time.format.ResolverStyle;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Times as logs write them, each form in a table. A form says where its date stands and how it is
 * written; behind it stand hours, minutes and, if they are said, seconds with a fraction, and an
 * offset from UTC such as {@code Z}, {@code UTC}, {@code +02:00}, {@code +0200} or {@code +02}. A
 * number is seconds, milli-, micro- or nanoseconds since 1970, whichever its size says, with or
 * without a fraction. What is in no form, or no day there is, is refused and never guessed.
 */
final class LogTime {

  /** A way of writing a date, and what stands between it and the time of day. */
  private record Form(Pattern date, DateTimeFormatter format) {

    private static Form of(String date, String format) {
      return new Form(
          Pattern.compile(date + CLOCK, Pattern.CASE_INSENSITIVE),
          new DateTimeFormatterBuilder()
              .parseCaseInsensitive()
              .appendPattern(format)
              .toFormatter(Locale.ENGLISH)
              .withResolverStyle(ResolverStyle.STRICT));
    }
  }

  private static final String CLOCK =
      "(\\d{2}):(\\d{2})(?::(\\d{2})(?:[.,](\\d{1,9})\\d*)?)?"
          + "(?: ?(Z|UTC|GMT|[+-]\\d{2}(?::?\\d{2})?))?";

  private static final List<Form> FORMS =
      List.of(
          Form.of("(\\d{4}-\\d{2}-\\d{2})[T ]", "uuuu-MM-dd"),
          Form.of("(\\d{4}/\\d{2}/\\d{2})[T ]", "uuuu/MM/dd"),
          Form.of("(\\d{2}\\.\\d{2}\\.\\d{4}),? ", "dd.MM.uuuu"),
          Form.of("\\[?(\\d{2}/[a-z]{3}/\\d{4})[: ]", "dd/MMM/uuuu"),
          Form.of("(\\d{2} [a-z]{3} \\d{4}) ", "dd MMM uuuu"));

  private static final Pattern NUMBER =
      Pattern.compile("\\d{1,19}(\\.\\d{1,9})?([eE]\\+?\\d{1,2})?");
  private static final long SECONDS_FROM = 100_000_000L;
  private static final int LONGEST = 2_000;

  /** Below each of these a number is of the unit that makes a second of so many. */
  private static final BigDecimal SECONDS_END = BigDecimal.valueOf(100_000_000_000L);

  private static final int[] UNIT_DIGITS = {0, 3, 6, 9};

  private LogTime() {}

  /**
   * The local time in a zone.
   *
   * @param zone in which times stand that say no offset, and in which the answer stands
   * @throws LogRecords.FieldException if that is no time
   */
  static LocalDateTime parse(String text, ZoneId zone) {
    if (text.length() > LONGEST) {
      throw new LogRecords.FieldException(LogField.TIME, "this is no time");
    }
    try {
      if (NUMBER.matcher(text).matches()) {
        return LocalDateTime.ofInstant(sinceEpoch(text), zone);
      }
      for (Form form : FORMS) {
        Matcher said = form.date().matcher(text.endsWith("]") ? text.replace("]", "") : text);
        if (said.matches()) {
          return local(said, form.format(), zone);
        }
      }
    } catch (DateTimeException | ArithmeticException e) {
      throw none(text);
    }
    throw none(text);
  }

  private static LogRecords.FieldException none(String text) {
    return new LogRecords.FieldException(
        LogField.TIME, "\"" + text + "\" is no time, such as 2026-11-02T09:30:00Z or 1793608200");
  }

  private static LocalDateTime local(Matcher said, DateTimeFormatter format, ZoneId zone) {
    LocalDate day = LocalDate.parse(said.group(1), format);
    String fraction = said.group(5) == null ? "0" : said.group(5);
    LocalDateTime at =
        day.atTime(
            Integer.parseInt(said.group(2)),
            Integer.parseInt(said.group(3)),
            said.group(4) == null ? 0 : Integer.parseInt(said.group(4)),
            Integer.parseInt((fraction + "000000000").substring(0, 9)));
    return said.group(6) == null
        ? at
        : LocalDateTime.ofInstant(at.toInstant(offset(said.group(6))), zone);
  }

  private static ZoneOffset offset(String text) {
    return text.startsWith("+") || text.startsWith("-") ? ZoneOffset.of(text) : ZoneOffset.UTC;
  }

  private static Instant sinceEpoch(String text) {
    BigDecimal number = new BigDecimal(text);
    if (number.compareTo(BigDecimal.valueOf(SECONDS_FROM)) < 0) {
      throw new DateTimeException("too small for a time since 1970");
    }
    for (int digits : UNIT_DIGITS) {
      BigDecimal seconds = number.movePointLeft(digits);
      if (seconds.compareTo(SECONDS_END) < 0) {
        long whole = seconds.longValue();
        BigDecimal rest = seconds.subtract(BigDecimal.valueOf(whole));
        return Instant.ofEpochSecond(whole, rest.movePointRight(9).longValue());
      }
    }
    throw new DateTimeException("too large for a time since 1970");
  }
}
