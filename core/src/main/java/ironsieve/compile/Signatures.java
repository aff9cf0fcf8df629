package ironsieve.compile;

import ironsieve.region.IndexSet;
import ironsieve.region.Weights;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Numbers things by what tells them apart: two things with equal signatures get the same atom.
 * Atoms are numbered in the order their first member arrives, so neighbours stay neighbours.
 */
final class Signatures {

  private final Map<Object, Integer> atoms = new HashMap<>();
  private final List<Double> weights = new ArrayList<>();

  /** The atom of a thing with this signature that weighs this much. */
  int atom(Object signature, double weight) {
    Integer known = atoms.get(signature);
    if (known != null) {
      more(known, weight);
      return known;
    }
    atoms.put(signature, weights.size());
    weights.add(weight);
    return weights.size() - 1;
  }

  /** One more thing of an atom. */
  void more(int atom, double weight) {
    weights.set(atom, weights.get(atom) + weight);
  }

  int count() {
    return weights.size();
  }

  Weights weights() {
    return new Weights(weights.stream().mapToDouble(Double::doubleValue).toArray());
  }

  /** The set of atoms with a bit in it. */
  static IndexSet set(BitSet bits) {
    return IndexSet.ofWords(bits.toLongArray());
  }
}
