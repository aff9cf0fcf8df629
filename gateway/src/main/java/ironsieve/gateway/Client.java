package ironsieve.gateway;

import java.util.Optional;

/**
 * Whom a listening port stands for.
 *
 * @param zone the zone that its connections come from
 * @param address their source address
 * @param person a login; nothing for nobody known
 */
record Client(String zone, String address, Optional<String> person) {

  Client as(String login) {
    return new Client(zone, address, Optional.of(login));
  }
}
