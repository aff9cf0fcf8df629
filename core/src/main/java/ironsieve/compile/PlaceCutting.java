package ironsieve.compile;

import ironsieve.model.Connection.Place;
import ironsieve.region.Address;
import ironsieve.region.IndexSet;
import ironsieve.region.Weights;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import java.util.stream.IntStream;

/**
 * Cuts the atoms of places by a few more values, with the pieces' numbers, weights and samples.
 * What no value holds of an atom keeps its number, so that only what they hold is looked at; all
 * else is copied.
 */
final class PlaceCutting {

  /** Sums of whole numbers below it are exact, so that one can be taken from another. */
  private static final double EXACT = 1L << 53;

  private final Address[] starts;
  private final int[][] atomOf;
  private final String[] zones;
  private final int before;
  // Of the atoms there were, then of the new ones.
  private final List<Place> samples;
  private final double[] sizes;
  private final List<Integer> addedParents = new ArrayList<>();
  private final List<Double> addedSizes = new ArrayList<>();

  /** Addresses of one run behind one zone, by their numbers. */
  private record Spot(int zone, int run) {}

  /**
   * Cuts.
   *
   * @param oldStarts where each run of addresses starts, ascending
   * @param oldAtomOf for each zone the atom of each run, −1 for none
   * @param zones the names of the zones
   * @param held what the values hold, ascending; nothing where they stand for no address
   */
  PlaceCutting(
      Address[] oldStarts,
      int[][] oldAtomOf,
      List<Place> oldSamples,
      Weights oldWeights,
      String[] zones,
      List<PlaceAxis.Held> held) {
    this.zones = zones;
    before = oldSamples.size();
    samples = new ArrayList<>(oldSamples);
    sizes = IntStream.range(0, before).mapToDouble(oldWeights::of).toArray();
    TreeSet<Address> cuts = new TreeSet<>();
    held.forEach(one -> PlaceAxis.cut(cuts, one.range()));
    cuts.removeIf(cut -> Arrays.binarySearch(oldStarts, cut) >= 0);
    starts = new Address[oldStarts.length + cuts.size()];
    atomOf = new int[oldAtomOf.length][starts.length];
    copy(oldStarts, oldAtomOf, cuts);
    piecesOf(held).forEach(this::cut);
  }

  /** Puts more starts between the old ones; what follows one belongs to what it did before. */
  private void copy(Address[] oldStarts, int[][] oldAtomOf, TreeSet<Address> more) {
    int from = 0;
    int put = 0;
    for (Address cut : more) {
      int to = -Arrays.binarySearch(oldStarts, cut) - 1;
      copy(oldStarts, oldAtomOf, from, to, put);
      starts[to + put] = cut;
      for (int z = 0; z < atomOf.length; z++) {
        atomOf[z][to + put] = oldAtomOf[z][to - 1];
      }
      from = to;
      put++;
    }
    copy(oldStarts, oldAtomOf, from, oldStarts.length, put);
  }

  private void copy(Address[] oldStarts, int[][] oldAtomOf, int from, int to, int put) {
    System.arraycopy(oldStarts, from, starts, from + put, to - from);
    for (int z = 0; z < atomOf.length; z++) {
      System.arraycopy(oldAtomOf[z], from, atomOf[z], from + put, to - from);
    }
  }

  /** For each atom that is touched, for each combination of values what they hold of it. */
  private Map<Integer, Map<List<Integer>, List<Spot>>> piecesOf(List<PlaceAxis.Held> held) {
    if (held.isEmpty()) {
      return Map.of();
    }
    Address last =
        held.stream().map(one -> one.range().high()).max(Address::compareTo).orElseThrow();
    int low = PlaceAxis.segment(starts, held.get(0).range().low());
    int high = PlaceAxis.segment(starts, last);
    List<List<Integer>> holders = PlaceAxis.sweep(Arrays.copyOfRange(starts, low, high + 1), held);
    Map<Integer, Map<List<Integer>, List<Spot>>> pieces = new LinkedHashMap<>();
    for (int zone = 0; zone < atomOf.length; zone++) {
      for (int run = low; run <= high; run++) {
        if (atomOf[zone][run] >= 0 && !holders.get(run - low).isEmpty()) {
          pieces
              .computeIfAbsent(atomOf[zone][run], atom -> new LinkedHashMap<>())
              .computeIfAbsent(holders.get(run - low), values -> new ArrayList<>())
              .add(new Spot(zone, run));
        }
      }
    }
    return pieces;
  }

  private void cut(int atom, Map<List<Integer>, List<Spot>> pieces) {
    List<Spot> last = List.of();
    double held = 0;
    for (List<Spot> piece : pieces.values()) {
      addedParents.add(atom);
      addedSizes.add(0.0);
      samples.add(null);
      held += given(samples.size() - 1, piece);
      last = piece;
    }
    if (!hasRest(atom, last.get(0).zone(), held)) {
      // One of the pieces keeps the number then.
      addedParents.remove(addedParents.size() - 1);
      addedSizes.remove(addedSizes.size() - 1);
      samples.remove(samples.size() - 1);
      given(atom, last);
    }
  }

  /** Gives a piece its number; returns how many addresses it has. */
  private double given(int number, List<Spot> piece) {
    double sum = 0;
    for (Spot spot : piece) {
      atomOf[spot.zone()][spot.run()] = number;
      sum += size(spot);
    }
    if (number < before) {
      sizes[number] = sum;
    } else {
      addedSizes.set(number - before, sum);
    }
    samples.set(number, sample(piece));
    return sum;
  }

  private double size(Spot spot) {
    return PlaceAxis.size(PlaceAxis.run(starts, spot.run()));
  }

  private Place sample(List<Spot> piece) {
    Spot best =
        piece.stream()
            .filter(spot -> Address.hasExample(PlaceAxis.run(starts, spot.run())))
            .findFirst()
            .orElse(piece.get(0));
    return new Place(zones[best.zone()], Address.typical(PlaceAxis.run(starts, best.run())));
  }

  /** Whether anything of an atom has kept its number; gives that its size and its sample. */
  private boolean hasRest(int atom, int zone, double held) {
    boolean isExact = sizes[atom] < EXACT;
    int at = PlaceAxis.segment(starts, samples.get(atom).address());
    if (isExact && sizes[atom] > held && atomOf[zone][at] == atom) {
      sizes[atom] -= held;
      return true;
    }
    List<Spot> rest =
        IntStream.range(0, starts.length)
            .filter(run -> atomOf[zone][run] == atom)
            .mapToObj(run -> new Spot(zone, run))
            .toList();
    if (!rest.isEmpty()) {
      given(atom, rest);
    }
    return !rest.isEmpty();
  }

  Address[] starts() {
    return starts;
  }

  int[][] atomOf() {
    return atomOf;
  }

  List<Place> samples() {
    return samples;
  }

  Weights weights() {
    double[] all = Arrays.copyOf(sizes, samples.size());
    for (int i = 0; i < addedSizes.size(); i++) {
      all[before + i] = addedSizes.get(i);
    }
    return new Weights(all);
  }

  /** For each atom the one it was or was cut from. */
  int[] parents() {
    int[] parents = new int[samples.size()];
    for (int atom = 0; atom < parents.length; atom++) {
      parents[atom] = atom < before ? atom : addedParents.get(atom - before);
    }
    return parents;
  }

  /** All pieces of some of the atoms there were. */
  IndexSet carried(IndexSet atoms) {
    BitSet added = new BitSet();
    for (int i = 0; i < addedParents.size(); i++) {
      if (atoms.contains(addedParents.get(i))) {
        added.set(before + i);
      }
    }
    return atoms.union(Signatures.set(added));
  }
}
