package ironsieve.compile;

import ironsieve.compile.WeekClock.Part;
import ironsieve.model.Value.TimeSpan;
import ironsieve.region.IndexSet;
import ironsieve.region.Range;
import ironsieve.region.Weights;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collection;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;

/**
 * The atoms of time: pairs of a run of days and a run of minutes of the week that no schedule tells
 * apart. Dates and weekdays are tied: a pair exists only if the run of days has such a weekday.
 * What lies before today is kept apart, so that past connections can be decided while the review
 * looks ahead.
 *
 * <p>An atom weighs its minutes; an open end counts as 52 weeks.
 */
final class TimeAxis {

  private static final int HORIZON_DAYS = 52 * 7;

  private static final int OFFICE_OPENS = 9 * 60;
  private static final int OFFICE_CLOSES = 17 * 60;
  private static final int MID_MORNING = 10 * 60;

  /** A moment, and how readily somebody believes in a connection then: the less the better. */
  private record Piece(int day, int minute, int oddness) {

    /**
     * The moment of a run of minutes of one day that reads best: in office hours of a working day
     * if there are any, else by day.
     *
     * @param from the first minute of the day
     * @param before the first minute after it
     */
    private static Piece of(int day, int from, int before) {
      int open = Math.max(from, OFFICE_OPENS);
      boolean office = open < Math.min(before, OFFICE_CLOSES);
      boolean working = WeekClock.weekday(day) < 5;
      int minute =
          !office ? from : from <= MID_MORNING && MID_MORNING < before ? MID_MORNING : open;
      return new Piece(day, minute, (office ? 0 : 1) + (working ? 0 : 2));
    }
  }

  private final int[] dayStarts;
  private final int[] minuteStarts;
  private final int[][] atomOf;
  private final List<Piece> samples = new ArrayList<>();
  private final BitSet ahead = new BitSet();
  private final Weights weights;
  private final Map<TimeSpan, BitSet> atomsOfSpan = new HashMap<>();

  TimeAxis(LocalDate today, Collection<TimeSpan> used) {
    int now = (int) today.toEpochDay();
    List<TimeSpan> spans = used.stream().distinct().toList();
    List<List<Part>> parts = spans.stream().map(WeekClock::parts).toList();
    List<Part> all = parts.stream().flatMap(List::stream).toList();
    dayStarts = dayCuts(now, all);
    minuteStarts = minuteCuts(all);
    atomOf = new int[dayStarts.length][minuteStarts.length];
    Signatures atoms = new Signatures();
    spans.forEach(span -> atomsOfSpan.put(span, new BitSet()));
    for (int d = 0; d < dayStarts.length; d++) {
      for (int m = 0; m < minuteStarts.length; m++) {
        atomOf[d][m] = -1;
        int firstDay = firstDay(d, minuteStarts[m] / WeekClock.DAY);
        if (firstDay >= 0) {
          List<Integer> holders = holders(parts, firstDay, minuteStarts[m]);
          boolean isAhead = dayStarts[d] >= now;
          int atom = atoms.atom(List.of(isAhead, holders), weight(d, m, firstDay));
          Piece piece = piece(m, firstDay);
          if (atom == samples.size()) {
            samples.add(piece);
          } else if (piece.oddness() < samples.get(atom).oddness()) {
            samples.set(atom, piece);
          }
          atomOf[d][m] = atom;
          ahead.set(atom, isAhead);
          holders.forEach(i -> atomsOfSpan.get(spans.get(i)).set(atom));
        }
      }
    }
    weights = atoms.weights();
  }

  private static int[] dayCuts(int today, List<Part> parts) {
    TreeSet<Integer> cuts = new TreeSet<>(List.of(TimeSpan.FIRST_DAY, today));
    for (Part part : parts) {
      cuts.add(part.dates().low());
      if (part.dates().high() < TimeSpan.LAST_DAY) {
        cuts.add(part.dates().high() + 1);
      }
    }
    return cuts.stream().mapToInt(Integer::intValue).toArray();
  }

  private static int[] minuteCuts(List<Part> parts) {
    TreeSet<Integer> cuts = new TreeSet<>();
    for (int day = 0; day < 7; day++) {
      cuts.add(day * WeekClock.DAY);
    }
    for (Part part : parts) {
      part.minutes()
          .ranges()
          .forEach(
              run -> {
                cuts.add(run.low());
                cuts.add((run.high() + 1) % WeekClock.WEEK);
              });
    }
    return cuts.stream().mapToInt(Integer::intValue).toArray();
  }

  private static List<Integer> holders(List<List<Part>> parts, int day, int minute) {
    List<Integer> holders = new ArrayList<>();
    for (int i = 0; i < parts.size(); i++) {
      if (parts.get(i).stream().anyMatch(part -> part.contains(day, minute))) {
        holders.add(i);
      }
    }
    return holders;
  }

  private int lastDay(int d) {
    return d + 1 < dayStarts.length ? dayStarts[d + 1] - 1 : TimeSpan.LAST_DAY;
  }

  /** The first day of a run that is this weekday, or −1. */
  private int firstDay(int d, int weekday) {
    int ahead = Math.floorMod(weekday - WeekClock.weekday(dayStarts[d]), 7);
    return dayStarts[d] + ahead <= lastDay(d) ? dayStarts[d] + ahead : -1;
  }

  private double weight(int d, int m, int firstDay) {
    int next = m + 1 < minuteStarts.length ? minuteStarts[m + 1] : WeekClock.WEEK;
    boolean open = lastDay(d) == TimeSpan.LAST_DAY;
    int last = open ? dayStarts[d] + HORIZON_DAYS - 1 : lastDay(d);
    int days = Math.max(1, (last - firstDay) / 7 + 1);
    return (double) days * (next - minuteStarts[m]);
  }

  private Piece piece(int m, int day) {
    int next = m + 1 < minuteStarts.length ? minuteStarts[m + 1] : WeekClock.WEEK;
    int from = minuteStarts[m] % WeekClock.DAY;
    return Piece.of(day, from, from + next - minuteStarts[m]);
  }

  /** Of some atoms the one in which a connection is believed in most readily. */
  int plainest(IndexSet some) {
    int best = some.first();
    for (int atom = some.next(best + 1); atom >= 0; atom = some.next(atom + 1)) {
      if (samples.get(atom).oddness() < samples.get(best).oddness()) {
        best = atom;
      }
    }
    return best;
  }

  /** The atoms of a span that was given to the constructor. */
  IndexSet atoms(TimeSpan span) {
    return Signatures.set(atomsOfSpan.get(span));
  }

  /**
   * Spans that together hold some atoms and no others of {@code whole}: for each run of days in
   * which the same minutes of the week are held, one for each stretch of the day.
   */
  List<TimeSpan> spans(IndexSet some, IndexSet whole) {
    Map<Range<Integer>, Map<Range<Integer>, Set<DayOfWeek>>> byDates = new LinkedHashMap<>();
    Map<Range<Integer>, Set<DayOfWeek>> before = null;
    Range<Integer> dates = null;
    for (int d = 0; d < dayStarts.length; d++) {
      if (!isIn(d, whole)) {
        continue;
      }
      Map<Range<Integer>, Set<DayOfWeek>> stretches = stretches(d, some);
      Range<Integer> own = new Range<>(dayStarts[d], lastDay(d));
      boolean wholeWeeks = own.high() - own.low() >= 6;
      boolean goesOn =
          dates != null && dates.high() + 1 == own.low() && stretches.equals(before) && wholeWeeks;
      if (goesOn) {
        byDates.remove(dates);
        dates = new Range<>(dates.low(), own.high());
      } else {
        dates = own;
      }
      before = stretches;
      byDates.put(dates, stretches);
    }
    List<TimeSpan> spans = new ArrayList<>();
    int now = ahead.isEmpty() ? 0 : firstAhead();
    byDates.forEach(
        (days, stretches) ->
            stretches.forEach(
                (minutes, weekdays) ->
                    spans.add(
                        new TimeSpan(
                            // Nothing before today is asked for, so it need not be left out.
                            days.low() == now ? new Range<>(TimeSpan.FIRST_DAY, days.high()) : days,
                            weekdays,
                            minutes.low(),
                            minutes.high() + 1))));
    return spans;
  }

  private int firstAhead() {
    for (int d = 0; d < dayStarts.length; d++) {
      if (isIn(d, ahead())) {
        return dayStarts[d];
      }
    }
    return 0;
  }

  private boolean isIn(int d, IndexSet whole) {
    for (int atom : atomOf[d]) {
      if (atom >= 0 && whole.contains(atom)) {
        return true;
      }
    }
    return false;
  }

  /** By stretch of the day, the weekdays on which a run of days has it in some atoms. */
  private Map<Range<Integer>, Set<DayOfWeek>> stretches(int d, IndexSet some) {
    Map<Range<Integer>, Set<DayOfWeek>> stretches = new LinkedHashMap<>();
    for (int day = 0; day < 7; day++) {
      int from = -1;
      for (int m = 0; m <= minuteStarts.length; m++) {
        int start = m < minuteStarts.length ? minuteStarts[m] : WeekClock.WEEK;
        boolean inDay = start >= day * WeekClock.DAY && start < (day + 1) * WeekClock.DAY;
        boolean held =
            inDay && m < minuteStarts.length && atomOf[d][m] >= 0 && some.contains(atomOf[d][m]);
        if (held && from < 0) {
          from = start - day * WeekClock.DAY;
        } else if (!held && from >= 0) {
          int end = Math.min(start - day * WeekClock.DAY, WeekClock.DAY);
          stretches
              .computeIfAbsent(new Range<>(from, end - 1), run -> EnumSet.noneOf(DayOfWeek.class))
              .add(DayOfWeek.of(day + 1));
          from = -1;
        }
      }
    }
    return stretches;
  }

  /** The atoms that have a moment in a span. */
  IndexSet holding(TimeSpan span) {
    BitSet held = new BitSet();
    List<Part> parts = WeekClock.parts(span);
    for (int d = 0; d < dayStarts.length; d++) {
      for (int m = 0; m < minuteStarts.length; m++) {
        int atom = atomOf[d][m];
        int firstDay = firstDay(d, minuteStarts[m] / WeekClock.DAY);
        int minute = minuteStarts[m];
        if (atom >= 0 && parts.stream().anyMatch(part -> part.contains(firstDay, minute))) {
          held.set(atom);
        }
      }
    }
    return Signatures.set(held);
  }

  /** All atoms from today on. */
  IndexSet ahead() {
    return Signatures.set(ahead);
  }

  int atom(LocalDateTime at) {
    return atomOf[segment(dayStarts, WeekClock.day(at))][
        segment(minuteStarts, WeekClock.minuteOfWeek(at))];
  }

  /**
   * The atoms of minutes that follow each other.
   *
   * @param first in minutes since 1970
   */
  int[] atoms(int first, int many) {
    int day = Math.floorDiv(first, WeekClock.DAY);
    int minute = Math.floorMod(first, WeekClock.DAY);
    int[] found = new int[many];
    for (int i = 0; i < many; day++, minute = 0) {
      int[] ofDay = atomOf[segment(dayStarts, day)];
      int midnight = WeekClock.weekday(day) * WeekClock.DAY;
      int at = segment(minuteStarts, midnight + minute);
      for (; minute < WeekClock.DAY && i < many; minute++, i++) {
        boolean nextBegins =
            at + 1 < minuteStarts.length && minuteStarts[at + 1] == midnight + minute;
        at += nextBegins ? 1 : 0;
        found[i] = ofDay[at];
      }
    }
    return found;
  }

  private static int segment(int[] starts, int point) {
    int at = Arrays.binarySearch(starts, point);
    return at >= 0 ? at : -at - 2;
  }

  LocalDateTime sample(int atom) {
    Piece piece = samples.get(atom);
    return WeekClock.dateTime(piece.day(), piece.minute());
  }

  Weights weights() {
    return weights;
  }
}
