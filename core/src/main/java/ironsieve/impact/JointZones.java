package ironsieve.impact;

import ironsieve.model.Connection.Place;
import ironsieve.model.Environment;
import ironsieve.model.Value;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.Line;
import ironsieve.region.RangeSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * The zones of two surroundings put together: one for each pair of a zone before and a zone after
 * that have addresses in common. An address that has no zone at one moment is in none. Immutable.
 */
final class JointZones {

  private final Map<MomentPair, Zone> zones = new LinkedHashMap<>();
  private final Map<String, MomentPair> byName = new HashMap<>();

  JointZones(Environment before, Environment after) {
    pairAll(before, after);
  }

  /** All of them. */
  List<Zone> all() {
    return List.copyOf(zones.values());
  }

  private void pairAll(Environment before, Environment after) {
    List<RangeSet<Address>> behindBefore = Zone.behind(before.zones());
    List<RangeSet<Address>> behindAfter = Zone.behind(after.zones());
    Map<String, RangeSet<Address>> sinceThen = new HashMap<>();
    for (int a = 0; a < behindAfter.size(); a++) {
      sinceThen.put(after.zones().get(a).name(), behindAfter.get(a));
    }
    Map<String, RangeSet<Address>> untilNow = new HashMap<>();
    for (int b = 0; b < behindBefore.size(); b++) {
      untilNow.put(before.zones().get(b).name(), behindBefore.get(b));
    }
    RangeSet<Address> none = RangeSet.empty(Line.ADDRESSES);
    for (Zone old : before.zones()) {
      RangeSet<Address> own = untilNow.get(old.name());
      RangeSet<Address> lost = own.minus(sinceThen.getOrDefault(old.name(), none));
      for (Zone next : after.zones()) {
        RangeSet<Address> all = sinceThen.get(next.name());
        RangeSet<Address> gained = all.minus(untilNow.getOrDefault(next.name(), none));
        pair(
            old,
            next,
            next.name().equals(old.name())
                ? own.intersect(all)
                : own.intersect(gained).union(lost.intersect(all)));
      }
    }
  }

  private void pair(Zone old, Zone next, RangeSet<Address> ranges) {
    if (!ranges.isEmpty()) {
      MomentPair pair = new MomentPair(old.name(), next.name());
      boolean outside = old.side() == Zone.Side.OUTSIDE || next.side() == Zone.Side.OUTSIDE;
      Zone.Side side = outside ? Zone.Side.OUTSIDE : next.side();
      zones.put(pair, new Zone(pair.joint(), side, ranges.ranges(), ""));
      byName.put(pair.joint(), pair);
    }
  }

  /** The zones that a name means at a moment. */
  List<Value> meant(Value.ZoneName zone, Moment moment) {
    List<Value> meant =
        zones.keySet().stream()
            .filter(pair -> pair.at(moment).equals(zone.name()))
            .map(pair -> (Value) new Value.ZoneName(pair.joint()))
            .toList();
    return meant.isEmpty() ? List.of(new Value.ZoneName(MomentNames.NOTHING)) : meant;
  }

  /** A place as it is at a moment. */
  Place at(Place place, Moment moment) {
    return new Place(byName.get(place.zone()).at(moment), place.address());
  }
}
