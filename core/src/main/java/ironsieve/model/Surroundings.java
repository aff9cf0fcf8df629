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
 * @param today what lies before this day is past: a schedule that ended is empty
 */
public record Surroundings(
    List<Zone> zones,
    Directory directory,
    List<String> deviceKinds,
    Catalogue catalogue,
    LocalDate today) {

  public Surroundings {
    zones = List.copyOf(zones);
    deviceKinds = List.copyOf(deviceKinds);
  }
}
