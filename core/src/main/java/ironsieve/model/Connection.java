package ironsieve.model;

import ironsieve.region.Address;
import java.time.LocalDateTime;
import java.util.Optional;

/**
 * One connection, with all that a gateway can know of it.
 *
 * @param at local date and time; seconds do not matter
 * @param from where it comes from, and who and what is there
 * @param to where it goes
 * @param service protocol and destination port
 * @param using what it uses
 */
public record Connection(
    LocalDateTime at, Source from, Destination to, Service service, ApplicationUse using) {

  /** An address behind a zone. */
  public record Place(String zone, Address address) {}

  /**
   * Where a connection goes.
   *
   * @param host the host name the client asks for, in lower case; nothing where it names none
   */
  public record Destination(Place place, Optional<String> host) {

    public String zone() {
      return place.zone();
    }

    public Address address() {
      return place.address();
    }
  }

  /**
   * Where a connection comes from.
   *
   * @param person a login, or nothing for somebody unidentified
   */
  public record Source(Place place, Optional<String> person, Device device) {}

  /**
   * What a connection comes from.
   *
   * @param kind a kind of device; {@link #UNKNOWN_KIND} where nothing is known
   */
  public record Device(String kind, Posture posture) {

    /** The kind of a device of which nothing is known. */
    public static final String UNKNOWN_KIND = "unknown";

    /** A device of which nothing is known. */
    public static final Device UNKNOWN = new Device(UNKNOWN_KIND, Posture.UNKNOWN);
  }

  /**
   * What a connection uses.
   *
   * @param application nothing where none is ever recognised
   * @param carrier the application it is seen inside; nothing where it rides on none
   * @param feature nothing where it is none of the application's features. What is really done
   *     inside; whether a gateway can see it is another question
   */
  public record ApplicationUse(
      Optional<String> application, Optional<String> carrier, Optional<String> feature) {

    /** No application recognised. */
    public static final ApplicationUse UNRECOGNISED =
        new ApplicationUse(Optional.empty(), Optional.empty(), Optional.empty());
  }
}
