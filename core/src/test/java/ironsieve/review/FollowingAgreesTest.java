package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import ironsieve.Edits;
import ironsieve.Rulebases;
import ironsieve.World;
import ironsieve.compile.CompiledEdit;
import ironsieve.compile.CompiledRulebase;
import ironsieve.decide.Decider;
import ironsieve.model.Environment;
import ironsieve.model.Rulebase;
import ironsieve.model.Tape;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

/** Following edits one after the other comes to the same as starting from scratch. */
class FollowingAgreesTest {

  /** Small as these rulebases are, what comes of the parts of their rules is remembered. */
  private static final Budget REMEMBERING = Budget.USUAL.rememberingFrom(1);

  /** A rulebase, and others to take rules from. */
  private record Start(World world, Rulebase rulebase, List<Rulebase> others) {}

  @Provide
  Arbitrary<Start> starts() {
    return World.any()
        .flatMap(
            world ->
                Combinators.combine(
                        Rulebases.random(world, 9), Rulebases.random(world, 5).list().ofSize(4))
                    .as((rulebase, others) -> new Start(world, rulebase, others)));
  }

  @Property(tries = 1000)
  void aReviewAfterEditsIsTheReviewFromScratch(@ForAll("starts") Start start, @ForAll long seed) {
    Environment environment = start.world().environment();
    Random random = new Random(seed);
    CompiledRulebase compiled = CompiledRulebase.of(start.rulebase(), environment);
    List<Tape> tapes = List.of(tape(start.world(), random));
    Review review = Reviewer.review(compiled, REMEMBERING, tapes);
    Rulebase rulebase = start.rulebase();
    for (Rulebase other : start.others()) {
      rulebase = Edits.some(rulebase, other, random);
      CompiledEdit edit = CompiledEdit.of(compiled, rulebase);
      compiled = edit.after();
      review = Reviewer.again(review, edit);
      Review scratch =
          Reviewer.review(CompiledRulebase.of(rulebase, environment), Budget.USUAL, tapes);
      agree(review, scratch);
    }
  }

  private static Tape tape(World world, Random random) {
    return new Tape(
        "seen",
        random
            .ints(6, 0, world.points().size())
            .mapToObj(i -> new Tape.Line(world.points().get(i).connection(), 1))
            .toList());
  }

  private static void agree(Review review, Review scratch) {
    assertThat(said(review)).isEqualTo(said(scratch));
    Decider decider = new Decider(scratch.compiled());
    for (Finding finding : review.findings()) {
      finding.evidence().forEach(evidence -> isCaught(evidence.witness(), decider));
    }
    scratch.residues().forEach((rule, residue) -> agree(review.residue(rule), residue, decider));
  }

  /** Witnesses may differ, for finer atoms have other examples; what is said may not. */
  private static List<String> said(Review review) {
    return review.findings().stream()
        .map(
            finding ->
                finding.rule()
                    + " "
                    + finding.kind()
                    + " "
                    + finding.severity()
                    + " "
                    + review.sentence(finding)
                    + finding.evidence().stream()
                        .map(evidence -> evidence.rule() + ":" + evidence.part())
                        .toList())
        .toList();
  }

  private static void isCaught(Witness witness, Decider decider) {
    Optional<String> by = decider.fall(witness.connection()).caught().rule();
    assertThat(by).isEqualTo(witness.caughtBy());
  }

  private static void agree(Residue residue, Residue scratch, Decider decider) {
    assertThat(residue.share().value()).isCloseTo(scratch.share().value(), within(1e-9));
    assertThat(residue.takers()).hasSameSizeAs(scratch.takers());
    for (Residue.Taker taker : residue.takers()) {
      Residue.Taker same =
          scratch.takers().stream()
              .filter(other -> other.rule().equals(taker.rule()))
              .findFirst()
              .orElseThrow();
      assertThat(taker.share().value()).isCloseTo(same.share().value(), within(1e-9));
      isCaught(taker.witness(), decider);
    }
    assertThat(residue.witness().isPresent()).isEqualTo(scratch.witness().isPresent());
    residue.witness().ifPresent(witness -> isCaught(witness, decider));
  }
}
