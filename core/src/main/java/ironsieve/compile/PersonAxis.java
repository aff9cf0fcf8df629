package ironsieve.compile;

import ironsieve.model.Directory;
import ironsieve.model.Directory.Person;
import ironsieve.model.Value;
import ironsieve.region.IndexSet;
import ironsieve.region.Weights;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collection;
import java.util.Comparator;
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

  private static final int NOBODY = -1;

  private final Directory directory;

  /** By the place in {@link Directory#alike}, of those who are told apart by their groups alone. */
  private final int[] atomOfAlike;

  /** Of all others. */
  private final Map<String, Integer> atomOfLogin = new HashMap<>();

  private final Map<Value, BitSet> atomsOfValue = new HashMap<>();
  private final List<Optional<String>> samples = new ArrayList<>();
  private final int unidentified;
  private final Weights weights;

  PersonAxis(Directory directory, Collection<Value> used) {
    this.directory = directory;
    used.forEach(value -> atomsOfValue.put(value, new BitSet()));
    Numbering numbering = new Numbering();
    Set<String> attributes = new HashSet<>();
    Set<String> named = new HashSet<>();
    for (Value value : used) {
      if (value instanceof Value.AttributeIs attribute) {
        attributes.add(attribute.key());
      } else if (value instanceof Value.PersonName person) {
        named.add(person.login());
      }
    }
    atomOfAlike =
        attributes.isEmpty() ? numbering.byGroups(named) : numbering.byAttributes(attributes);
    unidentified = numbering.atoms.atom(UNIDENTIFIED, 1);
    samples.add(Optional.empty());
    weights = numbering.atoms.weights();
  }

  private PersonAxis(PersonAxis coarse, double[] each) {
    directory = coarse.directory;
    atomOfAlike = coarse.atomOfAlike;
    atomOfLogin.putAll(coarse.atomOfLogin);
    atomsOfValue.putAll(coarse.atomsOfValue);
    samples.addAll(coarse.samples);
    unidentified = each.length - 1;
    weights = new Weights(each);
  }

  /**
   * The atoms told apart by some more values. The atoms that were keep their numbers, so that what
   * was said in them need not be said anew; only that of whoever is unidentified stays the last.
   *
   * @return nothing where one of the values is no person by name
   */
  Optional<PersonAxis> telling(Collection<Value> more) {
    Map<String, Integer> apart = new TreeMap<>();
    int[] left = new int[samples.size()];
    Arrays.setAll(left, atom -> (int) weights.of(atom));
    for (Value value : more) {
      if (!(value instanceof Value.PersonName name)) {
        return Optional.empty();
      }
      int atom = atom(Optional.of(name.login()));
      if (atom != NOBODY && left[atom] > 1 && apart.putIfAbsent(name.login(), atom) == null) {
        left[atom]--;
      }
    }
    double[] each = new double[samples.size() + apart.size()];
    for (int atom = 0; atom < unidentified; atom++) {
      each[atom] = left[atom];
    }
    Arrays.fill(each, unidentified, each.length, 1);
    PersonAxis finer = new PersonAxis(this, each);
    finer.samples.remove(unidentified);
    apart.forEach(finer::cut);
    finer.samples.add(Optional.empty());
    for (Value value : more) {
      int atom = finer.atom(Optional.of(((Value.PersonName) value).login()));
      finer.atomsOfValue.put(value, atom == NOBODY ? new BitSet() : bits(atom));
    }
    return Optional.of(finer);
  }

  private static BitSet bits(int atom) {
    BitSet bits = new BitSet();
    bits.set(atom);
    return bits;
  }

  /** Gives somebody the next atom. */
  private void cut(String login, int from) {
    int own = samples.size();
    samples.add(Optional.of(login));
    atomOfLogin.put(login, own);
    atomsOfValue.replaceAll((value, atoms) -> atoms.get(from) ? with(atoms, own) : atoms);
    if (samples.get(from).equals(Optional.of(login))) {
      // Shown is the first person of each atom.
      samples.set(
          from,
          directory.people().stream()
              .filter(person -> atom(person) == from)
              .findFirst()
              .map(Person::login));
    }
  }

  private static BitSet with(BitSet atoms, int more) {
    BitSet all = (BitSet) atoms.clone();
    all.set(more);
    return all;
  }

  /** Gives atoms to everybody, in the order of the first person of each. */
  private final class Numbering {
    private final Signatures atoms = new Signatures();

    /** The values of a group are found once. */
    private final Map<String, Set<Value>> toldByGroup = new HashMap<>();

    /**
     * People of whom a gateway asks for groups and logins only: of tens of thousands hardly any are
     * named, and all others are told apart by their groups.
     *
     * @param count how many there are of them
     * @param first where the first of them stands among all people
     */
    private record Told(int first, int count, int alike) {}

    private int[] byAttributes(Set<String> attributes) {
      for (Person person : directory.people()) {
        Set<Value> telling = tellingValues(person);
        for (String key : attributes) {
          add(new Value.AttributeIs(key, person.attributes().getOrDefault(key, "")), telling);
        }
        atomOfLogin.put(person.login(), atom(telling, person.login(), 1));
      }
      return new int[0];
    }

    private int[] byGroups(Set<String> named) {
      List<Directory.Alike> alike = directory.alike();
      Map<Integer, Integer> apart = new HashMap<>();
      List<Told> all = new ArrayList<>();
      for (String login : named) {
        Optional<Person> person = directory.person(login);
        if (person.isPresent()) {
          int same = directory.alike(person.get());
          apart.merge(same, 1, Integer::sum);
          all.add(new Told(place(alike.get(same), login), 1, NOBODY));
        }
      }
      for (int i = 0; i < alike.size(); i++) {
        List<Integer> members = alike.get(i).members();
        int left = members.size() - apart.getOrDefault(i, 0);
        if (left > 0) {
          int first = 0;
          while (named.contains(login(members.get(first)))) {
            first++;
          }
          all.add(new Told(members.get(first), left, i));
        }
      }
      all.sort(Comparator.comparingInt(Told::first));
      int[] atomOf = new int[alike.size()];
      Arrays.fill(atomOf, NOBODY);
      for (Told one : all) {
        Person first = directory.people().get(one.first());
        int atom = atom(tellingValues(first), first.login(), one.count());
        if (one.alike() == NOBODY) {
          atomOfLogin.put(first.login(), atom);
        } else {
          atomOf[one.alike()] = atom;
        }
      }
      return atomOf;
    }

    private int place(Directory.Alike alike, String login) {
      return alike.members().stream()
          .filter(member -> login(member).equals(login))
          .findFirst()
          .orElseThrow();
    }

    private String login(int place) {
      return directory.people().get(place).login();
    }

    /** The used values that hold somebody by their groups or their name. */
    private Set<Value> tellingValues(Person person) {
      Set<Value> telling = new HashSet<>();
      for (String group : person.groups()) {
        telling.addAll(toldByGroup.computeIfAbsent(group, this::tellingValues));
      }
      add(new Value.PersonName(person.login()), telling);
      return telling;
    }

    /** The used values that hold everybody in a group. */
    private Set<Value> tellingValues(String group) {
      Set<Value> told = new HashSet<>();
      directory.above(group).forEach(name -> add(new Value.GroupName(name), told));
      return told;
    }

    private void add(Value value, Set<Value> telling) {
      if (atomsOfValue.containsKey(value)) {
        telling.add(value);
      }
    }

    /** The atom of so many people, of whom one is shown where it is a new one. */
    private int atom(Set<Value> telling, String login, int count) {
      int atom = atoms.atom(telling, count);
      if (atom == samples.size()) {
        samples.add(Optional.of(login));
      }
      telling.forEach(value -> atomsOfValue.get(value).set(atom));
      return atom;
    }
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
  IndexSet like(Value value, Directory asked) {
    if (value instanceof Value.Identity) {
      return atoms(value);
    }
    BitSet found = new BitSet();
    for (Person person : asked.people()) {
      boolean meant =
          value instanceof Value.PersonName name
              ? name.login().equals(person.login())
              : value instanceof Value.GroupName group
                  ? asked.groupsOf(person).contains(group.name())
                  : value instanceof Value.AttributeIs attribute
                      && attribute.value().equals(person.attributes().get(attribute.key()));
      if (meant) {
        // By the login, for the directory asked of may be another one than that of the axis.
        found.set(atom(Optional.of(person.login())));
      }
    }
    return Signatures.set(found);
  }

  /** The atoms all of whose people a value stands for; empty where one holds others too. */
  IndexSet exactly(Value value, Directory asked) {
    IndexSet held = like(value, asked);
    for (Person person : directory.people()) {
      boolean strange =
          held.contains(atom(person))
              && !(value instanceof Value.GroupName group
                  && asked
                      .person(person.login())
                      .map(known -> asked.groupsOf(known).contains(group.name()))
                      .orElse(false));
      if (strange) {
        return IndexSet.EMPTY;
      }
    }
    return held;
  }

  /** Everybody in some atoms, by login, with their atom. */
  Map<String, Integer> logins(IndexSet some) {
    Map<String, Integer> logins = new TreeMap<>();
    for (Person person : directory.people()) {
      int atom = atom(person);
      if (some.contains(atom)) {
        logins.put(person.login(), atom);
      }
    }
    return logins;
  }

  /** The atom of a person; −1 for a login the directory does not have. */
  int atom(Optional<String> login) {
    return login
        .map(name -> directory.person(name).map(this::atom).orElse(NOBODY))
        .orElse(unidentified);
  }

  private int atom(Person person) {
    Integer own = atomOfLogin.get(person.login());
    return own == null ? atomOfAlike[directory.alike(person)] : own;
  }

  Optional<String> sample(int atom) {
    return samples.get(atom);
  }

  Weights weights() {
    return weights;
  }
}
