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
          double size = Line.ADDRESSES.count(run.low(), run.high()).doubleValue();
          int atom = atoms.atom(List.of(z, starts[s].version(), signatures.get(s)), size);
          Place place = new Place(zones.get(z).name(), Address.typical(run));
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
  }

  private PlaceAxis(Address[] starts, PlaceAxis coarser, int[][] atomOf, Weights weights) {
    this.starts = starts;
    this.atomOf = atomOf;
    this.weights = weights;
    zoneNumbers.putAll(coarser.zoneNumbers);
  }

  /**
   * These atoms, cut by more values. Atoms keep their numbers; what is cut off from one is new and
   * numbered after all others.
   *
   * @param more the addresses of values this axis does not know
   * @param parents gets for each atom of the result the one it was or was cut from
   */
  PlaceAxis cut(List<List<Range<Address>>> more, List<Integer> parents) {
    List<Held> held = held(more);
    TreeSet<Address> cuts = new TreeSet<>();
    held.forEach(one -> cut(cuts, one.range()));
    Address[] finer = startsAnd(cuts);
    List<List<Integer>> holders = sweep(finer, held);
    int[] oldSegments = new int[finer.length];
    BitSet touched = new BitSet();
    for (int s = 0; s < finer.length; s++) {
      int last = s == 0 ? -1 : oldSegments[s - 1];
      oldSegments[s] =
          last + 1 < starts.length && starts[last + 1].equals(finer[s]) ? last + 1 : last;
      if (!holders.get(s).isEmpty()) {
        for (int[] ofZone : atomOf) {
          if (ofZone[oldSegments[s]] >= 0) {
            touched.set(ofZone[oldSegments[s]]);
          }
        }
      }
    }
    Cutting cutting = new Cutting(touched, parents);
    int[][] atoms = new int[atomOf.length][finer.length];
    for (int z = 0; z < atomOf.length; z++) {
      for (int s = 0; s < finer.length; s++) {
        int old = atomOf[z][oldSegments[s]];
        boolean whole = old < 0 || !touched.get(old);
        atoms[z][s] = whole ? old : cutting.atom(old, holders.get(s), z, run(finer, s));
      }
    }
    PlaceAxis next = new PlaceAxis(finer, this, atoms, cutting.sizes());
    cutting.fill(next);
    return next;
  }

  /** The starts of all segments with some more among them, ascending. */
  private Address[] startsAnd(TreeSet<Address> more) {
    more.removeIf(cut -> Arrays.binarySearch(starts, cut) >= 0);
    Address[] all = Arrays.copyOf(starts, starts.length + more.size());
    int next = starts.length + more.size();
    int old = starts.length;
    for (Address cut : more.descendingSet()) {
      while (old > 0 && starts[old - 1].compareTo(cut) > 0) {
        all[--next] = starts[--old];
      }
      all[--next] = cut;
    }
    return all;
  }

  /** Gives the pieces of atoms that are cut their numbers, weights and samples. */
  private final class Cutting {
    private final List<Integer> parents;
    private final Map<List<Object>, Integer> numbers = new HashMap<>();
    private final BitSet begun = new BitSet();
    private final List<Double> sizes = new ArrayList<>();
    private final List<Place> places = new ArrayList<>(samples);
    private final List<String> zoneNames = new ArrayList<>();

    private Cutting(BitSet touched, List<Integer> parents) {
      this.parents = parents;
      for (int atom = 0; atom < samples.size(); atom++) {
        parents.add(atom);
        sizes.add(touched.get(atom) ? 0.0 : weights.of(atom));
      }
      zoneNumbers.keySet().stream()
          .sorted(Comparator.comparing(zoneNumbers::get))
          .forEach(zoneNames::add);
    }

    private int atom(int old, List<Integer> holders, int zone, Range<Address> run) {
      List<Object> piece = List.of(old, holders);
      Integer known = numbers.get(piece);
      int atom = known == null ? number(old, piece) : known;
      sizes.set(atom, sizes.get(atom) + Line.ADDRESSES.count(run.low(), run.high()).doubleValue());
      Place place = new Place(zoneNames.get(zone), Address.typical(run));
      if (known == null || place.address().isExample()) {
        places.set(atom, place);
      }
      return atom;
    }

    private int number(int old, List<Object> piece) {
      int atom = old;
      if (begun.get(old)) {
        atom = parents.size();
        parents.add(old);
        sizes.add(0.0);
        places.add(null);
      }
      begun.set(old);
      numbers.put(piece, atom);
      return atom;
    }

    private Weights sizes() {
      return new Weights(sizes.stream().mapToDouble(Double::doubleValue).toArray());
    }

    private void fill(PlaceAxis next) {
      next.samples.addAll(places);
      zoneSets.forEach((zone, atoms) -> next.zoneSets.put(zone, carried(atoms)));
    }

    private IndexSet carried(IndexSet atoms) {
      IndexSet all = atoms;
      for (int atom = samples.size(); atom < parents.size(); atom++) {
        if (atoms.contains(parents.get(atom))) {
          all = all.union(IndexSet.of(atom));
        }
      }
      return all;
    }
  }

  /** A range and the number of the value it belongs to; the ranges of one value are disjoint. */
  private record Held(Range<Address> range, int value) {}

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

  private static void cut(TreeSet<Address> cuts, Range<Address> range) {
    cuts.add(range.low());
    if (!range.high().equals(Line.ADDRESSES.last())) {
      cuts.add(Line.ADDRESSES.after(range.high()));
    }
  }

  /**
   * For each segment the numbers of the values that hold it, ascending; linear in segments and
   * values but for how many hold one segment at once.
   */
  private static List<List<Integer>> sweep(Address[] starts, List<Held> held) {
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

  private static Range<Address> run(Address[] starts, int segment) {
    return new Range<>(
        starts[segment],
        segment + 1 < starts.length
            ? Line.ADDRESSES.before(starts[segment + 1])
            : Line.ADDRESSES.last());
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

  Weights weights() {
    return weights;
  }
}
