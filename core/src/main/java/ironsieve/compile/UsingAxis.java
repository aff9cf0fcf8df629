package ironsieve.compile;

import ironsieve.model.Application;
import ironsieve.model.Catalogue;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Value;
import ironsieve.region.IndexSet;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * The atoms of application use. The leaves are, for each application, each of its features and
 * "none of them", and one more for unrecognised traffic; leaves that no value tells apart are one
 * atom.
 */
final class UsingAxis {

  /** Applications that share their usual ports, where a rule holds them to those. */
  record PortClass(List<Value.ServiceRange> usualPorts, IndexSet atoms) {}

  private final Map<ApplicationUse, Integer> atomOf = new HashMap<>();
  private final Map<Value, BitSet> atomsOfValue = new HashMap<>();
  private final Map<List<Value.ServiceRange>, BitSet> portClasses = new LinkedHashMap<>();
  private final List<ApplicationUse> samples = new ArrayList<>();
  private final double[] weights;

  UsingAxis(Catalogue catalogue, Collection<Value> used, boolean usualPortsMatter) {
    Set<Value> telling = new HashSet<>(used);
    Signatures atoms = new Signatures();
    for (Application application : catalogue.applications()) {
      List<Value.ServiceRange> ports =
          usualPortsMatter ? application.wiring().usualPorts() : List.of();
      leaf(atoms, telling, application, Optional.empty(), ports);
      for (String feature : application.features()) {
        leaf(atoms, telling, application, Optional.of(feature), ports);
      }
    }
    int unrecognised = atoms.atom(Value.Unrecognised.APPLICATION, 1);
    samples.add(ApplicationUse.UNRECOGNISED);
    atomOf.put(ApplicationUse.UNRECOGNISED, unrecognised);
    bits(atomsOfValue, Value.Unrecognised.APPLICATION).set(unrecognised);
    bits(portClasses, List.of()).set(unrecognised);
    weights = atoms.weights();
  }

  private void leaf(
      Signatures atoms,
      Set<Value> telling,
      Application application,
      Optional<String> feature,
      List<Value.ServiceRange> ports) {
    List<Value> holders = new ArrayList<>();
    holders.add(new Value.ApplicationName(application.name()));
    holders.add(new Value.FamilyName(application.grouping().family()));
    holders.add(new Value.CategoryName(application.grouping().category()));
    feature.ifPresent(name -> holders.add(new Value.FeatureName(application.name(), name)));
    holders.retainAll(telling);
    ApplicationUse use = new ApplicationUse(Optional.of(application.name()), feature);
    int atom = atoms.atom(List.of(holders, ports), 1);
    if (atom == samples.size()) {
      samples.add(use);
    }
    atomOf.put(use, atom);
    holders.forEach(value -> bits(atomsOfValue, value).set(atom));
    bits(portClasses, ports).set(atom);
  }

  private static <K> BitSet bits(Map<K, BitSet> map, K key) {
    return map.computeIfAbsent(key, k -> new BitSet());
  }

  IndexSet atoms(Value value) {
    return Signatures.set(atomsOfValue.getOrDefault(value, new BitSet()));
  }

  /** Every atom in exactly one class. */
  List<PortClass> portClasses() {
    return portClasses.entrySet().stream()
        .map(entry -> new PortClass(entry.getKey(), Signatures.set(entry.getValue())))
        .toList();
  }

  /** The atom of a use; −1 for an application or feature the catalogue does not have. */
  int atom(ApplicationUse use) {
    return atomOf.getOrDefault(use, -1);
  }

  ApplicationUse sample(int atom) {
    return samples.get(atom);
  }

  double[] weights() {
    return weights;
  }
}
