package ironsieve.server.edit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.datatype.jdk8.Jdk8Module;
import ironsieve.files.Contents;
import ironsieve.files.Documents.ChapterDoc;
import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.FaultException;
import ironsieve.server.edit.RulebaseStep.ChapterPatch;
import ironsieve.server.edit.RulebaseStep.Place;
import ironsieve.server.edit.RulebaseStep.PromisePatch;
import ironsieve.server.edit.RulebaseStep.RulePatch;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.stream.Stream;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Steps on a small rulebase: chapters one (a, b), two (c), and a set that a and another set use.
 */
class StepsTest {

  private static final ObjectMapper JSON = new ObjectMapper().registerModule(new Jdk8Module());

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
        "logged",
        "",
        null);
  }

  private void add(String id, Place place, RulePatch rule) {
    steps.take(new RulebaseStep.AddRule(Optional.of(id), place, rule));
  }

  private List<String> order(String chapter) {
    return steps.contents().rulesInOrder().get(chapter).stream().map(RuleDoc::id).toList();
  }

  private static RulePatch named(String name) {
    return patch(Optional.of(name), Map.of(), Optional.empty(), Optional.empty());
  }

  private static RulePatch patch(
      Optional<String> name,
      Map<String, FieldDoc> fields,
      Optional<String> ports,
      Optional<String> note) {
    Optional<String> none = Optional.empty();
    return new RulePatch(name, none, fields, ports, none, none, none, note, Optional.empty());
  }

  @Test
  void chaptersKeepTheirOrderWhenTheyAreNumberedAnew() {
    List<String> expected = new ArrayList<>(List.of("one", "two"));
    for (int i = 0; i < 300; i++) {
      steps.take(
          new RulebaseStep.AddChapter(
              Optional.of("n" + i), Place.below("one"), titled("Chapter " + i)));
      expected.add(1, "n" + i);
    }
    List<ChapterDoc> all = steps.contents().chaptersInOrder();
    assertThat(all).extracting(ChapterDoc::id).isEqualTo(expected);
    assertThat(all).allMatch(chapter -> chapter.position().precision() <= Positions.MOST_DIGITS);
  }

  @Test
  void aNewRuleGoesWhereItIsTold() {
    add("n1", Place.below("a"), named("N"));
    add("n2", Place.above("a"), named("N"));
    add("n3", Place.atEndOf("two"), named("N"));
    steps.take(new RulebaseStep.AddRule(Optional.empty(), null, named("made")));
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
      add(id, Place.below("a"), named(id));
      if (i > 0 && random.nextBoolean()) {
        steps.take(new RulebaseStep.MoveRule(id, Place.above("n" + (i - 1))));
      }
      assertThat(order("one")).hasSize(i + 3).doesNotHaveDuplicates().contains("a", "b");
      assertThat(order("one").get(1)).isEqualTo(id);
    }
  }

  @Test
  void tenThousandRulesInOnePlaceShareItWithShortNumbers() {
    for (int i = 0; i < 10_000; i++) {
      add("n" + i, Place.below(i == 0 ? "a" : "n" + (i - 1)), named("N"));
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
      edit.take(new RulebaseStep.AddRule(Optional.of("n" + i), Place.below("a"), named("N")));
      contents = edit.contents();
    }
    List<RuleDoc> inside = contents.rulesInOrder().get("one");
    assertThat(inside.get(1).id()).isEqualTo("n2999");
    assertThat(inside.get(3_000).id()).isEqualTo("n0");
    assertThat(inside).allMatch(rule -> rule.position().precision() <= Positions.MOST_DIGITS);
  }

  private static Stream<String> ops() {
    return kinds(RulebaseStep.class).map(kind -> Step.op(kind.getSimpleName()));
  }

  private static Stream<Class<?>> kinds(Class<?> family) {
    return Arrays.stream(family.getPermittedSubclasses())
        .flatMap(kind -> kind.isSealed() ? kinds(kind) : Stream.of(kind));
  }

  /** No two kinds of step have one name, in whatever they are steps of. */
  @Test
  void everyStepThereIsIsDescribedAndHasANameOfItsOwn() {
    assertThat(kinds(Step.class).map(Class::getSimpleName)).doesNotHaveDuplicates();
    for (Class<?> family : Step.class.getPermittedSubclasses()) {
      assertThat(family.getAnnotation(Schema.class).oneOf())
          .as("what the description of %s names", family.getSimpleName())
          .containsExactlyInAnyOrder(family.getPermittedSubclasses());
    }
  }

  @Test
  void aStepOfAnotherFamilyIsNone() {
    assertThatThrownBy(
            () ->
                JSON.readValue(
                    "{\"op\": \"REMOVE\", \"kind\": \"zone\", \"id\": \"a\"}", RulebaseStep.class))
        .hasMessageContaining("REMOVE")
        .hasMessageContaining("REMOVE_RULE");
  }

  @ParameterizedTest
  @MethodSource("ops")
  void aStepWithoutWhatItNeedsSaysSo(String op) throws JsonProcessingException {
    String bare = "{\"op\": \"" + op + "\"}";
    if (op.equals("ADD_RULE")) {
      assertThat(JSON.readValue(bare, RulebaseStep.class))
          .isEqualTo(new RulebaseStep.AddRule(Optional.empty(), Place.END, RulePatch.NOTHING));
    } else {
      assertThatThrownBy(() -> JSON.readValue(bare, RulebaseStep.class))
          .hasRootCauseInstanceOf(FaultException.class)
          .rootCause()
          .hasMessageContaining("step " + op)
          .hasMessageContaining("is missing");
    }
  }

  @Test
  void whatIsReadIsWhatIsWritten() throws JsonProcessingException {
    for (String text :
        List.of(
            "{\"op\":\"CHANGE_RULE\",\"id\":\"a\",\"rule\":{\"name\":\"N\",\"fields\":{}}}",
            "{\"op\":\"MOVE_RULE\",\"id\":\"a\",\"place\":{\"after\":\"b\"}}",
            "{\"op\":\"REMOVE_PART\",\"partKind\":\"lane\",\"id\":\"Slow\"}",
            "{\"op\":\"SAVE_PART\",\"part\":{\"name\":\"Stop\",\"verdict\":\"stop\",\"text\":\"No\"},"
                + "\"partKind\":\"notice\"}")) {
      assertThat(JSON.writeValueAsString(JSON.readValue(text, RulebaseStep.class))).isEqualTo(text);
    }
  }

  @Test
  void whatAPatchLeavesOutStaysAsItWas() {
    Map<String, FieldDoc> fields = new HashMap<>();
    fields.put("from.zones", new FieldDoc("is not", List.of("Offices")));
    Optional<String> none = Optional.empty();
    steps.take(
        new RulebaseStep.ChangeRule(
            "a", patch(none, fields, Optional.of("usual"), Optional.of("why"))));
    RuleDoc changed = steps.contents().rules().get("a");
    assertThat(changed.fields()).containsOnlyKeys("from.zones", "using.services");
    assertThat(changed.ports()).isEqualTo("usual");
    assertThat(changed.verdict()).isEqualTo("deny");
    fields.put("using.services", new FieldDoc("is", List.of()));
    steps.take(new RulebaseStep.ChangeRule("a", patch(none, fields, none, none)));
    assertThat(steps.contents().rules().get("a").fields()).containsOnlyKeys("from.zones");
    assertThat(steps.contents().rules().get("a").note()).isEqualTo("why");
  }

  @Test
  void aRenamedSetIsRenamedInRulesAndSets() {
    SetDoc renamed = new SetDoc("service", "Browsing", List.of("tcp/80"), null);
    steps.take(new RulebaseStep.SaveSet(renamed, Optional.of("Web")));
    assertThat(steps.contents().sets()).containsOnlyKeys("service:Browsing", "service:All");
    assertThat(steps.contents().sets().get("service:All").values())
        .containsExactly("set Browsing", "udp/53");
    assertThat(steps.contents().rules().get("a").fields().get("using.services").values())
        .containsExactly("set Browsing");
    SetDoc taken = new SetDoc("service", "All", List.of(), null);
    assertThatThrownBy(() -> steps.take(new RulebaseStep.SaveSet(taken, Optional.of("Browsing"))))
        .isInstanceOf(FaultException.class)
        .hasMessageContaining("already is a set called All");
  }

  @Test
  void chaptersAreAddedMovedRenamedAndRemovedWhenEmpty() {
    steps.take(
        new RulebaseStep.AddChapter(Optional.of("zero"), Place.above("one"), titled("Zero")));
    steps.take(new RulebaseStep.MoveChapter("two", Place.below("zero")));
    steps.take(new RulebaseStep.ChangeChapter("one", titled("Uno")));
    assertThat(steps.contents().chaptersInOrder().stream().map(ChapterDoc::title))
        .containsExactly("Zero", "Two", "Uno");
    steps.take(new RulebaseStep.RemoveChapter("zero"));
    assertThatThrownBy(() -> steps.take(new RulebaseStep.RemoveChapter("one")))
        .hasMessageContaining("move them first");
    assertThatThrownBy(() -> steps.take(new RulebaseStep.ChangeChapter("one", titled(" "))))
        .hasMessageContaining("needs a title");
  }

  private static ChapterPatch titled(String title) {
    return new ChapterPatch(Optional.of(title), Optional.empty());
  }

  @Test
  void promisesAreSavedPatchedAndTakenBack() {
    steps.take(promise("p", promising("g", "Name", "from A to B", "allow", "a")));
    steps.take(promise("p", promising(null, "Other", null, null, "")));
    assertThat(steps.contents().promises().get("p").name()).isEqualTo("Other");
    assertThat(steps.contents().promises().get("p").group()).isEqualTo("g");
    assertThat(steps.contents().promises().get("p").catcher()).isNull();
    assertThatThrownBy(() -> steps.take(promise("q", promising("", " ", "x", "allow", null))))
        .hasMessageContaining("needs a name");
    steps.take(new RulebaseStep.RemovePromise("p"));
    assertThat(steps.contents().promises()).isEmpty();
  }

  private static RulebaseStep promise(String id, PromisePatch patch) {
    return new RulebaseStep.SavePromise(Optional.of(id), patch);
  }

  private static PromisePatch promising(
      String group, String name, String probe, String verdict, String catcher) {
    return new PromisePatch(
        Optional.ofNullable(group),
        Optional.ofNullable(name),
        Optional.ofNullable(probe),
        Optional.ofNullable(verdict),
        Optional.ofNullable(catcher));
  }

  @Test
  void stepsThatCannotBeTakenSayWhy() {
    assertThatThrownBy(() -> steps.take(new RulebaseStep.MoveRule("ghost", null)))
        .hasMessageContaining("there is no rule ghost");
    assertThatThrownBy(() -> add("a", null, named("again")))
        .hasMessageContaining("already is a rule a");
    assertThatThrownBy(() -> add("n", Place.atEndOf("ghost"), RulePatch.NOTHING))
        .hasMessageContaining("no chapter ghost");
    assertThatThrownBy(() -> new RulebaseStep.ChangeRule("a", null))
        .hasMessageContaining("needs \"rule\"");
  }
}
