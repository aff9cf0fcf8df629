package ironsieve.impact;

import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Stream;

/**
 * The people of two surroundings put together. Groups and attributes that are not the same before
 * and after are told apart by moment. A person that is not known at a moment is to it somebody
 * unidentified.
 */
final class JointDirectory {

  private final SurroundingsChange change;
  private final Environment before;
  private final Environment after;
  private final MomentNames names;
  private final Set<String> otherGroups = new HashSet<>();
  private final Set<String> usedGroups = new HashSet<>();
  private final Set<String> otherAttributes = new HashSet<>();
  private final Directory all;
  private boolean usesIdentity;

  /**
   * Puts them together.
   *
   * @param rulebases groups that are not the same before and after are told apart only where one of
   *     these names them, so that nothing is worded by what nobody asked about
   */
  JointDirectory(List<Rulebase> rulebases, SurroundingsChange change, MomentNames names) {
    this.change = change;
    this.names = names;
    before = change.before();
    after = change.after();
    rulebases.forEach(this::collectGroups);
    all = change.sameDirectory() ? after.directory() : together();
  }

  /** All people. */
  Directory all() {
    return all;
  }

  private void collectGroups(Rulebase rulebase) {
    List<Value> values = new ArrayList<>();
    rulebase.rules().forEach(rule -> people(rule.match(), values));
    rulebase.parts().decryption().forEach(line -> people(line.match(), values));
    Stream.of(rulebase.sets(), before.sets(), after.sets())
        .flatMap(List::stream)
        .filter(set -> set.kind() == ValueKind.PERSON)
        .forEach(set -> values.addAll(set.values()));
    for (Value value : values) {
      if (value instanceof Value.GroupName group) {
        usedGroups.add(group.name());
      }
      usesIdentity |= value instanceof Value.Identity;
    }
  }

  private static void people(Rule.Match match, List<Value> values) {
    match.field(FieldName.PEOPLE).ifPresent(field -> values.addAll(field.values()));
  }

  /** Everybody before or after, in flat groups. */
  private Directory together() {
    Map<String, Directory.Person> everybody = new LinkedHashMap<>();
    before.directory().people().forEach(person -> everybody.put(person.login(), person));
    after.directory().people().forEach(person -> everybody.put(person.login(), person));
    Map<String, Set<String>> groupsBefore = new HashMap<>();
    Map<String, Set<String>> groupsAfter = new HashMap<>();
    for (String login : everybody.keySet()) {
      Set<String> was = groups(before, login);
      Set<String> becomes = groups(after, login);
      groupsBefore.put(login, was);
      groupsAfter.put(login, becomes);
      differing(was, becomes, otherGroups);
      Map<String, String> saidBefore = attributes(before, login);
      Map<String, String> saidAfter = attributes(after, login);
      for (String key : union(saidBefore.keySet(), saidAfter.keySet())) {
        if (!Objects.equals(saidBefore.get(key), saidAfter.get(key))) {
          otherAttributes.add(key);
        }
      }
    }
    Set<String> all = new LinkedHashSet<>();
    for (Environment one : List.of(before, after)) {
      one.directory().groups().forEach(group -> all.add(group.name()));
    }
    all.stream()
        .filter(
            name ->
                before.directory().group(name).isPresent()
                    != after.directory().group(name).isPresent())
        .forEach(otherGroups::add);
    List<Directory.Person> people = new ArrayList<>();
    for (Directory.Person person : everybody.values()) {
      Set<String> own = new HashSet<>();
      Map<String, String> said = new HashMap<>();
      for (Moment moment : Moment.values()) {
        boolean isBefore = moment == Moment.BEFORE;
        (isBefore ? groupsBefore : groupsAfter)
            .get(person.login()).stream()
                .filter(this::isTold)
                .forEach(group -> own.add(group(group, moment)));
        attributes(change.at(moment), person.login())
            .forEach((key, value) -> said.put(attribute(key, moment), value));
        if (usesIdentity) {
          own.add(isKnown(moment, person.login()) ? known(moment) : unknown(moment));
        }
      }
      people.add(new Directory.Person(person.login(), person.name(), own, said));
    }
    List<Directory.Group> groups = new ArrayList<>();
    for (Moment moment : Moment.values()) {
      change.at(moment).directory().groups().stream()
          .filter(group -> isTold(group.name()))
          .filter(group -> moment == Moment.BEFORE || otherGroups.contains(group.name()))
          .forEach(group -> groups.add(flat(group(group.name(), moment))));
      if (usesIdentity) {
        groups.add(flat(known(moment)));
        groups.add(flat(unknown(moment)));
      }
    }
    return new Directory(people, groups);
  }

  private static Directory.Group flat(String name) {
    return new Directory.Group(name, Set.of(), "");
  }

  private static Set<String> groups(Environment environment, String login) {
    return environment
        .directory()
        .person(login)
        .map(environment.directory()::groupsOf)
        .orElse(Set.of());
  }

  private static Map<String, String> attributes(Environment environment, String login) {
    return environment.directory().person(login).map(Directory.Person::attributes).orElse(Map.of());
  }

  private static Set<String> union(Set<String> one, Set<String> other) {
    Set<String> both = new HashSet<>(one);
    both.addAll(other);
    return both;
  }

  private static void differing(Set<String> one, Set<String> other, Set<String> found) {
    for (String name : union(one, other)) {
      if (one.contains(name) != other.contains(name)) {
        found.add(name);
      }
    }
  }

  private boolean isTold(String group) {
    return !otherGroups.contains(group) || usedGroups.contains(group);
  }

  private String group(String name, Moment moment) {
    return otherGroups.contains(name) ? names.of(name, moment) : name;
  }

  private String attribute(String key, Moment moment) {
    return otherAttributes.contains(key) ? names.of(key, moment) : key;
  }

  private String known(Moment moment) {
    return names.of("everybody known", moment);
  }

  private String unknown(Moment moment) {
    return names.of("everybody unknown", moment);
  }

  /** Whether a person is known at a moment. */
  boolean isKnown(Moment moment, String login) {
    return change.at(moment).directory().person(login).isPresent();
  }

  private boolean sameLogins() {
    return change.sameDirectory()
        || before.directory().people().size() == after.directory().people().size()
            && before.directory().people().stream()
                .allMatch(person -> isKnown(Moment.AFTER, person.login()));
  }

  /** What a value that is about people means at a moment. */
  List<Value> meant(Value.PersonName name, Moment moment) {
    return List.of(
        isKnown(moment, name.login()) ? name : new Value.PersonName(MomentNames.NOTHING));
  }

  /** What a group is called at a moment. */
  List<Value> meant(Value.GroupName group, Moment moment) {
    if (change.at(moment).directory().group(group.name()).isEmpty()) {
      return List.of(new Value.GroupName(MomentNames.NOTHING));
    }
    return List.of(
        otherGroups.contains(group.name())
            ? names.remembered(new Value.GroupName(group(group.name(), moment)))
            : group);
  }

  /** What an attribute is called at a moment. */
  List<Value> meant(Value.AttributeIs said, Moment moment) {
    return List.of(
        otherAttributes.contains(said.key())
            ? names.remembered(new Value.AttributeIs(attribute(said.key(), moment), said.value()))
            : said);
  }

  /** Who is known, or is not, at a moment. */
  List<Value> meant(Value.Identity identity, Moment moment) {
    if (sameLogins()) {
      return List.of(identity);
    }
    return identity == Value.Identity.IDENTIFIED
        ? List.of(names.remembered(new Value.GroupName(known(moment))))
        : List.of(identity, names.remembered(new Value.GroupName(unknown(moment))));
  }
}
