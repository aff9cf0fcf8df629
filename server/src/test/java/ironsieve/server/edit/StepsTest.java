package ironsieve.server.edit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.files.Contents;
import ironsieve.files.Documents.ChapterDoc;
import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.FaultException;
import ironsieve.server.edit.Step.ChapterPatch;
import ironsieve.server.edit.Step.Op;
import ironsieve.server.edit.Step.Place;
import ironsieve.server.edit.Step.PromisePatch;
import ironsieve.server.edit.Step.RulePatch;
import ironsieve.server.edit.Step.SetPatch;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/**
 * Steps on a small rulebase: chapters one (a, b), two (c), and a set that a and another set use.
 */
class StepsTest {

  private final Steps steps = new Steps(small());

  private static Contents small() {
    Map<String, ChapterDoc> chapters = new HashMap<>();
    chapters.put("one", new ChapterDoc("one", BigDecimal.ONE, "One", ""));
    chapters.put("two", new ChapterDoc("two", BigDecimal.TEN, "Two", ""));
    Map<String, RuleDoc> rules = new HashMap<>();
    Map<String, FieldDoc> web = Map.of("using.services", new FieldDoc("is", List.of("set Web")));
    rules.put("a", rule("a", "one", 1, web));
    rules.put("b", rule("b", "one", 2, Map.of()));
    rules.put("c", rule("c", "two", 3, Map.of()));
    Map<String, SetDoc> sets = new HashMap<>();
    put(sets, new SetDoc("service", "Web", List.of("tcp/80"), ""));
    put(sets, new SetDoc("service", "All", List.of("set Web", "udp/53"), ""));
    Contents contents = Contents.empty(new Contents.Title("t", "T", "deny", null));
    contents.chapters().putAll(chapters);
    contents.rules().putAll(rules);
    contents.sets().putAll(sets);
    return contents;
  }

  private static void put(Map<String, SetDoc> sets, SetDoc set) {
    sets.put(set.id(), set);
  }

  private static RuleDoc rule(
      String id, String chapter, int position, Map<String, FieldDoc> fields) {
    return new RuleDoc(
        id,
        chapter,
        BigDecimal.valueOf(position),
        "",
        "on",
        fields,
        "any",
        "deny",
        null,
        "log",
        "",
        null);
  }

  private void take(Op op, String id, Place place, RulePatch rule) {
    steps.take(Step.ofRule(op, id, place, rule));
  }

  private List<String> order(String chapter) {
    return steps.contents().rulesInOrder().get(chapter).stream().map(RuleDoc::id).toList();
  }

  private static RulePatch named(String name) {
    return new RulePatch(name, null, null, null, null, null, null, null, null);
  }

  @Test
  void chaptersKeepTheirOrderWhenTheyAreNumberedAnew() {
    List<String> expected = new ArrayList<>(List.of("one", "two"));
    for (int i = 0; i < 300; i++) {
      Step.ChapterPatch text = new Step.ChapterPatch("Chapter " + i, null);
      steps.take(Step.ofChapter(Op.ADD_CHAPTER, "n" + i, new Place("one", null, null), text));
      expected.add(1, "n" + i);
    }
    List<ChapterDoc> all = steps.contents().chaptersInOrder();
    assertThat(all).extracting(ChapterDoc::id).isEqualTo(expected);
    assertThat(all).allMatch(chapter -> chapter.position().precision() <= Positions.MOST_DIGITS);
  }

  @Test
  void aNewRuleGoesWhereItIsTold() {
    take(Op.ADD_RULE, "n1", new Place("a", null, null), named("N"));
    take(Op.ADD_RULE, "n2", new Place(null, "a", null), named("N"));
    take(Op.ADD_RULE, "n3", new Place(null, null, "two"), named("N"));
    take(Op.ADD_RULE, null, null, named("made"));
    assertThat(order("one")).containsExactly("n2", "a", "n1", "b");
    assertThat(order("two")).startsWith("c", "n3").hasSize(3);
    RuleDoc made = steps.contents().rules().get("n1");
    assertThat(made.verdict()).isEqualTo("deny");
    assertThat(made.state()).isEqualTo("on");
  }

  @Test
  void thereIsAlwaysRoomBetweenTwoRules() {
    Random random = new Random(1);
    for (int i = 0; i < 300; i++) {
      String id = "n" + i;
      take(Op.ADD_RULE, id, new Place("a", null, null), named(id));
      if (i > 0 && random.nextBoolean()) {
        take(Op.MOVE_RULE, id, new Place(null, "n" + (i - 1), null), null);
      }
      assertThat(order("one")).hasSize(i + 3).doesNotHaveDuplicates().contains("a", "b");
      assertThat(order("one").get(1)).isEqualTo(id);
    }
  }

  @Test
  void tenThousandRulesInOnePlaceShareItWithShortNumbers() {
    for (int i = 0; i < 10_000; i++) {
      take(Op.ADD_RULE, "n" + i, new Place(i == 0 ? "a" : "n" + (i - 1), null, null), named("N"));
    }
    List<RuleDoc> inside = steps.contents().rulesInOrder().get("one");
    assertThat(inside).hasSize(10_002);
    assertThat(inside.get(0).id()).isEqualTo("a");
    assertThat(inside.get(1).id()).isEqualTo("n0");
    assertThat(inside.get(10_000).id()).isEqualTo("n9999");
    assertThat(inside).allMatch(rule -> rule.position().precision() < 8);
  }

  @Test
  void insertingBelowOneRuleForYearsNeverRunsOutOfRoom() {
    Contents contents = small();
    for (int i = 0; i < 3_000; i++) {
      Steps edit = new Steps(contents.copy());
      edit.take(Step.ofRule(Op.ADD_RULE, "n" + i, new Place("a", null, null), named("N")));
      contents = edit.contents();
    }
    List<RuleDoc> inside = contents.rulesInOrder().get("one");
    assertThat(inside.get(1).id()).isEqualTo("n2999");
    assertThat(inside.get(3_000).id()).isEqualTo("n0");
    assertThat(inside).allMatch(rule -> rule.position().precision() <= Positions.MOST_DIGITS);
  }

  @ParameterizedTest
  @EnumSource(Op.class)
  void aStepWithoutWhatItNeedsSaysSo(Op op) {
    Step bare = new Step(op, null, null, null, null, null, null, "sheet", null, null);
    if (op != Op.ADD_RULE) {
      assertThatThrownBy(() -> steps.take(bare))
          .isInstanceOf(FaultException.class)
          .hasMessageContaining("is missing");
    }
  }

  @Test
  void whatAPatchLeavesOutStaysAsItWas() {
    Map<String, FieldDoc> fields = new HashMap<>();
    fields.put("from.zones", new FieldDoc("is not", List.of("Offices")));
    take(
        Op.CHANGE_RULE,
        "a",
        null,
        new RulePatch(null, null, fields, "usual", null, null, null, "why", null));
    RuleDoc changed = steps.contents().rules().get("a");
    assertThat(changed.fields()).containsOnlyKeys("from.zones", "using.services");
    assertThat(changed.ports()).isEqualTo("usual");
    assertThat(changed.verdict()).isEqualTo("deny");
    fields.put("using.services", new FieldDoc("is", List.of()));
    take(
        Op.CHANGE_RULE,
        "a",
        null,
        new RulePatch(null, null, fields, null, null, null, null, null, null));
    assertThat(steps.contents().rules().get("a").fields()).containsOnlyKeys("from.zones");
  }

  @Test
  void aRenamedSetIsRenamedInRulesAndSets() {
    SetDoc renamed = new SetDoc("service", "Browsing", List.of("tcp/80"), null);
    steps.take(Step.ofSet(Op.SAVE_SET, new SetPatch(renamed, "Web")));
    assertThat(steps.contents().sets()).containsOnlyKeys("service:Browsing", "service:All");
    assertThat(steps.contents().sets().get("service:All").values())
        .containsExactly("set Browsing", "udp/53");
    assertThat(steps.contents().rules().get("a").fields().get("using.services").values())
        .containsExactly("set Browsing");
    SetDoc taken = new SetDoc("service", "All", List.of(), null);
    assertThatThrownBy(() -> steps.take(Step.ofSet(Op.SAVE_SET, new SetPatch(taken, "Browsing"))))
        .isInstanceOf(FaultException.class)
        .hasMessageContaining("already is a set called All");
  }

  @Test
  void chaptersAreAddedMovedRenamedAndRemovedWhenEmpty() {
    steps.take(chapter(Op.ADD_CHAPTER, "zero", new Place(null, "one", null), "Zero"));
    steps.take(chapter(Op.MOVE_CHAPTER, "two", new Place("zero", null, null), null));
    steps.take(chapter(Op.CHANGE_CHAPTER, "one", null, "Uno"));
    assertThat(steps.contents().chaptersInOrder().stream().map(ChapterDoc::title))
        .containsExactly("Zero", "Two", "Uno");
    steps.take(chapter(Op.REMOVE_CHAPTER, "zero", null, null));
    assertThatThrownBy(() -> steps.take(chapter(Op.REMOVE_CHAPTER, "one", null, null)))
        .hasMessageContaining("move them first");
    assertThatThrownBy(() -> steps.take(chapter(Op.CHANGE_CHAPTER, "one", null, " ")))
        .hasMessageContaining("needs a title");
  }

  private static Step chapter(Op op, String id, Place place, String title) {
    return Step.ofChapter(op, id, place, new ChapterPatch(title, null));
  }

  @Test
  void promisesAreSavedPatchedAndTakenBack() {
    steps.take(promise("p", new PromisePatch("g", "Name", "from A to B", "allow", "a")));
    steps.take(promise("p", new PromisePatch(null, "Other", null, null, "")));
    assertThat(steps.contents().promises().get("p").name()).isEqualTo("Other");
    assertThat(steps.contents().promises().get("p").group()).isEqualTo("g");
    assertThat(steps.contents().promises().get("p").catcher()).isNull();
    assertThatThrownBy(
            () -> steps.take(promise("q", new PromisePatch("", " ", "x", "allow", null))))
        .hasMessageContaining("needs a name");
    steps.take(Step.ofPromise(Op.REMOVE_PROMISE, "p", null));
    assertThat(steps.contents().promises()).isEmpty();
  }

  private static Step promise(String id, PromisePatch patch) {
    return Step.ofPromise(Op.SAVE_PROMISE, id, patch);
  }

  @Test
  void stepsThatCannotBeTakenSayWhy() {
    assertThatThrownBy(() -> take(Op.MOVE_RULE, "ghost", null, null))
        .hasMessageContaining("there is no rule ghost");
    assertThatThrownBy(() -> take(Op.ADD_RULE, "a", null, named("again")))
        .hasMessageContaining("already is a rule a");
    assertThatThrownBy(() -> take(Op.ADD_RULE, "n", new Place(null, null, "ghost"), null))
        .hasMessageContaining("no chapter ghost");
    assertThatThrownBy(() -> take(Op.CHANGE_RULE, "a", null, null))
        .hasMessageContaining("needs \"rule\"");
    assertThatThrownBy(() -> take(null, "a", null, null)).hasMessageContaining("says what it does");
  }
}
