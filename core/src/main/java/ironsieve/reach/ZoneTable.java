package ironsieve.reach;

import ironsieve.model.Value;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * What passes and what is stopped between each two zones, a question at a time; not thread-safe.
 */
final class ZoneTable {

  private final List<String> from;
  private final List<String> to;
  private final List<Value> asked = new ArrayList<>();
  // One for each pair of zones: whether something passes, at 2·question, and is stopped, next to
  // it.
  private final BitSet[] said;

  ZoneTable(List<String> from, List<String> to) {
    this.from = from;
    this.to = to;
    said = new BitSet[from.size() * to.size()];
    for (int pair = 0; pair < said.length; pair++) {
      said[pair] = new BitSet();
    }
  }

  /** From here on it is said what happens to this. */
  void ask(Value value) {
    asked.add(value);
  }

  /** Says that between some zones something passes, or is stopped. */
  void say(BitSet fromZones, BitSet toZones, boolean passes) {
    int bit = 2 * (asked.size() - 1) + (passes ? 0 : 1);
    fromZones.stream()
        .forEach(f -> toZones.stream().forEach(t -> said[f * to.size() + t].set(bit)));
  }

  /** The pairs of zones that agree in everything; those between which most can be used first. */
  List<ZoneGroup> groups() {
    Map<BitSet, BitSet> alike = new LinkedHashMap<>();
    for (int pair = 0; pair < said.length; pair++) {
      // Nothing goes between two zones where nothing was said.
      if (!said[pair].isEmpty()) {
        alike.computeIfAbsent(said[pair], key -> new BitSet()).set(pair);
      }
    }
    List<ZoneGroup> groups = new ArrayList<>();
    alike.forEach(
        (what, pairs) ->
            groups.add(
                new ZoneGroup(
                    ways(pairs),
                    those(what, true, false),
                    those(what, true, true),
                    those(what, false, true))));
    groups.sort(
        Comparator.comparingInt(
                (ZoneGroup group) -> group.allowed().size() + group.depends().size())
            .thenComparingInt(ZoneGroup::pairs)
            .reversed());
    return groups;
  }

  private List<Value> those(BitSet what, boolean passes, boolean stopped) {
    List<Value> found = new ArrayList<>();
    for (int a = 0; a < asked.size(); a++) {
      if (what.get(2 * a) == passes && what.get(2 * a + 1) == stopped) {
        found.add(asked.get(a));
      }
    }
    return found;
  }

  /** Zones from which it goes to the same zones are told together. */
  private List<ZoneGroup.Way> ways(BitSet pairs) {
    Map<BitSet, List<String>> together = new LinkedHashMap<>();
    for (int f = 0; f < from.size(); f++) {
      BitSet goesTo = pairs.get(f * to.size(), (f + 1) * to.size());
      if (!goesTo.isEmpty()) {
        together.computeIfAbsent(goesTo, key -> new ArrayList<>()).add(from.get(f));
      }
    }
    List<ZoneGroup.Way> ways = new ArrayList<>();
    together.forEach(
        (goesTo, zones) ->
            ways.add(new ZoneGroup.Way(zones, goesTo.stream().mapToObj(to::get).toList())));
    return ways;
  }
}
