package ironsieve.model;

import ironsieve.region.Address;
import ironsieve.region.Line;
import ironsieve.region.Range;
import ironsieve.region.RangeSet;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * One zone of the gateway.
 *
 * @param name unique
 * @param side where it lies as seen from the company
 * @param networks what lies behind it; none means everything that lies behind no other zone
 * @param note what it is; may be empty
 */
public record Zone(String name, Side side, List<Range<Address>> networks, String note) {

  /** Where a zone lies. */
  public enum Side {
    INSIDE,
    OUTSIDE,
    /** The gateway itself. */
    GATEWAY
  }

  public Zone {
    networks = List.copyOf(networks);
  }

  /**
   * What lies behind each zone: an address that several zones name belongs to the zone whose
   * network is the most specific, and behind two zones lies only what both name equally
   * specifically; a zone that names no networks has what no other zone names.
   */
  public static List<RangeSet<Address>> behind(List<Zone> zones) {
    List<Claim> claims = new ArrayList<>();
    for (int z = 0; z < zones.size(); z++) {
      for (Range<Address> network : zones.get(z).networks()) {
        claims.add(new Claim(network, Line.ADDRESSES.count(network.low(), network.high()), z));
      }
    }
    claims.sort(Comparator.comparing(Claim::size));
    // What more specific networks take, as disjoint runs by where they begin.
    TreeMap<Address, Address> taken = new TreeMap<>();
    List<List<Range<Address>>> behind = new ArrayList<>();
    zones.forEach(zone -> behind.add(new ArrayList<>()));
    for (int from = 0; from < claims.size(); ) {
      int to = from;
      while (to < claims.size() && claims.get(to).size().equals(claims.get(from).size())) {
        Claim claim = claims.get(to);
        behind.get(claim.zone()).addAll(left(claim.network(), taken));
        to++;
      }
      for (Claim claim : claims.subList(from, to)) {
        left(claim.network(), taken).forEach(run -> taken.put(run.low(), run.high()));
      }
      from = to;
    }
    RangeSet<Address> rest =
        RangeSet.of(Line.ADDRESSES, claims.stream().map(Claim::network).toList()).complement();
    List<RangeSet<Address>> sets = new ArrayList<>();
    for (int z = 0; z < zones.size(); z++) {
      sets.add(
          zones.get(z).networks().isEmpty() ? rest : RangeSet.of(Line.ADDRESSES, behind.get(z)));
    }
    return sets;
  }

  /**
   * What each zone names itself, where several may name the same; all else for one that names none.
   */
  public static List<RangeSet<Address>> named(List<Zone> zones) {
    List<Range<Address>> all = zones.stream().flatMap(zone -> zone.networks().stream()).toList();
    RangeSet<Address> rest = RangeSet.of(Line.ADDRESSES, all).complement();
    return zones.stream()
        .map(
            zone -> zone.networks().isEmpty() ? rest : RangeSet.of(Line.ADDRESSES, zone.networks()))
        .toList();
  }

  private record Claim(Range<Address> network, BigInteger size, int zone) {}

  /** What of a network is not taken yet. */
  private static List<Range<Address>> left(
      Range<Address> network, TreeMap<Address, Address> taken) {
    List<Range<Address>> left = new ArrayList<>();
    Map.Entry<Address, Address> before = taken.floorEntry(network.low());
    Address from = network.low();
    if (before != null && before.getValue().compareTo(from) >= 0) {
      if (before.getValue().compareTo(network.high()) >= 0) {
        return left;
      }
      from = Line.ADDRESSES.after(before.getValue());
    }
    for (Map.Entry<Address, Address> run : taken.tailMap(from, true).entrySet()) {
      if (run.getKey().compareTo(network.high()) > 0) {
        break;
      }
      if (run.getKey().compareTo(from) > 0) {
        left.add(new Range<>(from, Line.ADDRESSES.before(run.getKey())));
      }
      if (run.getValue().compareTo(network.high()) >= 0) {
        return left;
      }
      from = Line.ADDRESSES.after(run.getValue());
    }
    left.add(new Range<>(from, network.high()));
    return left;
  }
}
