package ironsieve.gateway;

import ironsieve.gateway.ReleaseFolder.ZonePort;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.RangeSet;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;

/**
 * A port for the clients of each zone that a release knows. A zone keeps its port over restarts and
 * releases, so that whoever has set up a client need not do it again.
 */
final class ZonePorts {

  private final SocksServer socks;
  private final ReleaseFolder folder;
  private final int first;
  private final Consumer<String> say;
  private final Map<String, Integer> ports = new HashMap<>();
  private final Set<String> open = new HashSet<>();

  /**
   * Listens nowhere yet.
   *
   * @param first the first port; the zones get this and those after it
   * @param say takes what a person at the gateway should know
   */
  ZonePorts(SocksServer socks, ReleaseFolder folder, int first, Consumer<String> say)
      throws IOException {
    this.say = say;
    this.socks = socks;
    this.folder = folder;
    this.first = first;
    folder.ports().forEach(one -> ports.put(one.zone(), one.port()));
  }

  /** Listens for the zones of a release that nobody listens for yet. */
  void listen(Policy policy) throws IOException {
    List<Zone> zones = policy.zones();
    List<RangeSet<Address>> behind = Zone.behind(zones);
    List<ZonePort> listening = new ArrayList<>();
    for (int z = 0; z < zones.size(); z++) {
      Zone zone = zones.get(z);
      if (zone.side() == Zone.Side.GATEWAY || behind.get(z).isEmpty()) {
        continue;
      }
      String address = Address.typical(behind.get(z).ranges().get(0)).toString();
      int port = ports.computeIfAbsent(zone.name(), name -> free());
      if (!open.contains(zone.name())) {
        try {
          socks.listen(new Client(zone.name(), address, Optional.empty()), port);
          open.add(zone.name());
          say.accept("clients of " + zone.name() + ": socks5h://127.0.0.1:" + port);
        } catch (IllegalStateException e) {
          // The others come in; this one is tried again with the next release.
          say.accept("clients of " + zone.name() + ": " + e.getMessage());
        }
      }
      listening.add(new ZonePort(zone.name(), port));
    }
    folder.keepPorts(listening);
  }

  private int free() {
    int port = first;
    while (ports.containsValue(port)) {
      port++;
    }
    return port;
  }
}
