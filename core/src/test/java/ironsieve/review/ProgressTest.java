package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.compile.CompiledEdit;
import ironsieve.compile.CompiledRulebase;
import ironsieve.progress.Progress;
import java.util.List;
import java.util.concurrent.CancellationException;
import org.junit.jupiter.api.Test;

class ProgressTest {

  private final CompiledRulebase compiled =
      CompiledRulebase.of(
          Rulebases.of("deny from.people=ada", "allow using.applications=Mail", "deny"),
          SmallWorld.environment());

  @Test
  void everyRuleIsCountedOnceAndAfterAnEditOnlyThoseItConcerns() {
    Progress whole = new Progress();
    Review review = Reviewer.review(compiled, Budget.USUAL, List.of(), whole);
    assertThat(whole.total()).isEqualTo(3);
    assertThat(whole.done()).isEqualTo(3);
    Progress again = new Progress();
    CompiledEdit same = CompiledEdit.of(compiled, compiled.rulebase());
    assertThat(Reviewer.again(review, same, again).findings()).isEqualTo(review.findings());
    assertThat(again.total()).isZero();
  }

  @Test
  void aStoppedReviewEndsWithoutAnAnswer() {
    Progress stopped = new Progress();
    stopped.stop();
    assertThatThrownBy(() -> Reviewer.review(compiled, Budget.USUAL, List.of(), stopped))
        .isInstanceOf(CancellationException.class);
    assertThat(stopped.done()).isZero();
  }
}
