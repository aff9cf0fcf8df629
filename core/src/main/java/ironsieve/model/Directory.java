package ironsieve.model;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/** Who there is: people, the groups they are in, and the groups those are in. */
public final class Directory {

  /**
   * One person.
   *
   * @param login unique; letters, digits, dots and dashes
   * @param name as written in full
   * @param groups the groups they are in directly
   * @param attributes further facts, such as {@code home port}
   */
  public record Person(
      String login, String name, Set<String> groups, Map<String, String> attributes) {

    public Person {
      groups = Set.copyOf(groups);
      attributes = Map.copyOf(attributes);
    }
  }

  /**
   * One group.
   *
   * @param name unique
   * @param parents the groups it lies in directly
   * @param note who they are; may be empty
   */
  public record Group(String name, Set<String> parents, String note) {

    public Group {
      parents = Set.copyOf(parents);
    }
  }

  /**
   * People who are directly in the same groups.
   *
   * @param members where they stand among all people, in that order
   */
  public record Alike(Set<String> groups, List<Integer> members) {}

  private final List<Person> people;
  private final List<Group> groups;
  private final Map<String, Person> byLogin = new HashMap<>();
  private final Map<String, Group> byName = new HashMap<>();
  private final Set<String> attributes = new HashSet<>();
  private final Map<String, Set<String>> ancestry = new ConcurrentHashMap<>();
  private volatile Kinds kinds;

  /** Everybody by the groups they are in, and the place of each combination of groups. */
  private record Kinds(List<Alike> all, Map<Set<String>, Integer> places) {}

  /** A directory of these people and groups. */
  public Directory(List<Person> people, List<Group> groups) {
    this.people = List.copyOf(people);
    this.groups = List.copyOf(groups);
    for (Person person : people) {
      byLogin.put(person.login(), person);
      attributes.addAll(person.attributes().keySet());
    }
    groups.forEach(group -> byName.put(group.name(), group));
  }

  public List<Person> people() {
    return people;
  }

  public List<Group> groups() {
    return groups;
  }

  /** What is said of some person besides their groups. */
  public Set<String> attributes() {
    return Collections.unmodifiableSet(attributes);
  }

  public Optional<Person> person(String login) {
    return Optional.ofNullable(byLogin.get(login));
  }

  public Optional<Group> group(String name) {
    return Optional.ofNullable(byName.get(name));
  }

  /**
   * Everybody by the groups they are directly in, in the order of the first of each. Worked out
   * once, for tens of thousands of people are in far fewer kinds of groups.
   */
  public List<Alike> alike() {
    return kinds().all();
  }

  /** The place in {@link #alike} of those who are in the same groups as a person. */
  public int alike(Person person) {
    return kinds().places().get(person.groups());
  }

  private Kinds kinds() {
    Kinds known = kinds;
    if (known == null) {
      synchronized (byLogin) {
        known = kinds == null ? foundKinds() : kinds;
        kinds = known;
      }
    }
    return known;
  }

  private Kinds foundKinds() {
    Map<Set<String>, Integer> places = new HashMap<>();
    List<Alike> all = new ArrayList<>();
    for (int i = 0; i < people.size(); i++) {
      Set<String> of = people.get(i).groups();
      int place = places.computeIfAbsent(of, any -> all.size());
      if (place == all.size()) {
        all.add(new Alike(of, new ArrayList<>()));
      }
      all.get(place).members().add(i);
    }
    return new Kinds(List.copyOf(all), places);
  }

  /** All groups a person is in, directly or through other groups. */
  public Set<String> groupsOf(Person person) {
    Set<String> all = new HashSet<>();
    person.groups().forEach(group -> all.addAll(ancestry(group)));
    return all;
  }

  /** The logins of all people in a group, directly or through other groups. */
  public List<String> members(String group) {
    return people.stream()
        .filter(person -> person.groups().stream().anyMatch(g -> ancestry(g).contains(group)))
        .map(Person::login)
        .toList();
  }

  /** A group itself and every group it lies in, directly or through others. */
  public Set<String> above(String group) {
    return Collections.unmodifiableSet(ancestry(group));
  }

  /** The group itself and everything above it. Groups that lie in each other count once. */
  private Set<String> ancestry(String group) {
    Set<String> known = ancestry.get(group);
    if (known != null) {
      return known;
    }
    Set<String> seen = new HashSet<>();
    Deque<String> open = new ArrayDeque<>(List.of(group));
    while (!open.isEmpty()) {
      String next = open.pop();
      if (seen.add(next) && byName.containsKey(next)) {
        open.addAll(byName.get(next).parents());
      }
    }
    ancestry.put(group, Set.copyOf(seen));
    return seen;
  }
}
