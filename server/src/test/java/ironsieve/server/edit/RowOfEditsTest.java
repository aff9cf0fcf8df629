package ironsieve.server.edit;

import static org.assertj.core.api.Assertions.assertThat;

import io.quarkus.test.junit.QuarkusTest;
import ironsieve.review.Review;
import ironsieve.server.DemoData;
import jakarta.inject.Inject;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Edits that follow each other faster than anybody asks for their reviews. */
@QuarkusTest
class RowOfEditsTest {

  private static final String BASE = "main-gateway";

  @Inject DemoData demo;
  @Inject Editor editor;

  /** On both sides of how many the review goes through one by one. */
  @ParameterizedTest
  @ValueSource(ints = {1, 7, 20, 21, 22, 50})
  void theReviewAfterThemIsTheReviewFromScratch(int edits) {
    demo.restore();
    RulebaseSnapshot snapshot = editor.snapshot(BASE);
    snapshot.review();
    Random random = new Random(edits);
    List<String> rules = new ArrayList<>(snapshot.contents().rules().keySet());
    for (int i = 0; i < edits; i++) {
      String moved = rules.get(random.nextInt(rules.size()));
      String onto = rules.get(random.nextInt(rules.size()));
      if (!moved.equals(onto)) {
        snapshot =
            editor.tryOut(
                snapshot,
                List.of(new RulebaseStep.MoveRule(moved, RulebaseStep.Place.below(onto))));
      }
    }
    RulebaseSnapshot anew =
        new RulebaseSnapshot(
            snapshot.state(),
            snapshot.contents(),
            snapshot.environment(),
            snapshot.recorded(),
            snapshot.budget());
    agree(snapshot.review(), anew.review(), snapshot.contents().rules().keySet());
  }

  private static void agree(Review row, Review scratch, Set<String> rules) {
    assertThat(rules).hasSizeGreaterThan(50);
    for (String rule : rules) {
      assertThat(row.of(rule)).as(rule).isEqualTo(scratch.of(rule));
      assertThat(row.residue(rule)).as(rule).isEqualTo(scratch.residue(rule));
    }
  }
}
