package ironsieve.model;

import java.time.LocalDate;
import java.util.List;

/**
 * Everything a rulebase is read against.
 *
 * @param zones the zones of the gateway
 * @param directory who there is
 * @param deviceKinds the kinds of device the gateway can tell apart; "unknown" is always one more
 * @param catalogue the application signatures in force
 * @param atlas what is known of addresses and host names
 * @param today what lies before this day is past: a schedule that ended is empty
 */
public record Environment(
    List<Zone> zones,
    Directory directory,
    List<String> deviceKinds,
    Catalogue catalogue,
    Atlas atlas,
    LocalDate today) {

  public Environment {
    zones = List.copyOf(zones);
    deviceKinds = List.copyOf(deviceKinds);
  }

  /** Surroundings in which nothing is known of addresses and host names. */
  public Environment(
      List<Zone> zones,
      Directory directory,
      List<String> deviceKinds,
      Catalogue catalogue,
      LocalDate today) {
    this(zones, directory, deviceKinds, catalogue, Atlas.EMPTY, today);
  }

  /** These surroundings with another edition of the catalogue. */
  public Environment with(Catalogue other) {
    return new Environment(zones, directory, deviceKinds, other, atlas, today);
  }
}
