package ironsieve.compile;

import ironsieve.model.Directory;
import ironsieve.model.Directory.Person;
import ironsieve.model.Value;
import ironsieve.region.IndexSet;
import ironsieve.region.Weights;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/**
 * The atoms of people: those whom no value of the rulebase tells apart, and one more for everybody
 * unidentified. A person's signature is the used groups they are in, the used attributes they have,
 * and their login where a rule names it.
 */
final class PersonAxis {

  private static final Object UNIDENTIFIED = "unidentified";

  private final Map<String, Integer> atomOfLogin = new HashMap<>();
  private final Map<Value, BitSet> atomsOfValue = new HashMap<>();
  private final List<Optional<String>> samples = new ArrayList<>();
  private final int unidentified;
  private final Weights weights;

  PersonAxis(Directory directory, Collection<Value> used) {
    used.forEach(value -> atomsOfValue.put(value, new BitSet()));
    Set<String> attributes = new HashSet<>();
    used.stream()
        .filter(Value.AttributeIs.class::isInstance)
        .forEach(value -> attributes.add(((Value.AttributeIs) value).key()));
    Map<String, Set<Value>> ofGroup = new HashMap<>();
    Signatures atoms = new Signatures();
    for (Person person : directory.people()) {
      Set<Value> telling = new HashSet<>();
      // Of tens of thousands of people hardly any are told apart; the values of a group are found
      // once.
      for (String group : person.groups()) {
        telling.addAll(ofGroup.computeIfAbsent(group, name -> told(directory, name)));
      }
      add(new Value.PersonName(person.login()), telling);
      for (String key : attributes) {
        add(new Value.AttributeIs(key, person.attributes().getOrDefault(key, "")), telling);
      }
      int atom = atoms.atom(telling, 1);
      if (atom == samples.size()) {
        samples.add(Optional.of(person.login()));
      }
      atomOfLogin.put(person.login(), atom);
      telling.forEach(value -> atomsOfValue.get(value).set(atom));
    }
    unidentified = atoms.atom(UNIDENTIFIED, 1);
    samples.add(Optional.empty());
    weights = atoms.weights();
  }

  private void add(Value value, Set<Value> telling) {
    if (atomsOfValue.containsKey(value)) {
      telling.add(value);
    }
  }

  /** The used values that hold everybody in a group. */
  private Set<Value> told(Directory directory, String group) {
    Set<Value> told = new HashSet<>();
    directory.above(group).forEach(name -> add(new Value.GroupName(name), told));
    return told;
  }

  /** The atoms of one opened value. */
  IndexSet atoms(Value value) {
    if (!(value instanceof Value.Identity)) {
      return Signatures.set(atomsOfValue.get(value));
    }
    IndexSet nobody = IndexSet.of(unidentified);
    return value == Value.Identity.UNIDENTIFIED
        ? nobody
        : IndexSet.upTo(samples.size()).minus(nobody);
  }

  /** The atoms that hold the people a value stands for, used by a rule or not. */
  IndexSet like(Value value, Directory directory) {
    if (value instanceof Value.Identity) {
      return atoms(value);
    }
    BitSet found = new BitSet();
    for (Person person : directory.people()) {
      boolean meant =
          value instanceof Value.PersonName name
              ? name.login().equals(person.login())
              : value instanceof Value.GroupName group
                  ? directory.groupsOf(person).contains(group.name())
                  : value instanceof Value.AttributeIs attribute
                      && attribute.value().equals(person.attributes().get(attribute.key()));
      if (meant) {
        found.set(atomOfLogin.get(person.login()));
      }
    }
    return Signatures.set(found);
  }

  /** The atoms all of whose people a value stands for; empty where one holds others too. */
  IndexSet exactly(Value value, Directory directory) {
    IndexSet held = like(value, directory);
    for (Map.Entry<String, Integer> entry : atomOfLogin.entrySet()) {
      boolean strange =
          held.contains(entry.getValue())
              && !(value instanceof Value.GroupName group
                  && directory
                      .person(entry.getKey())
                      .map(person -> directory.groupsOf(person).contains(group.name()))
                      .orElse(false));
      if (strange) {
        return IndexSet.EMPTY;
      }
    }
    return held;
  }

  /** Everybody in some atoms, by login, with their atom. */
  Map<String, Integer> logins(IndexSet atoms) {
    Map<String, Integer> logins = new TreeMap<>();
    atomOfLogin.forEach(
        (login, atom) -> {
          if (atoms.contains(atom)) {
            logins.put(login, atom);
          }
        });
    return logins;
  }

  /** The atom of a person; −1 for a login the directory does not have. */
  int atom(Optional<String> login) {
    return login.map(name -> atomOfLogin.getOrDefault(name, -1)).orElse(unidentified);
  }

  Optional<String> sample(int atom) {
    return samples.get(atom);
  }

  Weights weights() {
    return weights;
  }
}
