package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.Edits;
import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.Twin;
import ironsieve.World;
import ironsieve.compile.CompiledEdit;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.ProblemException;
import ironsieve.decide.Decider;
import ironsieve.model.Chapter;
import ironsieve.model.Connection;
import ironsieve.model.Environment;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.progress.Progress;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A name that stands for nothing matches nothing, is told, and keeps nobody from working. */
class UnknownNamesAgreeTest {

  private static final Map<ValueKind, List<String>> UNKNOWN =
      Map.of(
          ValueKind.ZONE, List.of("Moon"),
          ValueKind.NETWORK, List.of("list Gone", "country ZZ", "set Ghosts"),
          ValueKind.PERSON, List.of("nobody.here", "group Pirates", "shoe size=44", "set Ghosts"),
          ValueKind.DEVICE, List.of("toaster", "set Ghosts"),
          ValueKind.SITE, List.of("category ghosts"),
          ValueKind.APPLICATION, List.of("Ghost", "Mail/fly", "family Ghosts", "category ghosts"));

  private record Start(World world, Rulebase rulebase, List<Rulebase> others) {}

  @Provide
  Arbitrary<Start> starts() {
    return World.any()
        .flatMap(
            world ->
                Combinators.combine(
                        Rulebases.random(world, 8), Rulebases.random(world, 5).list().ofSize(3))
                    .as((rulebase, others) -> new Start(world, rulebase, others)));
  }

  /** The same rulebase with names among its values, or in their place, that stand for nothing. */
  private static Rulebase haunted(Rulebase rulebase, Random random) {
    List<Chapter> chapters = new ArrayList<>();
    for (Chapter chapter : rulebase.chapters()) {
      chapters.add(
          chapter.with(chapter.rules().stream().map(rule -> haunted(rule, random)).toList()));
    }
    return new Rulebase(rulebase.name(), chapters, rulebase.parts(), rulebase.defaultVerdict());
  }

  private static Rule haunted(Rule rule, Random random) {
    Rule.Match match = rule.match();
    for (Map.Entry<FieldName, Field> entry : rule.match().fields().entrySet()) {
      List<String> ghosts = UNKNOWN.getOrDefault(entry.getKey().kind(), List.of());
      if (!ghosts.isEmpty() && random.nextInt(3) == 0) {
        List<Value> values = new ArrayList<>();
        values.add(
            ValueText.parse(entry.getKey().kind(), ghosts.get(random.nextInt(ghosts.size()))));
        if (random.nextBoolean()) {
          values.addAll(entry.getValue().values());
        }
        match = match.with(entry.getKey(), new Field(entry.getValue().sense(), values));
      }
    }
    return new Rule(rule.id(), rule.name(), rule.state(), match, rule.then(), rule.metadata());
  }

  @Property(tries = 1000)
  void aNameThatStandsForNothingMatchesNothing(@ForAll("starts") Start start, @ForAll long seed) {
    Random random = new Random(seed);
    Rulebase rulebase = haunted(start.rulebase(), random);
    Environment environment = start.world().environment();
    CompiledRulebase compiled = CompiledRulebase.asFarAsKnown(rulebase, environment);
    Decider decider = new Decider(compiled);
    Twin twin = new Twin(rulebase, environment);
    List<Rule> on = rulebase.rules().stream().filter(Rule::isOn).toList();
    List<SmallWorld.Point> points = start.world().points();
    for (int i = 0; i < 40; i++) {
      Connection connection = points.get(random.nextInt(points.size())).connection();
      int expected = twin.catcher(on, connection);
      assertThat(decider.decide(connection).map(Rule::id))
          .isEqualTo(expected < 0 ? Optional.empty() : Optional.of(on.get(expected).id()));
    }
  }

  @Property(tries = 500)
  void theReviewNamesEachRuleThatUsesOneAndFollowsEdits(
      @ForAll("starts") Start start, @ForAll long seed) {
    Random random = new Random(seed);
    Environment environment = start.world().environment();
    Rulebase rulebase = haunted(start.rulebase(), random);
    CompiledRulebase compiled = CompiledRulebase.asFarAsKnown(rulebase, environment);
    Review review = Reviewer.review(compiled, Budget.USUAL);
    for (Rulebase other : start.others()) {
      rulebase = Edits.some(rulebase, haunted(other, random), random);
      CompiledEdit edit = CompiledEdit.asFarAsKnown(compiled, rulebase, new Progress());
      compiled = edit.after();
      review = Reviewer.again(review, edit);
      Review scratch =
          Reviewer.review(CompiledRulebase.asFarAsKnown(rulebase, environment), Budget.USUAL);
      assertThat(said(review)).isEqualTo(said(scratch));
      for (Rule rule : rulebase.rules()) {
        boolean isNamed =
            review.of(rule.id()).stream()
                .anyMatch(finding -> finding.kind() == Finding.Kind.UNKNOWN_NAME);
        assertThat(isNamed).as("%s", rule).isEqualTo(rule.isOn() && isHaunted(rule));
      }
    }
  }

  private static boolean isHaunted(Rule rule) {
    return rule.match().fields().entrySet().stream()
        .anyMatch(
            entry ->
                entry.getValue().values().stream()
                    .anyMatch(
                        value ->
                            UNKNOWN
                                .getOrDefault(entry.getKey().kind(), List.of())
                                .contains(ValueText.print(value))));
  }

  private static List<String> said(Review review) {
    return review.findings().stream()
        .map(finding -> finding.rule() + " " + finding.kind() + " " + review.sentence(finding))
        .toList();
  }

  @Test
  void whatWasUnknownMayStayAndMoveButNothingNewMayBeUnknown() {
    Environment environment = SmallWorld.environment();
    Rulebase before = Rulebases.of("allow from.zones=Moon|Inside", "deny using.services=tcp");
    CompiledRulebase compiled = CompiledRulebase.asFarAsKnown(before, environment);
    Rulebase moved = Rulebases.of("deny using.services=tcp", "reject from.zones=!Moon");
    assertThat(CompiledEdit.of(compiled, moved).after().rulebase()).isEqualTo(moved);
    Rulebase misspelt = Rulebases.of("allow from.zones=Mon|Inside");
    assertThatThrownBy(() -> CompiledEdit.of(compiled, misspelt))
        .isInstanceOf(ProblemException.class)
        .hasMessageContaining("there is no zone \"Mon\"");
  }

  @Test
  void theRemedyTakesTheNamesOutAndChangesNoVerdict() {
    Environment environment = SmallWorld.environment();
    Rulebase rulebase = Rulebases.of("allow from.zones=Moon|Inside from.people=!group Pirates");
    CompiledRulebase compiled = CompiledRulebase.asFarAsKnown(rulebase, environment);
    Review review = Reviewer.review(compiled, Budget.USUAL);
    Finding finding =
        review.findings().stream()
            .filter(one -> one.kind() == Finding.Kind.UNKNOWN_NAME)
            .findFirst()
            .orElseThrow();
    assertThat(review.sentence(finding))
        .isEqualTo(
            "There is no zone \"Moon\"; the directory has no group \"Pirates\". Such names match"
                + " nothing.");
    Remedy remedy = new Remedies(compiled, review).of(finding).get(0);
    Rulebase mended = Edit.apply(rulebase, remedy.edit());
    assertThat(mended.rules().get(0).match())
        .isEqualTo(Rulebases.rule("allow from.zones=Inside").match());
    CompiledEdit edit = CompiledEdit.of(compiled, mended);
    assertThat(ironsieve.impact.Comparison.of(edit, 1_000_000).kinds()).isEmpty();
  }

  /** Of a category that is misspelt nothing would be left out, and nothing stopped. */
  @ParameterizedTest
  @CsvSource({
    "category takl but not Mail, true",
    "category talk but not Male, true",
    "family Pots but not Mail, true",
    "category talk but not Mail, false",
    "where category = to come and exposure >= serious, false"
  })
  void aCategoryWithoutSomeOfItIsKnownByEachOfItsNames(String value, boolean isUnknown) {
    Rulebase rulebase = Rulebases.of("deny using.applications=" + value);
    CompiledRulebase compiled = CompiledRulebase.asFarAsKnown(rulebase, SmallWorld.environment());
    assertThat(Reviewer.review(compiled, Budget.USUAL).findings())
        .extracting(finding -> finding.kind() == Finding.Kind.UNKNOWN_NAME)
        .as(value)
        .satisfies(kinds -> assertThat(kinds.contains(true)).isEqualTo(isUnknown));
  }
}
