package ironsieve.compile;

import ironsieve.model.Directory;
import ironsieve.model.Directory.Person;
import ironsieve.model.Value;
import ironsieve.region.IndexSet;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * The atoms of people: those whom no value of the rulebase tells apart, and one more for everybody
 * unidentified. A person's signature is the used groups they are in, and their login where a rule
 * names it.
 */
final class PersonAxis {

  private static final Object UNIDENTIFIED = "unidentified";

  private final Map<String, Integer> atomOfLogin = new HashMap<>();
  private final Map<String, Set<Integer>> atomsOfGroup = new HashMap<>();
  private final List<Optional<String>> samples = new ArrayList<>();
  private final int unidentified;
  private final double[] weights;

  PersonAxis(Directory directory, Collection<Value> used) {
    Set<String> logins = new HashSet<>();
    Set<String> groups = new HashSet<>();
    for (Value value : used) {
      if (value instanceof Value.PersonName name) {
        logins.add(name.login());
      } else if (value instanceof Value.GroupName name) {
        groups.add(name.name());
        atomsOfGroup.put(name.name(), new TreeSet<>());
      }
    }
    Signatures atoms = new Signatures();
    for (Person person : directory.people()) {
      Set<String> telling = new TreeSet<>(directory.groupsOf(person));
      telling.retainAll(groups);
      String own = logins.contains(person.login()) ? person.login() : "";
      int atom = atoms.atom(List.of(own, List.copyOf(telling)), 1);
      if (atom == samples.size()) {
        samples.add(Optional.of(person.login()));
      }
      atomOfLogin.put(person.login(), atom);
      telling.forEach(group -> atomsOfGroup.get(group).add(atom));
    }
    unidentified = atoms.atom(UNIDENTIFIED, 1);
    samples.add(Optional.empty());
    weights = atoms.weights();
  }

  /** The atoms of one opened value. */
  IndexSet atoms(Value value) {
    if (value instanceof Value.PersonName name) {
      return IndexSet.of(atomOfLogin.get(name.login()));
    }
    if (value instanceof Value.GroupName name) {
      return IndexSet.of(
          atomsOfGroup.get(name.name()).stream().mapToInt(Integer::intValue).toArray());
    }
    IndexSet nobody = IndexSet.of(unidentified);
    return value == Value.Identity.UNIDENTIFIED
        ? nobody
        : IndexSet.upTo(samples.size()).minus(nobody);
  }

  /** The atom of a person; −1 for a login the directory does not have. */
  int atom(Optional<String> login) {
    return login.map(name -> atomOfLogin.getOrDefault(name, -1)).orElse(unidentified);
  }

  Optional<String> sample(int atom) {
    return samples.get(atom);
  }

  double[] weights() {
    return weights;
  }
}
