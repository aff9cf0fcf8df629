package ironsieve.review;

import java.util.concurrent.CancellationException;
import java.util.concurrent.atomic.AtomicInteger;

/** How far a review is, for whoever waits for it; and the way to stop it. */
public final class Progress {

  private final AtomicInteger done = new AtomicInteger();
  private volatile int total;
  private volatile boolean stopped;

  /** How many rules have been looked at. */
  public int done() {
    return done.get();
  }

  /** How many there are to look at; 0 until that is known. */
  public int total() {
    return total;
  }

  /** Makes the review end as soon as it can, with a {@link CancellationException}. */
  public void stop() {
    stopped = true;
  }

  void begin(int rules) {
    total = rules;
  }

  void check() {
    if (stopped) {
      throw new CancellationException("the review was stopped");
    }
  }

  void oneMore() {
    done.incrementAndGet();
  }
}
