package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.compile.CompiledRulebase;
import ironsieve.decide.Decider;
import java.lang.reflect.Array;
import java.lang.reflect.Field;
import java.lang.reflect.Modifier;
import java.util.ArrayDeque;
import java.util.Collection;
import java.util.Deque;
import java.util.IdentityHashMap;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.IntStream;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

/**
 * What many threads read at once does not change beneath them: of everything that a compiled
 * rulebase holds, no plain map or collection grows while it is used. What is filled as it is asked
 * for is of a kind made for it.
 */
class SharedStateTest {

  @Provide
  Arbitrary<Rulebases.Case> cases() {
    return Rulebases.cases(9);
  }

  @Property(tries = 60)
  void nothingPlainInsideACompiledRulebaseGrowsWhileItIsUsed(@ForAll("cases") Rulebases.Case given)
      throws Exception {
    CompiledRulebase compiled = CompiledRulebase.of(given.rulebase(), given.world().environment());
    Map<String, Integer> before = sizes(compiled);
    Review review = Reviewer.review(compiled, Budget.USUAL);
    Decider decider = new Decider(compiled);
    Remedies remedies = new Remedies(compiled, review);
    Explanations explanations = new Explanations(given.rulebase(), review);
    review.findings().parallelStream()
        .forEach(
            finding -> {
              remedies.of(finding);
              explanations.of(finding);
              finding.evidence().forEach(one -> decider.decide(one.witness().connection()));
            });
    given.rulebase().rules().parallelStream()
        .forEach(rule -> Placement.of(compiled, rule.id(), Budget.USUAL));
    // What is worked out later as a whole, and then only read, may be there besides.
    assertThat(sizes(compiled)).containsAllEntriesOf(before);
  }

  /** The walk finds what it is to find. */
  @net.jqwik.api.Example
  void theWalkComesToTheMapsInside() throws Exception {
    CompiledRulebase compiled =
        CompiledRulebase.of(Rulebases.of("allow from.people=ada"), SmallWorld.environment());
    assertThat(sizes(compiled).keySet())
        .anyMatch(path -> path.contains("names.sets"))
        .noneMatch(path -> path.endsWith("names.opened"));
  }

  /** By its path, how many each plain mutable map or collection holds. */
  private static Map<String, Integer> sizes(Object root) throws IllegalAccessException {
    Map<String, Integer> sizes = new TreeMap<>();
    IdentityHashMap<Object, Boolean> seen = new IdentityHashMap<>();
    Deque<Object> open = new ArrayDeque<>();
    Deque<String> paths = new ArrayDeque<>();
    open.add(root);
    paths.add("");
    while (!open.isEmpty()) {
      Object one = open.poll();
      String path = paths.poll();
      if (seen.put(one, true) != null) {
        continue;
      }
      String type = one.getClass().getName();
      if (one instanceof Map<?, ?> map && !type.contains("Concurrent")) {
        if (!type.contains("Immutable") && !type.contains("Unmodifiable")) {
          sizes.put(path, map.size());
        }
        continue;
      }
      if (one instanceof Collection<?> all && !type.contains("Concurrent")) {
        if (!type.contains("Immutable") && !type.contains("Unmodifiable")) {
          sizes.put(path, all.size());
        }
        continue;
      }
      if (one.getClass().isArray()) {
        if (!one.getClass().getComponentType().isPrimitive()) {
          IntStream.range(0, Math.min(3, Array.getLength(one)))
              .mapToObj(i -> Array.get(one, i))
              .filter(java.util.Objects::nonNull)
              .forEach(
                  inner -> {
                    open.add(inner);
                    paths.add(path + "[]");
                  });
        }
        continue;
      }
      if (!type.startsWith("ironsieve.") || one instanceof Enum<?>) {
        continue;
      }
      for (Class<?> of = one.getClass();
          of != null && of != Object.class;
          of = of.getSuperclass()) {
        for (Field field : of.getDeclaredFields()) {
          if (Modifier.isStatic(field.getModifiers()) || field.getType().isPrimitive()) {
            continue;
          }
          field.setAccessible(true);
          Object inner = field.get(one);
          if (inner != null) {
            open.add(inner);
            paths.add(path + "." + field.getName());
          }
        }
      }
    }
    return sizes;
  }
}
