package ironsieve.model;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.region.Address;
import ironsieve.region.Range;
import ironsieve.region.RangeSet;
import ironsieve.text.ValueText;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

/** Behind which zone an address lies: the one with the most specific network. */
class ZoneTest {

  private static Zone zone(String name, String... networks) {
    return new Zone(
        name, Zone.Side.INSIDE, List.of(networks).stream().map(ZoneTest::network).toList(), "");
  }

  private static Range<Address> network(String text) {
    return ((Value.Network) ValueText.parse(ValueKind.NETWORK, text)).range();
  }

  private static String owner(List<Zone> zones, String address) {
    List<RangeSet<Address>> behind = Zone.behind(zones);
    List<String> found = new ArrayList<>();
    for (int z = 0; z < zones.size(); z++) {
      if (behind.get(z).contains(Address.parse(address))) {
        found.add(zones.get(z).name());
      }
    }
    return String.join(" ", found);
  }

  @Test
  void aNetworkInsideAnotherZonesIsItsOwn() {
    List<Zone> zones =
        List.of(zone("Wide", "10.0.0.0/8"), zone("Gate", "10.9.0.0/24"), zone("Rest"));
    assertThat(owner(zones, "10.200.0.1")).isEqualTo("Wide");
    assertThat(owner(zones, "10.8.255.255")).isEqualTo("Wide");
    assertThat(owner(zones, "10.9.0.7")).isEqualTo("Gate");
    assertThat(owner(zones, "192.0.2.1")).isEqualTo("Rest");
    assertThat(Zone.named(zones).get(0).contains(Address.parse("10.9.0.7"))).isTrue();
  }

  @Property(tries = 300)
  void eachAddressLiesBehindTheZoneOfTheSmallestNetworkThatHoldsIt(@ForAll long seed) {
    Random random = new Random(seed);
    List<Zone> zones = new ArrayList<>();
    for (int z = 0; z < 1 + random.nextInt(4); z++) {
      List<Range<Address>> networks = new ArrayList<>();
      for (int n = 0; n < 1 + random.nextInt(4); n++) {
        int low = random.nextInt(64);
        networks.add(new Range<>(at(low), at(low + random.nextInt(64 - low))));
      }
      zones.add(new Zone("z" + z, Zone.Side.INSIDE, networks, ""));
    }
    for (int i = 0; i < 64; i++) {
      assertThat(owner(zones, at(i).toString())).isEqualTo(smallest(zones, at(i)));
    }
  }

  private static Address at(int last) {
    return Address.v4((10L << 24) + last);
  }

  private static String smallest(List<Zone> zones, Address address) {
    List<String> owner = new ArrayList<>();
    BigInteger size = null;
    for (Zone zone : zones) {
      for (Range<Address> network : zone.networks()) {
        BigInteger mine = network.high().number().subtract(network.low().number());
        if (network.contains(address) && (size == null || mine.compareTo(size) <= 0)) {
          if (size == null || mine.compareTo(size) < 0) {
            owner.clear();
          }
          size = mine;
          if (!owner.contains(zone.name())) {
            owner.add(zone.name());
          }
        }
      }
    }
    return String.join(" ", owner);
  }
}
