package ironsieve.server.edit;

import ironsieve.server.jobs.Jobs;
import jakarta.annotation.PreDestroy;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/**
 * Begins what is going to be asked for next: the review of an edit, while the answer to the edit is
 * still on its way.
 */
@ApplicationScoped
class ReviewPrefetcher {

  @Inject Jobs jobs;

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
    thread.execute(
        () ->
            jobs.run(
                Jobs.Kind.REVIEW,
                "review of " + snapshot.contents().name(),
                progress -> snapshot.review()));
  }

  @PreDestroy
  void end() {
    thread.shutdownNow();
  }
}
