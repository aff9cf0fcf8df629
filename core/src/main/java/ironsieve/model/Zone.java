package ironsieve.model;

import ironsieve.region.Address;
import ironsieve.region.Line;
import ironsieve.region.Range;
import ironsieve.region.RangeSet;
import java.util.List;

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

  /** What lies behind each zone; a zone that names no networks has what no other zone names. */
  public static List<RangeSet<Address>> behind(List<Zone> zones) {
    List<Range<Address>> named = zones.stream().flatMap(z -> z.networks().stream()).toList();
    RangeSet<Address> rest = RangeSet.of(Line.ADDRESSES, named).complement();
    return zones.stream()
        .map(z -> z.networks().isEmpty() ? rest : RangeSet.of(Line.ADDRESSES, z.networks()))
        .toList();
  }
}
