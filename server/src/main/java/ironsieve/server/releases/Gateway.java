package ironsieve.server.releases;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * A gateway as it is known.
 *
 * @param delivery the number of what it was told last; 0 for nothing yet
 * @param wanted the release that it was told to put in force
 * @param isBack whether that is older than what was in force
 * @param state what it said last of that: {@code not enrolled, waiting, told, fetched, checked, in
 *     force, failed}
 * @param why it failed; else empty
 * @param inForce the release that it decides by, as it said last
 * @param said when it was heard of last
 * @param clockAhead how many seconds its clock is ahead of the server's; below 0 if it is behind
 * @param ports where clients come in, as it said last; none if it did not say
 * @param dropped how many connections it could not tell of, since it was started
 */
public record Gateway(
    String name,
    String rulebase,
    long delivery,
    Optional<Integer> wanted,
    boolean isBack,
    String state,
    String why,
    Optional<Integer> inForce,
    Optional<Instant> said,
    int clockAhead,
    List<ZonePort> ports,
    long dropped) {

  public Gateway {
    ports = List.copyOf(ports);
  }

  /** The port of a gateway's machine on which clients of a zone come in. */
  public record ZonePort(String zone, int port) {}

  /** The tape that its log becomes. */
  public String tape() {
    return "gateway " + name;
  }
}
