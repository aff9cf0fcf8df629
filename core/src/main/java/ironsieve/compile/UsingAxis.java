package ironsieve.compile;

import ironsieve.model.Application;
import ironsieve.model.Catalogue;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Value;
import ironsieve.region.IndexSet;
import ironsieve.region.Weights;
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
import java.util.stream.Stream;

/**
 * The atoms of application use. The leaves are, for each application and each carrier it rides on,
 * each of its features and "none of them", and one more for unrecognised traffic; leaves that no
 * value tells apart are one atom. An application weighs one for each feature and one for none,
 * shared out among its carriers.
 */
final class UsingAxis {

  /** Applications that share their usual ports, where a rule holds them to those. */
  record PortClass(List<Value.ServiceRange> usualPorts, IndexSet atoms) {}

  private static final int NONE = -1;

  /** Room for so many uses of each application at first. */
  private static final int PARTS_OF_MOST = 8;

  private final Map<ApplicationUse, Integer> atomOf;
  private final Map<Value, BitSet> atomsOfValue = new HashMap<>();
  private final Map<List<Value.ServiceRange>, BitSet> portClasses = new LinkedHashMap<>();
  private final Map<Optional<String>, BitSet> atomsByOutside = new HashMap<>();
  private final Map<ApplicationUse, BitSet> encryptedGroups = new HashMap<>();
  private final List<ApplicationUse> samples = new ArrayList<>();
  private final Weights weights;
  private final Catalogue catalogue;
  private final Set<String> carriers = new HashSet<>();
  private final Set<Value> telling;
  private final Set<String> toldByFeature = new HashSet<>();
  private final List<Value.Filter> filters = new ArrayList<>();
  private final Map<String, List<Value.ApplicationOver>> overs = new HashMap<>();
  private final Signatures atoms = new Signatures();

  UsingAxis(Catalogue catalogue, Collection<Value> used, boolean usualPortsMatter) {
    this.catalogue = catalogue;
    atomOf = new HashMap<>(catalogue.applications().size() * PARTS_OF_MOST);
    catalogue.applications().forEach(a -> carriers.addAll(a.wiring().ridesOn()));
    telling = new HashSet<>(used);
    for (Value value : telling) {
      if (value instanceof Value.FeatureName feature) {
        toldByFeature.add(feature.application());
      } else if (value instanceof Value.ApplicationOver over) {
        overs.computeIfAbsent(over.application(), name -> new ArrayList<>()).add(over);
        if (!over.parts().isEmpty()) {
          toldByFeature.add(over.application());
        }
      } else if (value instanceof Value.Filter filter) {
        filters.add(filter);
      }
    }
    for (Application application : catalogue.applications()) {
      List<Value.ServiceRange> ports =
          usualPortsMatter ? application.wiring().usualPorts() : List.of();
      List<Optional<String>> over = application.carriers();
      over.forEach(carrier -> leaves(application, carrier, 1.0 / over.size(), ports));
    }
    int unrecognised = atoms.atom(Value.Unrecognised.APPLICATION, 1);
    samples.add(ApplicationUse.UNRECOGNISED);
    atomOf.put(ApplicationUse.UNRECOGNISED, unrecognised);
    bits(atomsOfValue, Value.Unrecognised.APPLICATION).set(unrecognised);
    bits(portClasses, List.of()).set(unrecognised);
    bits(atomsByOutside, Optional.<String>empty()).set(unrecognised);
    weights = atoms.weights();
  }

  private void leaves(
      Application application,
      Optional<String> carrier,
      double weight,
      List<Value.ServiceRange> ports) {
    List<Value> holders = new ArrayList<>();
    holders.add(new Value.ApplicationName(application.name()));
    holders.add(new Value.FamilyName(application.grouping().family()));
    holders.add(new Value.CategoryName(application.grouping().category()));
    holders.retainAll(telling);
    filters.stream().filter(filter -> Filters.holds(filter, application)).forEach(holders::add);
    boolean encrypted = isEncrypted(application, carrier);
    List<Value.ApplicationOver> narrowed = overs.getOrDefault(application.name(), List.of());
    // Hardly any application has features that a rule tells apart; of all others there is one atom.
    boolean isOne = narrowed.isEmpty() && !toldByFeature.contains(application.name());
    int before = NONE;
    for (Optional<String> feature : application.parts()) {
      ApplicationUse use = new ApplicationUse(Optional.of(application.name()), carrier, feature);
      if (isOne && before != NONE) {
        atoms.more(before, weight);
        atomOf.put(use, before);
        continue;
      }
      List<Value> all = new ArrayList<>(holders);
      feature
          .map(name -> (Value) new Value.FeatureName(application.name(), name))
          .filter(telling::contains)
          .ifPresent(all::add);
      for (Value.ApplicationOver over : narrowed) {
        if (over.carrier().equals(carrier)
            && (over.parts().isEmpty() || over.parts().contains(feature))) {
          all.add(over);
        }
      }
      // Features that some rule tells apart, but a gateway may not see, share no atom with others.
      Object group =
          toldByFeature.contains(application.name())
              ? List.of(application.name(), encrypted)
              : List.of();
      int atom = atoms.atom(List.of(all, ports, outsideOf(use), group), weight);
      before = atom;
      if (atom == samples.size()) {
        samples.add(use);
      }
      atomOf.put(use, atom);
      all.forEach(value -> bits(atomsOfValue, value).set(atom));
      bits(portClasses, ports).set(atom);
      bits(atomsByOutside, outsideOf(use)).set(atom);
      if (encrypted && toldByFeature.contains(application.name())) {
        bits(encryptedGroups, new ApplicationUse(use.application(), carrier, Optional.empty()))
            .set(atom);
      }
    }
  }

  /** What shows before the application is recognised: the carrier, or that it is one itself. */
  private Optional<String> outsideOf(ApplicationUse use) {
    return use.carrier().or(() -> use.application().filter(carriers::contains));
  }

  private boolean isEncrypted(Application application, Optional<String> carrier) {
    return Stream.concat(Stream.of(application), carrier.flatMap(catalogue::application).stream())
        .anyMatch(a -> a.wiring().content() == Application.Content.ENCRYPTED);
  }

  /**
   * For each application inside encrypted content whose features some rule tells apart, its atoms:
   * who cannot decrypt it cannot tell them from each other.
   */
  List<IndexSet> encryptedGroups() {
    return encryptedGroups.values().stream().map(Signatures::set).toList();
  }

  /** Whether the content of a use travels encrypted. */
  boolean isEncrypted(ApplicationUse use) {
    return use.application()
        .flatMap(catalogue::application)
        .map(application -> isEncrypted(application, use.carrier()))
        .orElse(false);
  }

  /** The atoms of an application with none of its features, over all its carriers. */
  IndexSet bare(Application application) {
    return over(application, List.of(Optional.empty()));
  }

  /** The atoms of one feature of an application, or of all of it, over all its carriers. */
  IndexSet of(Application application, Optional<String> feature) {
    return over(application, feature.isEmpty() ? application.parts() : List.of(feature));
  }

  private IndexSet over(Application application, List<Optional<String>> features) {
    BitSet all = new BitSet();
    Optional<String> name = Optional.of(application.name());
    for (Optional<String> carrier : application.carriers()) {
      features.forEach(f -> all.set(atomOf.get(new ApplicationUse(name, carrier, f))));
    }
    return Signatures.set(all);
  }

  /** Every way an application can be used: over each carrier each feature, and none of them. */
  static List<ApplicationUse> leaves(Application application) {
    List<ApplicationUse> leaves = new ArrayList<>();
    for (Optional<String> carrier : application.carriers()) {
      Optional<String> name = Optional.of(application.name());
      application.parts().forEach(part -> leaves.add(new ApplicationUse(name, carrier, part)));
    }
    return leaves;
  }

  /** All uses that some atoms hold. */
  Set<ApplicationUse> leaves(IndexSet some) {
    Set<ApplicationUse> held = new HashSet<>();
    atomOf.forEach(
        (use, atom) -> {
          if (some.contains(atom)) {
            held.add(use);
          }
        });
    return held;
  }

  /** All atoms that look like a use before its application is recognised. */
  IndexSet outside(ApplicationUse use) {
    return Signatures.set(atomsByOutside.get(outsideOf(use)));
  }

  /** All atoms that look like a use before its feature is. */
  IndexSet features(ApplicationUse use) {
    BitSet alike = new BitSet();
    alike.set(atomOf.get(new ApplicationUse(use.application(), use.carrier(), Optional.empty())));
    use.application()
        .flatMap(catalogue::application)
        .ifPresent(
            application ->
                application
                    .features()
                    .forEach(
                        feature ->
                            alike.set(
                                atomOf.get(
                                    new ApplicationUse(
                                        use.application(), use.carrier(), Optional.of(feature))))));
    return Signatures.set(alike);
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

  Weights weights() {
    return weights;
  }
}
