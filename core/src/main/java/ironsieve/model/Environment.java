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
 * @param sets named sets that all rulebases share; one of a rulebase's own goes before a shared one
 *     of its name
 * @param today what lies before this day is past: a schedule that ended is empty
 */
public record Environment(
    List<Zone> zones,
    Directory directory,
    List<String> deviceKinds,
    Catalogue catalogue,
    Atlas atlas,
    List<NamedSet> sets,
    LocalDate today) {

  public Environment {
    zones = List.copyOf(zones);
    deviceKinds = List.copyOf(deviceKinds);
    sets = List.copyOf(sets);
  }

  /** Surroundings without shared sets. */
  public Environment(
      List<Zone> zones,
      Directory directory,
      List<String> deviceKinds,
      Catalogue catalogue,
      Atlas atlas,
      LocalDate today) {
    this(zones, directory, deviceKinds, catalogue, atlas, List.of(), today);
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
    return new Environment(zones, directory, deviceKinds, other, atlas, sets, today);
  }
}
