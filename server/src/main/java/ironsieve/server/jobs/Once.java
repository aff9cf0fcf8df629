package ironsieve.server.jobs;

import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Supplier;

/**
 * Something that is worked out once, when first asked for, by whoever asks first; whoever asks
 * meanwhile waits for the same, and no lock is held. Where it fails, those who waited are told why,
 * and the next who asks tries again. Safe for any number of threads; whoever works it out must not
 * ask for it.
 */
public final class Once<T> {

  private final AtomicReference<CompletableFuture<T>> asked = new AtomicReference<>();

  /**
   * It, worked out now if it is not known.
   *
   * @throws RuntimeException what working it out ended with, for everybody who waited for it
   */
  public T get(Supplier<T> work) {
    CompletableFuture<T> other = asked.get();
    if (other == null) {
      CompletableFuture<T> own = new CompletableFuture<>();
      other = asked.compareAndExchange(null, own);
      if (other == null) {
        return worked(own, work);
      }
    }
    return await(other);
  }

  private T worked(CompletableFuture<T> own, Supplier<T> work) {
    try {
      own.complete(work.get());
      return own.join();
    } catch (RuntimeException | Error e) {
      asked.compareAndSet(own, null);
      own.completeExceptionally(e);
      throw e;
    }
  }

  /**
   * What somebody else works out.
   *
   * @throws RuntimeException what that ended with, as it was thrown
   */
  private static <T> T await(CompletableFuture<T> other) {
    try {
      return other.join();
    } catch (CompletionException e) {
      throw e.getCause() instanceof RuntimeException cause ? cause : e;
    }
  }

  /** It, if it is known already; nobody waits. */
  public Optional<T> known() {
    CompletableFuture<T> now = asked.get();
    return now == null || !now.isDone() || now.isCompletedExceptionally()
        ? Optional.empty()
        : Optional.of(now.join());
  }

  /** Makes it known without working it out. */
  public void set(T known) {
    asked.set(CompletableFuture.completedFuture(known));
  }
}
