package ironsieve.impact;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.compile.CompiledEdit;
import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Chapter;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Verdict;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import ironsieve.region.Region;
import ironsieve.region.Weights;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.Set;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

/** The parts an impact is made of: merging, order, words. */
class PiecesTest {

  @Property(tries = 300)
  void mergingKeepsThePointsAndTheBoxesDisjoint(@ForAll long seed) {
    Random random = new Random(seed);
    List<Box> boxes = new ArrayList<>();
    for (int i = 0; i < 6; i++) {
      boxes.add(Box.of(side(random), side(random), side(random)));
    }
    List<Box> disjoint = Region.of(boxes).boxes();
    List<Box> merged = Merging.merged(disjoint);
    Weights all = Weights.ones(4);
    Weights[] ones = {all, all, all};
    assertThat(merged).hasSizeLessThanOrEqualTo(disjoint.size());
    assertThat(merged.stream().mapToDouble(box -> box.weight(ones)).sum())
        .isEqualTo(Region.of(boxes).weight(ones));
    assertThat(Region.of(merged).weight(ones)).isEqualTo(Region.of(boxes).weight(ones));
  }

  private static IndexSet side(Random random) {
    return IndexSet.ofWords(new long[] {random.nextInt(1, 16)});
  }

  @Test
  void boxesThatDifferInOneDimensionBecomeOne() {
    Box one = Box.of(IndexSet.of(0), IndexSet.of(0, 1), IndexSet.of(2));
    assertThat(Merging.merged(List.of(one, one.with(0, IndexSet.of(3)))))
        .containsExactly(one.with(0, IndexSet.of(0, 3)));
    assertThat(Merging.merged(List.of())).isEmpty();
  }

  private static CompiledRulebase compiled(List<Rule> rules) {
    Rulebase rulebase =
        new Rulebase(
            "t", List.of(new Chapter("c", "", "", rules)), SmallWorld.sets(), Verdict.DENY);
    return CompiledRulebase.of(rulebase, SmallWorld.environment());
  }

  private static final List<Rule> FIVE =
      Rulebases.of(
              "allow from.people=ada",
              "deny from.people=ben",
              "allow from.people=cy",
              "deny using.services=udp",
              "allow using.services=icmp")
          .rules();

  private static Set<String> touched(List<Rule> after) {
    CompiledRulebase before = compiled(FIVE);
    return CompiledEdit.of(before, compiled(after).rulebase()).touched();
  }

  @Test
  void onlyTheRuleThatMovedIsTouched() {
    List<Rule> moved = new ArrayList<>(FIVE);
    moved.add(0, moved.remove(3));
    assertThat(touched(moved)).isEqualTo(Set.of("r4"));
    moved = new ArrayList<>(FIVE);
    moved.add(moved.remove(0));
    assertThat(touched(moved)).isEqualTo(Set.of("r1"));
  }

  @Test
  void addedRemovedAndChangedRulesAreTouched() {
    List<Rule> after = new ArrayList<>(FIVE);
    Rule second = after.remove(1);
    Rule last = after.remove(3);
    after.add(
        new Rule(
            last.id(),
            "",
            last.state(),
            last.match(),
            new Rule.Then(Verdict.REJECT, Rule.Logging.LOGGED),
            ""));
    after.add(new Rule("new", "", Rule.State.ON, second.match(), second.then(), ""));
    assertThat(touched(after)).isEqualTo(Set.of("r2", "r5", "new"));
    assertThat(touched(FIVE)).isEmpty();
  }

  private static List<String> words(String before, String after) {
    Impact impact =
        Comparison.between(
            Rulebases.of(before), Rulebases.of(after), SmallWorld.environment(), 100_000);
    assertThat(impact.kinds()).hasSize(1);
    return impact.kinds().get(0).words().stream().map(w -> w.part() + " " + w.text()).toList();
  }

  @Test
  void aUnionIsSaidByItsValues() {
    assertThat(words("deny from.people=ada|ben", "allow from.people=ada|ben"))
        .containsExactly("person ada, ben");
  }

  @Test
  void whatIsLeftOfAValueIsSaidByWhatIsTakenFromIt() {
    assertThat(words("allow from.people=ben", "allow from.people=group crew"))
        .containsExactly("person group crew but not ben");
    assertThat(words("deny using.services=!udp", "allow using.services=!udp"))
        .containsExactly("service anything but udp");
    assertThat(words("deny from.people=group deck", "allow from.people=identified|group deck"))
        .containsExactly("person identified");
  }

  @Test
  void aChangeToEverythingNeedsNoWords() {
    assertThat(words("deny", "allow")).isEmpty();
  }
}
