package ironsieve.compile;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.model.Value.TimeSpan;
import ironsieve.text.TimeText;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.IntStream;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

class TimeAxisTest {

  private static final LocalDate TODAY = LocalDate.of(2026, 11, 23);
  private static final int NOW = (int) TODAY.toEpochDay();

  @Provide
  Arbitrary<TimeSpan> span() {
    Arbitrary<Integer> first = Arbitraries.of(TimeSpan.FIRST_DAY, NOW - 3, NOW, NOW + 2, NOW + 10);
    Arbitrary<Integer> last = Arbitraries.of(NOW + 11, NOW + 13, NOW + 40, TimeSpan.LAST_DAY);
    Arbitrary<Set<DayOfWeek>> days = Arbitraries.of(DayOfWeek.values()).set().ofMinSize(1);
    Arbitrary<Integer> minute = Arbitraries.of(0, 1, 360, 719, 720, 1439);
    return Combinators.combine(first, last, days, minute, minute)
        .as(
            (f, l, d, from, to) ->
                new TimeSpan(new ironsieve.region.Range<>(f, l), d, from, to + 1));
  }

  @Property(tries = 400)
  void anAtomIsInASpanExactlyIfItsMomentsAre(
      @ForAll("span") TimeSpan one, @ForAll("span") TimeSpan other, @ForAll int seed) {
    TimeAxis axis = new TimeAxis(TODAY, List.of(one, other));
    for (int i = 0; i < 30; i++) {
      LocalDateTime at =
          TODAY
              .atStartOfDay()
              .plusMinutes(Math.floorMod(seed + i * 104_729L, 60 * 1440) - 5 * 1440);
      int atom = axis.atom(at);
      assertThat(axis.atoms(one).contains(atom)).isEqualTo(TimeText.holds(one, at));
      assertThat(axis.atoms(other).contains(atom)).isEqualTo(TimeText.holds(other, at));
      assertThat(axis.ahead().contains(atom)).isEqualTo(!at.toLocalDate().isBefore(TODAY));
      assertThat(axis.atom(axis.sample(atom))).isEqualTo(atom);
    }
  }

  @Property(tries = 100)
  void atomsOfMinutesInARowAreThoseOfEach(
      @ForAll("span") TimeSpan one, @ForAll("span") TimeSpan other, @ForAll int seed) {
    TimeAxis axis = new TimeAxis(TODAY, List.of(one, other));
    int first = (NOW - 5) * WeekClock.DAY + Math.floorMod(seed, 40 * WeekClock.DAY);
    int many = Math.floorMod(seed >> 8, 15 * WeekClock.DAY);
    LocalDateTime begin = LocalDate.EPOCH.atStartOfDay();
    assertThat(axis.atoms(first, many))
        .isEqualTo(
            IntStream.range(first, first + many)
                .map(minute -> axis.atom(begin.plusMinutes(minute)))
                .toArray());
  }

  @Test
  void aWeekdayThatARunOfDaysDoesNotHaveIsNoAtom() {
    // Monday and Tuesday only: a schedule for Sundays in it holds nothing.
    TimeSpan sundays = TimeText.parse("2026-11-23..2026-11-24 sun");
    assertThat(new TimeAxis(TODAY, List.of(sundays)).atoms(sundays).isEmpty()).isTrue();
  }

  @Test
  void weeksWeighTheirMinutes() {
    TimeSpan work = TimeText.parse("mon-fri 08:00-18:00");
    TimeAxis axis = new TimeAxis(TODAY, List.of(work));
    assertThat(axis.atoms(work).intersect(axis.ahead()).weight(axis.weights()))
        .isEqualTo(52.0 * 5 * 600);
    assertThat(axis.ahead().weight(axis.weights())).isEqualTo(52.0 * 7 * 1440);
  }

  @Test
  void aNightBelongsToTheDayItBeginsOnInDateSpansToo() {
    TimeSpan nights = TimeText.parse("2026-12-05..2026-12-06 20:00-04:00");
    TimeAxis axis = new TimeAxis(TODAY, List.of(nights));
    for (String held : List.of("2026-12-05T20:00", "2026-12-06T03:59", "2026-12-07T03:59")) {
      assertThat(axis.atoms(nights).contains(axis.atom(LocalDateTime.parse(held))))
          .as(held)
          .isTrue();
      assertThat(TimeText.holds(nights, LocalDateTime.parse(held))).as(held).isTrue();
    }
    for (String not : List.of("2026-12-05T03:59", "2026-12-07T04:00", "2026-12-07T20:00")) {
      assertThat(axis.atoms(nights).contains(axis.atom(LocalDateTime.parse(not))))
          .as(not)
          .isFalse();
      assertThat(TimeText.holds(nights, LocalDateTime.parse(not))).as(not).isFalse();
    }
  }

  @Test
  void equalTimesMeanTheWholeDay() {
    TimeSpan day = TimeText.parse("2026-12-05..2026-12-05 06:00-06:00");
    TimeAxis axis = new TimeAxis(TODAY, List.of(day));
    assertThat(axis.atoms(day).weight(axis.weights())).isEqualTo(1440);
  }

  @Property(tries = 200)
  void aSpanHoldsTheMinutesThatLieLessThanItsLengthAfterABeginning(
      @ForAll("span") TimeSpan span, @ForAll int seed) {
    int length = span.toMinute() - span.fromMinute();
    int lasting = length > 0 ? length : length + WeekClock.DAY;
    Set<LocalDateTime> held = new HashSet<>();
    for (int day = NOW - 6; day < NOW + 60; day++) {
      LocalDate begun = LocalDate.ofEpochDay(day);
      if (span.dates().contains(day) && span.days().contains(begun.getDayOfWeek())) {
        LocalDateTime start = begun.atStartOfDay().plusMinutes(span.fromMinute());
        IntStream.range(0, lasting).mapToObj(start::plusMinutes).forEach(held::add);
      }
    }
    for (int i = 0; i < 200; i++) {
      LocalDateTime at =
          TODAY
              .atStartOfDay()
              .plusMinutes(Math.floorMod(seed + i * 104_729L, 50 * 1440) - 4 * 1440);
      assertThat(TimeText.holds(span, at)).as(at.toString()).isEqualTo(held.contains(at));
    }
  }
}
