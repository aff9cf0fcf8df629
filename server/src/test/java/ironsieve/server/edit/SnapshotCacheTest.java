package ironsieve.server.edit;

import static org.assertj.core.api.Assertions.assertThat;

import io.quarkus.test.junit.QuarkusTest;
import ironsieve.files.Contents;
import ironsieve.files.RecordKind;
import ironsieve.progress.Progress;
import ironsieve.server.DemoData;
import jakarta.inject.Inject;
import java.lang.ref.WeakReference;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What is remembered is bounded, over all rulebases and over all edits. */
@QuarkusTest
class SnapshotCacheTest {

  private static final String BASE = "main-gateway";
  private static final int EDITS = 2_000;

  @Inject DemoData demo;
  @Inject Editor editor;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  /** The demo's rules as another rulebase. */
  private static RulebaseSnapshot copy(RulebaseSnapshot like, int number) {
    Contents contents =
        Contents.empty(new Contents.Title("copy-" + number, "Copy " + number, "deny", null));
    like.contents().chapters().values().forEach(c -> contents.put(RecordKind.CHAPTER, c));
    like.contents().rules().values().forEach(rule -> contents.put(RecordKind.RULE, rule));
    return new RulebaseSnapshot(
        like.state(), contents, like.environment(), like.recorded(), like.budget());
  }

  @Test
  void thoseNotAskedForTheLongestGoFirst() {
    RulebaseSnapshot like = editor.snapshot(BASE);
    long one = copy(like, 0).weight();
    SnapshotCache snapshots = new SnapshotCache(10 * one);
    for (int i = 0; i < 200; i++) {
      snapshots.keep(copy(like, i));
      // Somebody works on this one all the time.
      assertThat(snapshots.newest("copy-0")).isPresent();
    }
    assertThat(snapshots.rulebases()).isEqualTo(10);
    assertThat(snapshots.newest("copy-199")).isPresent();
    assertThat(snapshots.newest("copy-150")).isEmpty();
    for (int i = 0; i < 100; i++) {
      snapshots.replaced(copy(like, 199));
    }
    assertThat(snapshots.previous("copy-199")).hasSize(12);
    assertThat(snapshots.rulebases()).isLessThan(10);
  }

  @Test
  void whoeverAskedLastIsKnown() {
    RulebaseSnapshot like = editor.snapshot(BASE);
    SnapshotCache snapshots = new SnapshotCache(Long.MAX_VALUE);
    Instant noon = Instant.parse("2026-11-24T12:00:00Z");
    for (int i = 0; i < 3; i++) {
      snapshots.keep(copy(like, i));
    }
    assertThat(snapshots.asked("copy-0", noon)).isPresent();
    assertThat(snapshots.asked("copy-2", noon.minusSeconds(600))).isPresent();
    assertThat(snapshots.asked("copy-9", noon)).isEmpty();
    assertThat(snapshots.askedSince(noon.minusSeconds(1)))
        .as("also whoever was the first to ask")
        .containsExactlyInAnyOrder("copy-0", "copy-9");
    assertThat(snapshots.askedSince(noon.minusSeconds(601)))
        .containsExactlyInAnyOrder("copy-0", "copy-2", "copy-9");
  }

  @Test
  void ofTwoThousandEditsOnlyTheLastFewAreRemembered() {
    List<WeakReference<RulebaseSnapshot>> made = new ArrayList<>();
    RulebaseSnapshot snapshot = editor.snapshot(BASE);
    snapshot.review();
    for (int i = 0; i < EDITS; i++) {
      // Below its neighbour, and back.
      String other = i % 2 == 0 ? "br-intern" : "br-press";
      RulebaseStep step = new RulebaseStep.MoveRule("br-chat", RulebaseStep.Place.below(other));
      Editor.Outcome outcome =
          editor.edit(
              BASE,
              snapshot.revision(),
              Author.of("wanda"),
              "moved " + i,
              List.of(step),
              new Progress());
      snapshot = outcome.snapshot();
      made.add(new WeakReference<>(snapshot));
    }
    snapshot.review();
    System.gc();
    long alive = made.stream().filter(reference -> reference.get() != null).count();
    // The newest, the twelve before it, and what a review that began ahead may still hold.
    assertThat(alive).isBetween(1L, 40L);
  }
}
