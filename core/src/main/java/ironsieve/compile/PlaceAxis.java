package ironsieve.compile;

import ironsieve.model.Connection.Place;
import ironsieve.model.Value;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.IndexSet;
import ironsieve.region.Line;
import ironsieve.region.Range;
import ironsieve.region.RangeSet;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * The atoms of a place: pairs of a zone and the addresses behind it that no value of the rulebase
 * tells apart. Pairs whose address does not lie behind the zone do not exist. Found by one sweep
 * over the cut points of all ranges; linear in cut points × (zones + nesting depth).
 */
final class PlaceAxis {

  private final Address[] starts;
  private final Map<String, Integer> zoneNumbers = new HashMap<>();
  private final int[][] atomOf;
  private final List<Place> samples = new ArrayList<>();
  private final double[] weights;
  private final Map<Value, IndexSet> valueSets = new HashMap<>();
  private final Map<String, IndexSet> zoneSets = new HashMap<>();

  /**
   * Zones, and for each value the addresses it stands for.
   *
   * @param used the ranges of one value may overlap
   */
  PlaceAxis(List<Zone> zones, Map<Value, List<Range<Address>>> used) {
    List<Held> held = held(used);
    starts = cuts(zones, held);
    List<List<Integer>> signatures = sweep(held);
    atomOf = new int[zones.size()][starts.length];
    Signatures atoms = new Signatures();
    List<RangeSet<Address>> behind = Zone.behind(zones);
    for (int z = 0; z < zones.size(); z++) {
      zoneNumbers.put(zones.get(z).name(), z);
      BitSet ofZone = new BitSet();
      for (int s = 0; s < starts.length; s++) {
        atomOf[z][s] = -1;
        if (behind.get(z).contains(starts[s])) {
          int before = atoms.count();
          double size = Line.ADDRESSES.count(starts[s], end(s)).doubleValue();
          int atom = atoms.atom(List.of(z, starts[s].version(), signatures.get(s)), size);
          Place place =
              new Place(zones.get(z).name(), Address.typical(new Range<>(starts[s], end(s))));
          if (atom == before) {
            samples.add(place);
          } else if (place.address().isExample()) {
            samples.set(atom, place);
          }
          atomOf[z][s] = atom;
          ofZone.set(atom);
        }
      }
      zoneSets.put(zones.get(z).name(), Signatures.set(ofZone));
    }
    weights = atoms.weights();
    used.forEach((value, ranges) -> valueSets.put(value, atomsOf(ranges)));
  }

  /** A range and the number of the value it belongs to; the ranges of one value are disjoint. */
  private record Held(Range<Address> range, int value) {}

  private static List<Held> held(Map<Value, List<Range<Address>>> used) {
    List<Held> held = new ArrayList<>();
    int number = 0;
    for (List<Range<Address>> ranges : used.values()) {
      for (Range<Address> range :
          ranges.size() == 1 ? ranges : RangeSet.of(Line.ADDRESSES, ranges).ranges()) {
        held.add(new Held(range, number));
      }
      number++;
    }
    held.sort(Comparator.comparing(one -> one.range().low()));
    return held;
  }

  private static Address[] cuts(List<Zone> zones, List<Held> held) {
    TreeSet<Address> cuts = new TreeSet<>();
    cuts.add(Line.ADDRESSES.first());
    cuts.add(Address.first(Address.Version.V6));
    zones.forEach(zone -> zone.networks().forEach(range -> cut(cuts, range)));
    held.forEach(one -> cut(cuts, one.range()));
    return cuts.toArray(Address[]::new);
  }

  private static void cut(TreeSet<Address> cuts, Range<Address> range) {
    cuts.add(range.low());
    if (!range.high().equals(Line.ADDRESSES.last())) {
      cuts.add(Line.ADDRESSES.after(range.high()));
    }
  }

  /** For each segment the numbers of the values that hold it. */
  private List<List<Integer>> sweep(List<Held> held) {
    TreeMap<Address, List<Integer>> ending = new TreeMap<>();
    TreeSet<Integer> active = new TreeSet<>();
    List<List<Integer>> signatures = new ArrayList<>(starts.length);
    int next = 0;
    for (Address start : starts) {
      while (!ending.isEmpty() && ending.firstKey().compareTo(start) < 0) {
        ending.pollFirstEntry().getValue().forEach(active::remove);
      }
      while (next < held.size() && held.get(next).range().low().equals(start)) {
        Held begun = held.get(next++);
        active.add(begun.value());
        ending.computeIfAbsent(begun.range().high(), high -> new ArrayList<>()).add(begun.value());
      }
      signatures.add(List.copyOf(active));
    }
    return signatures;
  }

  private Address end(int segment) {
    return segment + 1 < starts.length
        ? Line.ADDRESSES.before(starts[segment + 1])
        : Line.ADDRESSES.last();
  }

  private int segment(Address address) {
    int at = Arrays.binarySearch(starts, address);
    return at >= 0 ? at : -at - 2;
  }

  private IndexSet atomsOf(List<Range<Address>> ranges) {
    BitSet atoms = new BitSet();
    for (Range<Address> range : ranges) {
      int last = segment(range.high());
      for (int[] ofZone : atomOf) {
        for (int s = segment(range.low()); s <= last; s++) {
          if (ofZone[s] >= 0) {
            atoms.set(ofZone[s]);
          }
        }
      }
    }
    return Signatures.set(atoms);
  }

  IndexSet zone(String name) {
    return zoneSets.get(name);
  }

  /** The atoms of a value that was given to the constructor. */
  IndexSet value(Value value) {
    return valueSets.get(value);
  }

  IndexSet version(Address.Version version) {
    BitSet atoms = new BitSet();
    for (int atom = 0; atom < samples.size(); atom++) {
      if (samples.get(atom).address().version() == version) {
        atoms.set(atom);
      }
    }
    return Signatures.set(atoms);
  }

  /** The atom of a place; nothing if the address does not lie behind the zone. */
  OptionalInt atom(Place place) {
    Integer zone = zoneNumbers.get(place.zone());
    int atom = zone == null ? -1 : atomOf[zone][segment(place.address())];
    return atom < 0 ? OptionalInt.empty() : OptionalInt.of(atom);
  }

  Place sample(int atom) {
    return samples.get(atom);
  }

  double[] weights() {
    return weights;
  }
}
