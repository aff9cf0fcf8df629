package ironsieve.traffic.log;

import ironsieve.model.Connection.Device;
import ironsieve.region.Address;
import ironsieve.traffic.tape.TrafficRecord;
import ironsieve.traffic.tape.TrafficRecord.Who;
import java.time.Duration;
import java.time.LocalDateTime;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * Who signed in at which address, and when: for records that do not say who was behind theirs.
 * Somebody is there from when they sign in until they sign out, somebody else signs in at that
 * address, or so many hours have passed; before and after, nobody knows. Written by one thread,
 * then read.
 */
public final class SignIns {

  /** Somebody who has signed in and is not heard of again is taken for there so long. */
  public static final Duration USUAL = Duration.ofHours(10);

  private final Duration longest;
  private final Map<Address, TreeMap<LocalDateTime, SignIn>> at = new HashMap<>();
  private int count;
  private long completed;

  /** Who is there from a moment on; nobody that is known where somebody has signed out. */
  private record SignIn(Optional<String> person, Optional<Device> device, LocalDateTime until) {}

  /**
   * None yet.
   *
   * @param longest how long somebody is taken for there who is not heard of again; more than
   *     nothing
   */
  public SignIns(Duration longest) {
    this.longest = longest;
  }

  /**
   * Somebody signs in.
   *
   * @param until when that ends; nothing where it is not known
   */
  public void in(
      Address address,
      LocalDateTime time,
      String person,
      Optional<Device> device,
      Optional<LocalDateTime> until) {
    LocalDateTime latest = time.plus(longest);
    put(address, time, new SignIn(Optional.of(person), device, until.orElse(latest)));
  }

  /** Whoever is at an address signs out. */
  public void out(Address address, LocalDateTime time) {
    put(address, time, new SignIn(Optional.empty(), Optional.empty(), time));
  }

  private void put(Address address, LocalDateTime time, SignIn one) {
    if (at.computeIfAbsent(address, key -> new TreeMap<>()).put(time, one) == null) {
      count++;
    }
  }

  /** How many times somebody signed in or out. */
  public int count() {
    return count;
  }

  /** How many connections were told by it who was there. */
  public long completed() {
    return completed;
  }

  /** Who was at an address; unsaid where nobody knows. */
  public Who who(Address address, LocalDateTime time) {
    TreeMap<LocalDateTime, SignIn> there = at.get(address);
    Map.Entry<LocalDateTime, SignIn> last = there == null ? null : there.floorEntry(time);
    return last == null || !time.isBefore(last.getValue().until())
        ? Who.UNSAID
        : new Who(last.getValue().person(), false, last.getValue().device());
  }

  /** A record with what is known of who was there, where it does not say so itself. */
  public TrafficRecord complete(TrafficRecord record) {
    Who said = record.who();
    if (at.isEmpty() || said.isNobody() || said.person().isPresent()) {
      return record;
    }
    Who known = who(record.ends().from(), record.at());
    if (known.person().isEmpty()) {
      return record;
    }
    completed += record.times();
    return new TrafficRecord(
        record.at(),
        record.ends(),
        new Who(known.person(), false, said.device().or(known::device)),
        record.what(),
        record.times(),
        record.volume());
  }
}
