package ironsieve.traffic.tape;

import ironsieve.model.Connection.Device;
import ironsieve.model.Service;
import ironsieve.model.Tape.Volume;
import ironsieve.region.Address;
import ironsieve.traffic.signature.Unit;
import java.time.LocalDateTime;
import java.util.Optional;

/**
 * What one line of a log, one flow record or one connection of a capture says. What it does not say
 * is empty, and not guessed.
 *
 * @param at local date and time
 * @param ends who speaks with whom
 * @param who who and what is at the source
 * @param what what it is about
 * @param times how many connections it stands for
 */
public record TrafficRecord(
    LocalDateTime at, Ends ends, Who who, What what, long times, Volume volume) {

  /** Both addresses, and protocol and destination port. */
  public record Ends(Address from, Address to, Service service) {}

  /**
   * Who and what is at the source.
   *
   * @param isNobody whether it says that there is nobody who has signed in
   */
  public record Who(Optional<String> person, boolean isNobody, Optional<Device> device) {

    /** Nothing is said of it. */
    public static final Who UNSAID = new Who(Optional.empty(), false, Optional.empty());
  }

  /**
   * What a record is about.
   *
   * @param host the name the client asked for
   * @param isHostKnown whether it is known which name was asked for, if any
   * @param application a name, with a feature behind a slash if one is said
   * @param carrier what it was seen inside
   * @param shown what it was told by; with it the application can be told anew
   */
  public record What(
      Optional<String> host,
      boolean isHostKnown,
      Optional<String> application,
      Optional<String> feature,
      Optional<String> carrier,
      Optional<Unit> shown) {

    /** Nothing is said of it. */
    public static final What UNSAID =
        new What(
            Optional.empty(),
            false,
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty());
  }
}
