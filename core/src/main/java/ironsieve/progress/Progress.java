package ironsieve.progress;

import java.util.concurrent.CancellationException;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * How far some long work is, for whoever waits for it; and the way to stop it. The work calls
 * {@link #begin}, {@link #oneMore} and {@link #check}; anybody else may look and stop. Safe for any
 * number of threads.
 */
public final class Progress {

  private final AtomicInteger done = new AtomicInteger();
  private volatile String what = "";
  private volatile int total;
  private volatile String whyStopped;

  /** What is being done now, such as {@code decryption rules}; empty before anything is. */
  public String what() {
    return what;
  }

  /** How many there are done of what is being done now. */
  public int done() {
    return done.get();
  }

  /** How many there are to do; 0 while that is not known. */
  public int total() {
    return total;
  }

  /**
   * Makes the work end as soon as it can, with a {@link CancellationException}; without effect on
   * work that has ended.
   */
  public void stop() {
    stop("this was stopped");
  }

  /**
   * Makes the work end as {@link #stop()} does.
   *
   * @param why a sentence without its full stop, which the exception carries
   */
  public void stop(String why) {
    whyStopped = why;
  }

  /** Whether somebody has stopped it. */
  public boolean isStopped() {
    return whyStopped != null;
  }

  /**
   * Something is being done from now on; what was done before counts no more.
   *
   * @param doing in a few words, such as {@code compiling rules}
   * @param count how many there are to do, or 0 if that is not known
   * @throws CancellationException if somebody has stopped it
   */
  public void begin(String doing, int count) {
    check();
    done.set(0);
    what = doing;
    total = count;
  }

  /**
   * Does nothing while nobody has stopped it.
   *
   * @throws CancellationException if somebody has
   */
  public void check() {
    String why = whyStopped;
    if (why != null) {
      throw new CancellationException(why);
    }
  }

  /** One more is done. */
  public void oneMore() {
    done.incrementAndGet();
  }
}
