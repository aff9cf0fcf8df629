package ironsieve.server.edit;

import ironsieve.server.jobs.Jobs;
import jakarta.annotation.PreDestroy;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/**
 * Begins what is going to be asked for next: the review of an edit, while the answer to the edit is
 * still on its way.
 */
@ApplicationScoped
class ReviewPrefetcher {

  @Inject Jobs jobs;
  @Inject Snapshots snapshots;

  /** How many reviews of a rulebase are waiting or being made, by its id. */
  private final Map<String, Integer> ahead = new ConcurrentHashMap<>();

  // One at a time, for a review begins with the one before it.
  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(
          work -> {
            Thread made = new Thread(work, "reviews ahead");
            made.setDaemon(true);
            return made;
          });

  /**
   * Whoever asks for the review is told of what goes wrong with it, or that somebody stopped it.
   */
  void review(RulebaseSnapshot snapshot) {
    String rulebase = snapshot.contents().id();
    ahead.merge(rulebase, 1, Integer::sum);
    thread.execute(
        () -> {
          try {
            reviewed(snapshot);
            // Something else than rules may have changed meanwhile, and nobody was told of it.
            snapshots
                .remembered(rulebase)
                .filter(newest -> newest.revision() == snapshot.revision() && !newest.isReviewed())
                .ifPresent(this::reviewed);
          } finally {
            ahead.computeIfPresent(rulebase, (id, left) -> left == 1 ? null : left - 1);
          }
        });
  }

  private void reviewed(RulebaseSnapshot snapshot) {
    jobs.run(
        Jobs.Kind.REVIEW, "review of " + snapshot.contents().name(), progress -> snapshot.review());
  }

  /** Whether a rulebase is being reviewed, or will be, although nobody asked for it yet. */
  boolean isAhead(String rulebase) {
    return ahead.containsKey(rulebase);
  }

  @PreDestroy
  void end() {
    thread.shutdownNow();
  }
}
