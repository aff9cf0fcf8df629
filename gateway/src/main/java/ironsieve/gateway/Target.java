package ironsieve.gateway;

import java.util.Locale;
import java.util.Optional;

/**
 * Where a client wants to go.
 *
 * @param host a host name or an address, as the client says it
 */
record Target(String host, int port) {

  private boolean isAddress() {
    return host.contains(":") || host.matches("[0-9.]+");
  }

  /** The name that the client asks for; nothing for an address. */
  Optional<String> name() {
    return isAddress() ? Optional.empty() : Optional.of(host.toLowerCase(Locale.ROOT));
  }

  /** As a probe says it: a name of one label ends in a dot. */
  String text() {
    return isAddress() || host.contains(".") ? host : host + ".";
  }
}
