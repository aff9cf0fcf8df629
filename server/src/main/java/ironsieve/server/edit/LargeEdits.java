package ironsieve.server.edit;

import ironsieve.progress.Progress;
import ironsieve.server.change.Change;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.List;
import java.util.concurrent.ForkJoinPool;
import java.util.concurrent.ForkJoinWorkerThread;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;

/**
 * Works out large edits one after the other on threads of their own, so that any number of them
 * leave processors for everybody else. Small ones are worked out at once.
 */
@ApplicationScoped
class LargeEdits {

  /** As many values take a second or more to work out. */
  private static final long LARGE = 2_000;

  /** How soon somebody who waits for a turn sees that nobody waits for them any more. */
  private static final long PATIENCE_MILLIS = 100;

  /** Leaves a processor for everybody else. */
  private static final ForkJoinPool THREADS =
      new ForkJoinPool(
          Math.max(1, Runtime.getRuntime().availableProcessors() - 1),
          pool -> {
            ForkJoinWorkerThread made =
                ForkJoinPool.defaultForkJoinWorkerThreadFactory.newThread(pool);
            made.setContextClassLoader(LargeEdits.class.getClassLoader());
            return made;
          },
          null,
          false);

  private final Semaphore turn = new Semaphore(1, true);

  /**
   * Works something out, in its turn if it is large.
   *
   * @param changes what it changes, by which it is large or not
   * @throws java.util.concurrent.CancellationException soon after {@code progress} is stopped
   */
  RulebaseSnapshot inTurn(
      List<Change> changes, Supplier<RulebaseSnapshot> work, Progress progress) {
    long values = changes.stream().mapToLong(change -> Limits.values(change.after())).sum();
    if (values < LARGE) {
      return work.get();
    }
    progress.begin("waiting for another large edit", 0);
    takeTurn(progress);
    progress.begin("reading rules", 0);
    try {
      return THREADS.submit(work::get).join();
    } finally {
      turn.release();
    }
  }

  private void takeTurn(Progress progress) {
    boolean interrupted = false;
    boolean mine = false;
    while (!mine) {
      progress.check();
      try {
        mine = turn.tryAcquire(PATIENCE_MILLIS, TimeUnit.MILLISECONDS);
      } catch (InterruptedException e) {
        interrupted = true;
      }
    }
    if (interrupted) {
      Thread.currentThread().interrupt();
    }
  }
}
