package ironsieve.compile;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.model.Outcome;
import ironsieve.model.Verdict;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

/** Boxes are numbered from the top, whatever came and went before, and most keep their numbers. */
class LayoutTest {

  /** Rules that only have boxes, each box once. */
  private static final class Rules {
    private final List<List<Box>> all = new ArrayList<>();
    private final List<Integer> origins = new ArrayList<>();
    private int boxes;

    /** A new rule at a place, with so many boxes. */
    void add(int place, int many) {
      List<Box> own = new ArrayList<>();
      for (int i = 0; i < many; i++) {
        own.add(Box.of(new IndexSet[] {IndexSet.of(boxes++)}));
      }
      all.add(place, own);
      origins.add(place, -1);
    }

    void begin() {
      for (int rule = 0; rule < all.size(); rule++) {
        origins.set(rule, rule);
      }
    }

    List<CompiledRule> compiled() {
      List<CompiledRule> compiled = new ArrayList<>();
      for (List<Box> own : all) {
        List<Outcome> outcomes = Collections.nCopies(own.size(), Outcome.of(Verdict.ALLOW));
        compiled.add(new CompiledRule(compiled.size(), null, own, outcomes));
      }
      return compiled;
    }

    int[] originsNow() {
      return origins.stream().mapToInt(Integer::intValue).toArray();
    }
  }

  @Property(tries = 300)
  void numbersAscendAfterAnyEdits(@ForAll long seed) {
    Random random = new Random(seed);
    Rules rules = new Rules();
    for (int i = random.nextInt(300); i > 0; i--) {
      rules.add(random.nextInt(rules.all.size() + 1), random.nextInt(4));
    }
    Layout layout = Layout.of(rules.compiled());
    assertNumbers(layout, rules.compiled());
    for (int edit = 0; edit < 12; edit++) {
      rules.begin();
      edit(random, rules);
      layout = layout.followedBy(rules.compiled(), rules.originsNow());
      assertNumbers(layout, rules.compiled());
    }
  }

  /** Some rules come to one place or to several, go, move, or become others. */
  private static void edit(Random random, Rules rules) {
    int size = rules.all.size();
    int kind = size == 0 ? 0 : random.nextInt(5);
    int many = 1 + random.nextInt(random.nextInt(4) == 0 ? 200 : 3);
    int place = random.nextInt(size + 1);
    for (int i = 0; i < many; i++) {
      int rule = rules.all.isEmpty() ? 0 : random.nextInt(rules.all.size());
      switch (kind) {
        case 0 -> rules.add(place, random.nextInt(12));
        case 1 -> rules.add(random.nextInt(rules.all.size() + 1), random.nextInt(3));
        case 2 -> remove(rules, rule);
        case 3 -> {
          int to = random.nextInt(rules.all.size());
          rules.all.add(to, rules.all.remove(rule));
          rules.origins.add(to, rules.origins.remove(rule));
        }
        default -> {
          remove(rules, rule);
          rules.add(Math.min(rule, rules.all.size()), random.nextInt(70));
        }
      }
    }
  }

  private static void remove(Rules rules, int rule) {
    if (!rules.all.isEmpty()) {
      rules.all.remove(rule);
      rules.origins.remove(rule);
    }
  }

  private static void assertNumbers(Layout layout, List<CompiledRule> rules) {
    int last = -1;
    int[] first = layout.first();
    BitSet of = new BitSet();
    for (CompiledRule rule : rules) {
      assertThat(first[rule.index()]).isGreaterThan(last);
      last = first[rule.index()] + rule.boxes().size() - 1;
      for (int i = 0; i < rule.boxes().size(); i++) {
        int number = first[rule.index()] + i;
        of.set(number);
        assertThat(layout.boxes()[number]).isSameAs(rule.boxes().get(i));
        assertThat(layout.outcomes()[number]).isEqualTo(rule.outcomes().get(i));
        assertThat(layout.ruleOf()[number]).isEqualTo(rule.index());
      }
    }
    assertThat(first[rules.size()]).isGreaterThan(last).isEqualTo(layout.boxes().length);
    for (int number = 0; number < layout.boxes().length; number++) {
      assertThat(layout.boxes()[number] != null).isEqualTo(of.get(number));
    }
  }

  @Test
  void anEditAmongManyRulesMovesFewBoxes() {
    Rules rules = new Rules();
    for (int i = 0; i < 10_000; i++) {
      rules.add(i, 1 + i % 3 / 2);
    }
    Layout layout = Layout.of(rules.compiled());
    Random random = new Random(3);
    long all = 0;
    for (int edit = 0; edit < 200; edit++) {
      rules.begin();
      // A hundred to one place, as somebody writes rule below rule, then anywhere.
      int place = edit < 100 ? 5_000 + edit : random.nextInt(rules.all.size());
      rules.add(place, 1 + random.nextInt(3));
      Layout next = layout.followedBy(rules.compiled(), rules.originsNow());
      assertNumbers(next, rules.compiled());
      long moved = moved(layout, next);
      all += moved;
      layout = next;
    }
    assertThat(all / 200).as("moved by an edit, on average").isLessThan(200);
  }

  private static long moved(Layout before, Layout after) {
    assertThat(after.boxes()).hasSameSizeAs(before.boxes());
    return IntStream.range(0, after.boxes().length)
        .filter(number -> before.boxes()[number] != after.boxes()[number])
        .count();
  }
}
