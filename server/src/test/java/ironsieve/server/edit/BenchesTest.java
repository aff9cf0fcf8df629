package ironsieve.server.edit;

import static org.assertj.core.api.Assertions.assertThat;

import io.quarkus.test.junit.QuarkusTest;
import ironsieve.files.Contents;
import ironsieve.files.RecordKind;
import ironsieve.progress.Progress;
import ironsieve.server.DemoData;
import jakarta.inject.Inject;
import java.lang.ref.WeakReference;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What is remembered is bounded, over all rulebases and over all edits. */
@QuarkusTest
class BenchesTest {

  private static final String BASE = "main-gateway";
  private static final int EDITS = 2_000;

  @Inject DemoData demo;
  @Inject Editor editor;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  /** The demo's rules as another rulebase. */
  private static Bench copy(Bench like, int number) {
    Contents contents =
        Contents.empty(new Contents.Title("copy-" + number, "Copy " + number, "deny", null));
    like.contents().chapters().values().forEach(c -> contents.put(RecordKind.CHAPTER, c));
    like.contents().rules().values().forEach(rule -> contents.put(RecordKind.RULE, rule));
    return new Bench(like.state(), contents, like.surroundings(), like.recorded(), like.budget());
  }

  @Test
  void thoseNotAskedForTheLongestGoFirst() {
    Bench like = editor.bench(BASE);
    long one = copy(like, 0).weight();
    Benches benches = new Benches(10 * one);
    for (int i = 0; i < 200; i++) {
      benches.keep(copy(like, i));
      // Somebody works on this one all the time.
      assertThat(benches.newest("copy-0")).isPresent();
    }
    assertThat(benches.rulebases()).isEqualTo(10);
    assertThat(benches.newest("copy-199")).isPresent();
    assertThat(benches.newest("copy-150")).isEmpty();
    for (int i = 0; i < 100; i++) {
      benches.replaced(copy(like, 199));
    }
    assertThat(benches.previous("copy-199")).hasSize(12);
    assertThat(benches.rulebases()).isLessThan(10);
  }

  @Test
  void ofTwoThousandEditsOnlyTheLastFewAreRemembered() {
    List<WeakReference<Bench>> made = new ArrayList<>();
    Bench bench = editor.bench(BASE);
    bench.review();
    for (int i = 0; i < EDITS; i++) {
      // Below its neighbour, and back.
      String other = i % 2 == 0 ? "br-intern" : "br-press";
      Step step = new Step.MoveRule("br-chat", Step.Place.below(other));
      Editor.Outcome outcome =
          editor.edit(BASE, bench.revision(), "wanda", "moved " + i, List.of(step), new Progress());
      bench = outcome.bench();
      made.add(new WeakReference<>(bench));
    }
    bench.review();
    System.gc();
    long alive = made.stream().filter(reference -> reference.get() != null).count();
    // The newest, the twelve before it, and what a review that began ahead may still hold.
    assertThat(alive).isBetween(1L, 40L);
  }
}
