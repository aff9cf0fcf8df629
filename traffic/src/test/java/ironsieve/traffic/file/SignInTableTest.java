package ironsieve.traffic.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.files.FaultException;
import ironsieve.model.Connection.Device;
import ironsieve.model.Posture;
import ironsieve.region.Address;
import ironsieve.traffic.log.SignIns;
import ironsieve.traffic.tape.TrafficRecord.Who;
import java.io.IOException;
import java.io.StringReader;
import java.time.Duration;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

/** Who was behind an address, by who signed in there. */
class SignInTableTest {

  private static final ZoneId ZONE = ZoneId.of("Europe/Berlin");
  private static final LocalDateTime MORNING = LocalDateTime.of(2026, 11, 2, 8, 0);

  private static SignInTable.Result read(String text) throws IOException {
    return SignInTable.read(new StringReader(text), SignIns.USUAL, ZONE);
  }

  private static Optional<String> who(SignInTable.Result read, String address, String time) {
    return read.signIns().who(Address.parse(address), LocalDateTime.parse(time)).person();
  }

  @Test
  void somebodyIsThereUntilTheySignOutOrSomebodyElseSignsInOrHoursHavePassed() throws IOException {
    SignInTable.Result read =
        read(
            """
            Timestamp;Client IP;User Name;Event
            2026-11-02 08:00:00;10.20.0.7;ada;Logon
            2026-11-02 09:00:00;10.20.0.7;;Logoff
            2026-11-02 09:30:00;10.20.0.7;NORTH\\ben;Logon
            2026-11-02 10:00:00;10.20.0.7;cleo;Logon
            2026-11-02T07:00:00Z;2001:db8::7;ada;Start
            """);
    assertThat(read.unread()).isZero();
    assertThat(who(read, "10.20.0.7", "2026-11-02T07:59:59")).isEmpty();
    assertThat(who(read, "10.20.0.7", "2026-11-02T08:00")).contains("ada");
    assertThat(who(read, "10.20.0.7", "2026-11-02T09:00")).isEmpty();
    assertThat(who(read, "10.20.0.7", "2026-11-02T09:59:59")).contains("NORTH\\ben");
    assertThat(who(read, "10.20.0.7", "2026-11-02T19:59:59")).contains("cleo");
    assertThat(who(read, "10.20.0.7", "2026-11-02T20:00")).isEmpty();
    // Seven o'clock of the world is eight in Berlin.
    assertThat(who(read, "2001:db8::7", "2026-11-02T07:59")).isEmpty();
    assertThat(who(read, "2001:db8::7", "2026-11-02T08:01")).contains("ada");
    assertThat(who(read, "10.20.0.8", "2026-11-02T08:01")).isEmpty();
  }

  @Test
  void jsonLinesSayWithWhatDeviceAndUntilWhen() throws IOException {
    SignInTable.Result read =
        read(
            """
            {"start": 1793606400, "ip": "10.20.0.7", "user": "Łukasz", "device": "managed laptop", "end": 1793610000}
            """);
    LocalDateTime start =
        LocalDateTime.ofEpochSecond(1793606400 + 3600, 0, java.time.ZoneOffset.UTC);
    Address address = Address.parse("10.20.0.7");
    assertThat(read.signIns().who(address, start))
        .isEqualTo(
            new Who(
                Optional.of("Łukasz"),
                false,
                Optional.of(new Device("managed laptop", Posture.UNKNOWN))));
    assertThat(read.signIns().who(address, start.plusSeconds(3_599)).person()).isPresent();
    assertThat(read.signIns().who(address, start.plusSeconds(3_600))).isEqualTo(Who.UNSAID);
  }

  @Test
  void linesThatSayNothingAreCountedAndAListWithoutPeopleIsRefused() throws IOException {
    SignInTable.Result read =
        read(
            "time,address,person\nnever,10.0.0.1,ada\n2026-11-02T08:00,here,ada\n"
                + "2026-11-02T08:00,10.0.0.1,\n2026-11-02T08:00,10.0.0.1,ada\n");
    assertThat(read.unread()).isEqualTo(3);
    assertThat(read.faults().get(0)).startsWith("sign-ins, line 2, ").contains("never");
    assertThat(read.notes().get(0)).isEqualTo("1 sign-ins say who was there for 0 connections");
    assertThatThrownBy(() -> read("time,address,room\n2026-11-02T08:00,10.0.0.1,12\n"))
        .isInstanceOf(FaultException.class)
        .hasMessageContaining("no column says the person")
        .hasMessageContaining("time, address, room");
  }

  private record Event(LocalDateTime time, String person, Optional<LocalDateTime> until) {}

  /** Against looking through all events for the last that counts. */
  @Property(tries = 500)
  void whoIsThereIsWhoWasHeardOfLast(@ForAll long seed) {
    Random random = new Random(seed);
    SignIns signIns = new SignIns(Duration.ofMinutes(30));
    Address address = Address.parse("10.0.0.1");
    List<Event> events = new ArrayList<>();
    for (int i = 0; i < random.nextInt(12); i++) {
      LocalDateTime time = MORNING.plusMinutes(random.nextInt(200));
      String person = random.nextInt(4) == 0 ? "" : "p" + random.nextInt(3);
      Optional<LocalDateTime> until =
          random.nextBoolean()
              ? Optional.of(time.plusMinutes(random.nextInt(60)))
              : Optional.empty();
      events.removeIf(event -> event.time().equals(time));
      events.add(new Event(time, person, until));
      if (person.isEmpty()) {
        signIns.out(address, time);
      } else {
        signIns.in(address, time, person, Optional.empty(), until);
      }
    }
    for (int minute = 0; minute < 260; minute++) {
      LocalDateTime now = MORNING.plusMinutes(minute);
      String there = "";
      LocalDateTime latest = LocalDateTime.MIN;
      for (Event event : events) {
        if (!event.time().isAfter(now) && event.time().isAfter(latest)) {
          latest = event.time();
          boolean isGone = !now.isBefore(event.until().orElse(event.time().plusMinutes(30)));
          there = isGone ? "" : event.person();
        }
      }
      assertThat(signIns.who(address, now).person().orElse("")).isEqualTo(there);
    }
  }
}
