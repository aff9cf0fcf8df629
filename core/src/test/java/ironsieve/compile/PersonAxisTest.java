package ironsieve.compile;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.model.Directory;
import ironsieve.model.Directory.Group;
import ironsieve.model.Directory.Person;
import ironsieve.model.Value;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

/** Atoms of people that are told apart later tell as much apart as those made at once. */
class PersonAxisTest {

  private static final int PEOPLE = 12;

  private static Directory directory(Random random) {
    List<Group> groups =
        List.of(
            new Group("staff", Set.of(), ""),
            new Group("ledger", Set.of("staff"), ""),
            new Group("lab", Set.of("staff"), ""));
    List<Person> people = new ArrayList<>();
    for (int i = 0; i < PEOPLE; i++) {
      Set<String> in =
          List.of(Set.<String>of(), Set.of("ledger"), Set.of("lab"), Set.of("lab", "ledger"))
              .get(random.nextInt(4));
      String port = random.nextBoolean() ? "Saltmere" : "Brine";
      people.add(new Person("p" + i, "Person " + i, in, Map.of("home port", port)));
    }
    return new Directory(people, groups);
  }

  /** Some people by name, of whom some are not in the directory. */
  private static Set<Value> named(Random random) {
    Set<Value> named = new LinkedHashSet<>();
    for (int i = random.nextInt(5); i >= 0; i--) {
      named.add(new Value.PersonName("p" + random.nextInt(PEOPLE + 2)));
    }
    return named;
  }

  @Property(tries = 400)
  void atomsAreThoseMadeAtOnce(@ForAll long seed) {
    Random random = new Random(seed);
    Directory directory = directory(random);
    Set<Value> used = random.nextBoolean() ? named(random) : new LinkedHashSet<>();
    List<Value> others =
        List.of(
            new Value.GroupName("staff"),
            new Value.GroupName("lab"),
            new Value.AttributeIs("home port", "Brine"));
    others.stream().filter(value -> random.nextInt(3) > 0).forEach(used::add);
    PersonAxis axis = new PersonAxis(directory, used);
    for (int edit = 0; edit < 3; edit++) {
      Set<Value> more = named(random);
      more.removeAll(used);
      used.addAll(more);
      PersonAxis coarse = axis;
      axis = coarse.telling(more).orElseThrow();
      PersonAxis fresh = new PersonAxis(directory, used);
      int count = axis.weights().count();
      assertThat(count).isEqualTo(fresh.weights().count());
      assertThat(axis.atom(Optional.empty())).isEqualTo(count - 1);
      for (int atom = 0; atom < count; atom++) {
        Optional<String> sample = axis.sample(atom);
        int same = fresh.atom(sample);
        assertThat(axis.atom(sample)).isEqualTo(atom);
        assertThat(fresh.sample(same)).isEqualTo(sample);
        assertThat(axis.weights().of(atom)).isEqualTo(fresh.weights().of(same));
        for (Value value : used) {
          assertThat(axis.atoms(value).contains(atom)).isEqualTo(fresh.atoms(value).contains(same));
        }
        boolean keptItsNumber = atom >= coarse.weights().count() - 1 || coarse.atom(sample) == atom;
        assertThat(keptItsNumber).isTrue();
      }
      for (Person person : directory.people()) {
        Optional<String> login = Optional.of(person.login());
        assertThat(fresh.atom(axis.sample(axis.atom(login)))).isEqualTo(fresh.atom(login));
      }
    }
  }

  @Test
  void aGroupTellsPeopleApartInAnotherWay() {
    PersonAxis axis = new PersonAxis(directory(new Random(1)), Set.of());
    assertThat(axis.telling(List.of(new Value.GroupName("lab")))).isEmpty();
  }
}
