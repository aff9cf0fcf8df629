package ironsieve.compile;

import ironsieve.model.Connection.Place;
import ironsieve.model.Value;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.IndexSet;
import ironsieve.region.Line;
import ironsieve.region.Range;
import ironsieve.region.RangeSet;
import ironsieve.region.Weights;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import java.util.stream.Stream;

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
  private final Weights weights;

  /** Of the values that were asked for. */
  private final Map<Value, IndexSet> known = new ConcurrentHashMap<>();

  private final Map<String, IndexSet> zoneSets = new HashMap<>();
  private final Map<Address.Version, IndexSet> versionSets = new EnumMap<>(Address.Version.class);

  /**
   * Zones, and the addresses that each value stands for.
   *
   * @param used the ranges of one value may overlap
   */
  PlaceAxis(List<Zone> zones, List<List<Range<Address>>> used) {
    List<Held> held = held(used);
    starts = cuts(zones, held);
    List<List<Integer>> signatures = sweep(starts, held);
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
          Range<Address> run = run(starts, s);
          int atom = atoms.atom(List.of(z, starts[s].version(), signatures.get(s)), size(run));
          Place place = new Place(zones.get(z).name(), Address.typical(run));
          if (atom == before) {
            samples.add(place);
          } else if (Address.hasExample(run)) {
            samples.set(atom, place);
          }
          atomOf[z][s] = atom;
          ofZone.set(atom);
        }
      }
      zoneSets.put(zones.get(z).name(), Signatures.set(ofZone));
    }
    weights = atoms.weights();
    for (Address.Version version : Address.Version.values()) {
      versionSets.put(version, sampledIn(version));
    }
  }

  private IndexSet sampledIn(Address.Version version) {
    BitSet atoms = new BitSet();
    for (int atom = 0; atom < samples.size(); atom++) {
      atoms.set(atom, samples.get(atom).address().version() == version);
    }
    return Signatures.set(atoms);
  }

  private PlaceAxis(PlaceAxis coarser, PlaceCutting cutting) {
    starts = cutting.starts();
    atomOf = cutting.atomOf();
    weights = cutting.weights();
    samples.addAll(cutting.samples());
    zoneNumbers.putAll(coarser.zoneNumbers);
    coarser.zoneSets.forEach((zone, atoms) -> zoneSets.put(zone, cutting.carried(atoms)));
    coarser.versionSets.forEach((of, atoms) -> versionSets.put(of, cutting.carried(atoms)));
  }

  /**
   * An axis that tells more values apart than another.
   *
   * @param parents for each atom of it the one it was or was cut from
   */
  record Cut(PlaceAxis axis, int[] parents) {}

  /**
   * These atoms, cut by more values. Atoms keep their numbers; what is cut off from one is new and
   * numbered after all others.
   *
   * @param more the addresses of values this axis does not know
   */
  Cut cut(List<List<Range<Address>>> more) {
    String[] zones = new String[zoneNumbers.size()];
    zoneNumbers.forEach((zone, number) -> zones[number] = zone);
    PlaceCutting cutting = new PlaceCutting(starts, atomOf, samples, weights, zones, held(more));
    return new Cut(new PlaceAxis(this, cutting), cutting.parents());
  }

  /** A range and the number of the value it belongs to; the ranges of one value are disjoint. */
  record Held(Range<Address> range, int value) {}

  private static List<Held> held(List<List<Range<Address>>> used) {
    List<Held> held = new ArrayList<>();
    int number = 0;
    for (List<Range<Address>> ranges : used) {
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

  /** Where the line is cut to tell a range from what is around it. */
  static void cut(TreeSet<Address> cuts, Range<Address> range) {
    cuts.add(range.low());
    if (!range.high().equals(Line.ADDRESSES.last())) {
      cuts.add(Line.ADDRESSES.after(range.high()));
    }
  }

  /**
   * For each segment the numbers of the values that hold it, ascending; linear in segments and
   * values but for how many hold one segment at once.
   */
  static List<List<Integer>> sweep(Address[] starts, List<Held> held) {
    TreeMap<Address, List<Integer>> ending = new TreeMap<>();
    TreeSet<Integer> active = new TreeSet<>();
    List<List<Integer>> signatures = new ArrayList<>(starts.length);
    List<Integer> same = List.of();
    int next = 0;
    for (Address start : starts) {
      boolean changed = false;
      while (!ending.isEmpty() && ending.firstKey().compareTo(start) < 0) {
        ending.pollFirstEntry().getValue().forEach(active::remove);
        changed = true;
      }
      while (next < held.size() && held.get(next).range().low().equals(start)) {
        Held begun = held.get(next++);
        active.add(begun.value());
        ending.computeIfAbsent(begun.range().high(), high -> new ArrayList<>()).add(begun.value());
        changed = true;
      }
      same = changed ? List.copyOf(active) : same;
      signatures.add(same);
    }
    return signatures;
  }

  /** How many addresses. */
  static double size(Range<Address> run) {
    long spread = run.high().low() - run.low().low();
    boolean isExact =
        run.low().version() == run.high().version()
            && run.low().high() == run.high().high()
            && spread >= 0
            && spread < 1L << 53;
    return isExact ? spread + 1.0 : Line.ADDRESSES.count(run.low(), run.high()).doubleValue();
  }

  static Range<Address> run(Address[] starts, int segment) {
    return new Range<>(
        starts[segment],
        segment + 1 < starts.length
            ? Line.ADDRESSES.before(starts[segment + 1])
            : Line.ADDRESSES.last());
  }

  private int segment(Address address) {
    return segment(starts, address);
  }

  static int segment(Address[] starts, Address address) {
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

  /** The runs of addresses behind a zone, by its number, that some of its atoms hold. */
  List<Range<Address>> runs(int zone, IndexSet atoms) {
    List<Range<Address>> runs = new ArrayList<>();
    for (int s = 0; s < starts.length; s++) {
      if (atomOf[zone][s] >= 0 && atoms.contains(atomOf[zone][s])) {
        runs.add(run(starts, s));
      }
    }
    return RangeSet.of(Line.ADDRESSES, runs).ranges().stream()
        .flatMap(PlaceAxis::byVersion)
        .toList();
  }

  /** IPv4 and IPv6 lie on one line, but nobody writes a range over both. */
  private static Stream<Range<Address>> byVersion(Range<Address> run) {
    Address second = Address.first(Address.Version.V6);
    return run.low().version() == run.high().version()
        ? Stream.of(run)
        : Stream.of(
            new Range<>(run.low(), Line.ADDRESSES.before(second)), new Range<>(second, run.high()));
  }

  /** The atoms of a zone, by its number, that have an address in a run. */
  IndexSet inside(int zone, Range<Address> run) {
    BitSet atoms = new BitSet();
    int last = segment(run.high());
    for (int s = segment(run.low()); s <= last; s++) {
      if (atomOf[zone][s] >= 0) {
        atoms.set(atomOf[zone][s]);
      }
    }
    return Signatures.set(atoms);
  }

  /**
   * The atoms of a value.
   *
   * @param addresses those that a value stands for, if it was not asked for before; they must be
   *     known to the axis
   */
  IndexSet value(Value value, Function<Value, List<Range<Address>>> addresses) {
    return known.computeIfAbsent(value, asked -> atomsOf(addresses.apply(asked)));
  }

  IndexSet version(Address.Version version) {
    return versionSets.get(version);
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

  Weights weights() {
    return weights;
  }
}
