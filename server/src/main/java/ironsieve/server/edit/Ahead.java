package ironsieve.server.edit;

import jakarta.annotation.PreDestroy;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.concurrent.CancellationException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/**
 * Begins what is going to be asked for next: the review of an edit, while the answer to the edit is
 * still on its way.
 */
@ApplicationScoped
class Ahead {

  // One at a time, for a review begins with the one before it.
  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(
          work -> {
            Thread made = new Thread(work, "reviews ahead");
            made.setDaemon(true);
            return made;
          });

  void review(Bench bench) {
    thread.execute(
        () -> {
          try {
            bench.review();
          } catch (CancellationException e) {
            // Somebody has stopped it, and whoever asks for it is told.
            return;
          }
        });
  }

  @PreDestroy
  void end() {
    thread.shutdownNow();
  }
}
