package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.model.Outcome;
import ironsieve.model.Verdict;
import ironsieve.progress.Progress;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import ironsieve.region.Region;
import ironsieve.region.Weights;
import ironsieve.review.CoverSearch.Answer;
import ironsieve.review.CoverSearch.Candidate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.concurrent.CancellationException;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

/** The two walks of the review against the plain difference of regions. */
class CoverSearchTest {

  private static final int SIDE = 5;
  private static final Weights[] ONES = new Weights[4];

  static {
    Arrays.fill(ONES, Weights.ones(SIDE));
  }

  @Provide
  Arbitrary<Box> box() {
    Arbitrary<IndexSet> side =
        Arbitraries.integers()
            .between(0, SIDE - 1)
            .set()
            .ofMinSize(1)
            .map(s -> IndexSet.of(s.stream().mapToInt(Integer::intValue).toArray()));
    return Combinators.combine(side, side, side, side).as(Box::of);
  }

  @Provide
  Arbitrary<List<Box>> boxes() {
    return box().list().ofMaxSize(9);
  }

  private static final Outcome ALIKE = Outcome.of(Verdict.ALLOW);

  private static Answer run(Box box, List<Candidate> candidates, int budget) {
    return CoverSearch.run(
        List.of(new CoverSearch.Question(List.of(box), candidates)), ONES, budget, new Progress());
  }

  private static ShareMeasure descent(int steps) {
    return new ShareMeasure(ONES, new Budget(steps, 0, 0, 128, 512), KnownBranches.NONE);
  }

  private static List<Candidate> candidates(List<Box> boxes) {
    List<Candidate> all = new ArrayList<>();
    boxes.forEach(box -> all.add(new Candidate(all.size(), box, ALIKE)));
    return all;
  }

  @Property
  void aBoxIsCoveredExactlyIfNothingOfItIsLeft(
      @ForAll("box") Box box, @ForAll("boxes") List<Box> boxes) {
    Region left = Region.of(List.of(box)).minus(Region.of(boxes));
    Answer answer = run(box, candidates(boxes), 1_000_000);
    if (left.isEmpty()) {
      assertThat(answer).isInstanceOf(Answer.Covered.class);
      List<Box> used = ((Answer.Covered) answer).by().stream().map(boxes::get).toList();
      assertThat(Region.of(List.of(box)).minus(Region.of(used)).isEmpty()).isTrue();
    } else {
      assertThat(answer).isInstanceOf(Answer.Uncovered.class);
      Box piece = ((Answer.Uncovered) answer).piece();
      assertThat(piece.isEmpty()).isFalse();
      assertThat(left.containsAll(Region.of(List.of(piece)))).isTrue();
    }
  }

  @Property
  void aDescentSharesOutEveryPointOnce(@ForAll("box") Box box, @ForAll("boxes") List<Box> boxes) {
    ShareMeasure descent = descent(1_000_000);
    assertThat(descent.admit(new Candidate(-1, box, ALIKE), 1, candidates(boxes))).isTrue();
    Region rest = Region.of(List.of(box));
    for (int i = 0; i < boxes.size(); i++) {
      Region own = Region.of(List.of(boxes.get(i)));
      double expected = rest.intersect(own).weight(ONES);
      Caught.Part part = descent.caught().parts().get(i);
      assertThat(part == null ? 0 : part.weight()).isEqualTo(expected);
      if (part != null) {
        assertThat(rest.intersect(own).contains(part.first().point().orElseThrow())).isTrue();
      }
      rest = rest.minus(own);
    }
    assertThat(descent.caught().leftWeight()).isEqualTo(rest.weight(ONES));
    assertThat(
            Region.of(descent.caught().left().stream().map(Candidate::box).toList()).weight(ONES))
        .isEqualTo(rest.weight(ONES));
  }

  /** Of 150 dimensions each box is about three, as clauses of a hard formula are. */
  @Test
  void aQuestionEndsSoonAfterItIsStopped() {
    int dimensions = 150;
    Random random = new Random(4);
    IndexSet[] sides = new IndexSet[dimensions];
    Arrays.fill(sides, IndexSet.upTo(2));
    Box whole = Box.of(sides);
    List<Box> clauses = new ArrayList<>();
    for (int i = 0; i < 700; i++) {
      Box clause = whole;
      for (int d : random.ints(3, 0, dimensions).toArray()) {
        clause = clause.with(d, IndexSet.of(random.nextInt(2)));
      }
      clauses.add(clause);
    }
    Weights[] weights = new Weights[dimensions];
    Arrays.fill(weights, Weights.ones(2));
    Progress progress = new Progress();
    CompletableFuture<Answer> asked =
        CompletableFuture.supplyAsync(
            () -> {
              progress.begin("searching", 1);
              return CoverSearch.run(
                  List.of(new CoverSearch.Question(List.of(whole), candidates(clauses))),
                  weights,
                  Integer.MAX_VALUE,
                  progress);
            });
    while (progress.total() == 0) {
      Thread.onSpinWait();
    }
    progress.stop();
    assertThatThrownBy(() -> asked.get(20, TimeUnit.SECONDS))
        .hasCauseInstanceOf(CancellationException.class);
  }

  @Test
  void withoutBudgetBothSaySo() {
    Box whole = Box.of(IndexSet.upTo(5), IndexSet.upTo(5), IndexSet.upTo(5), IndexSet.upTo(5));
    Box half = whole.with(0, IndexSet.of(0, 1));
    List<Candidate> some = candidates(List.of(half, whole.with(1, IndexSet.of(2))));
    assertThat(run(whole, some, 1)).isInstanceOf(Answer.OutOfBudget.class);
    assertThat(descent(1).admit(new Candidate(-1, whole, ALIKE), 1, some)).isFalse();
  }

  @Property(tries = 200)
  void samplesComeFromTheBoxesInProportionToTheirWeight(@ForAll("box") Box one, @ForAll long seed) {
    Box other = one.with(0, IndexSet.of(SIDE)); // beyond every other box
    double[] heavy = new double[SIDE + 1];
    Arrays.fill(heavy, 1);
    heavy[SIDE] = 3.0 * one.side(0).count();
    Weights ones = Weights.ones(SIDE + 1);
    Weights[] weights = {new Weights(heavy), ones, ones, ones};
    Sampler sampler = new Sampler(List.of(one, other), new double[] {1, 1}, weights, seed);
    int inOther = 0;
    for (int i = 0; i < 2_000; i++) {
      int[] point = sampler.next();
      assertThat(one.contains(point) || other.contains(point)).isTrue();
      inOther += other.contains(point) ? 1 : 0;
    }
    // Three quarters of the weight: 1500 of 2000, within seven standard deviations.
    assertThat(inOther).isBetween(1_365, 1_635);
  }

  @Test
  void theSameQuestionDrawsTheSameSamples() {
    Box whole = Box.of(IndexSet.upTo(5), IndexSet.upTo(5), IndexSet.upTo(5), IndexSet.upTo(5));
    Sampler one = new Sampler(List.of(whole), new double[] {1}, ONES, 9);
    Sampler other = new Sampler(List.of(whole), new double[] {1}, ONES, 9);
    for (int i = 0; i < 50; i++) {
      assertThat(one.next()).isEqualTo(other.next());
    }
  }
}
