package ironsieve.server.jobs;

import com.github.benmanes.caffeine.cache.AsyncCache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Duration;
import java.util.concurrent.CancellationException;
import java.util.concurrent.CompletableFuture;
import java.util.function.Supplier;
import java.util.function.ToLongFunction;

/**
 * What was worked out for keys, up to a weight in all. Who asks for what is not known works it out;
 * whoever asks for the same meanwhile waits for it, and whoever asks for something else does not. A
 * failure is not remembered. Safe for any number of threads.
 */
public final class FutureCache<K, V> {

  private final AsyncCache<K, V> known;

  private FutureCache(AsyncCache<K, V> known) {
    this.known = known;
  }

  /** Remembers as many as that, those that are asked for most. */
  public static <K, V> FutureCache<K, V> ofCount(int most) {
    return new FutureCache<>(Caffeine.newBuilder().maximumSize(most).buildAsync());
  }

  /**
   * Remembers what weighs no more than that together, for as long as somebody asks for it every ten
   * minutes.
   *
   * @param most in bytes
   * @param bytes of one
   */
  public static <K, V> FutureCache<K, V> ofBytes(long most, ToLongFunction<V> bytes) {
    return new FutureCache<>(
        Caffeine.newBuilder()
            .maximumWeight(most)
            .expireAfterAccess(Duration.ofMinutes(10))
            .weigher((K key, V one) -> (int) Math.min(Integer.MAX_VALUE, bytes.applyAsLong(one)))
            .buildAsync());
  }

  /**
   * What belongs to a key, worked out now if it is not known.
   *
   * @throws RuntimeException what working it out ended with, for everybody who waited for it
   */
  public V get(K key, Supplier<V> work) {
    Asked<V> own = new Asked<>();
    CompletableFuture<V> other = known.asMap().putIfAbsent(key, own);
    if (other != null) {
      return await(other);
    }
    try {
      own.complete(work.get());
    } catch (RuntimeException | Error e) {
      own.fail(e);
      throw e;
    }
    return own.join();
  }

  /** One that fails without its cause: the cache would tell of that in the log, for nobody. */
  private static final class Asked<V> extends CompletableFuture<V> {
    private volatile Throwable why;

    private void fail(Throwable cause) {
      why = cause;
      cancel(false);
    }
  }

  private static <V> V await(CompletableFuture<V> other) {
    try {
      return other.join();
    } catch (CancellationException e) {
      throw other instanceof Asked<V> asked && asked.why instanceof RuntimeException why ? why : e;
    }
  }

  /** Remembers it no more. */
  public void forget(K key) {
    known.synchronous().invalidate(key);
  }

  /** Remembers what somebody else has worked out. */
  public void put(K key, V value) {
    known.put(key, CompletableFuture.completedFuture(value));
  }
}
