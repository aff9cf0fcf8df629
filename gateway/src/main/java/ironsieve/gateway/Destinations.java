package ironsieve.gateway;

import java.net.InetSocketAddress;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Where destinations are reached: on loopback alone, at the stand-ins for all of them. What has no
 * stand-in is reached nowhere, so that no client gets anywhere else through a gateway.
 */
final class Destinations {

  private static final Pattern ONE = Pattern.compile("(?:(\\d{1,5})=)?(\\d{1,5})");
  private static final int ALL = 0;

  private final Map<Integer, InetSocketAddress> byPort = new HashMap<>();

  /**
   * Reads what is written on the command line.
   *
   * @param texts each {@code PORT} for all destinations, or {@code PORT=PORT} for those of a port
   * @throws IllegalArgumentException if it is neither
   */
  Destinations(List<String> texts) {
    for (String text : texts) {
      Matcher parts = ONE.matcher(text);
      if (!parts.matches()) {
        throw new IllegalArgumentException(
            "\"" + text + "\": servers are written PORT, or PORT=PORT for those of one port");
      }
      byPort.put(
          parts.group(1) == null ? ALL : Integer.parseInt(parts.group(1)),
          new InetSocketAddress("127.0.0.1", Integer.parseInt(parts.group(2))));
    }
  }

  /** Where a destination is reached. */
  Optional<InetSocketAddress> of(Target target) {
    return Optional.ofNullable(byPort.getOrDefault(target.port(), byPort.get(ALL)));
  }
}
