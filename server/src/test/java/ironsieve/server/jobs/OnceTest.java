package ironsieve.server.jobs;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Function;
import java.util.function.Supplier;
import org.junit.jupiter.api.Test;

/** What is worked out once for everybody who asks, by itself and by key. */
class OnceTest {

  private static final int ASKERS = 8;

  private final AtomicInteger times = new AtomicInteger();

  /** Has many ask at once, the first of whom works for as long as others are still coming. */
  private List<Future<String>> asked(Function<Supplier<String>, String> once, Supplier<String> end)
      throws InterruptedException {
    CountDownLatch begun = new CountDownLatch(1);
    CountDownLatch goOn = new CountDownLatch(1);
    Supplier<String> work =
        () -> {
          times.incrementAndGet();
          begun.countDown();
          try {
            goOn.await();
          } catch (InterruptedException e) {
            throw new IllegalStateException(e);
          }
          return end.get();
        };
    Callable<String> asking = () -> once.apply(work);
    ExecutorService threads = Executors.newFixedThreadPool(ASKERS);
    try {
      List<Future<String>> all = new ArrayList<>();
      all.add(threads.submit(asking));
      begun.await();
      for (int i = 1; i < ASKERS; i++) {
        all.add(threads.submit(asking));
      }
      goOn.countDown();
      return all;
    } finally {
      threads.shutdown();
    }
  }

  @Test
  void itIsWorkedOutOnceForAll() throws Exception {
    Once<String> once = new Once<>();
    assertThat(once.known()).isEmpty();
    for (Future<String> one : asked(once::get, () -> "it")) {
      assertThat(one.get()).isEqualTo("it");
    }
    assertThat(times).hasValue(1);
    assertThat(once.known()).contains("it");
  }

  @Test
  void aFailureIsToldAsItIsAndNotRemembered() throws Exception {
    Once<String> once = new Once<>();
    failsForAll(once::get);
    assertThat(once.known()).isEmpty();
    assertThat(once.get(() -> "tomorrow")).isEqualTo("tomorrow");
    FutureCache<String, String> cache = FutureCache.ofCount(10);
    failsForAll(work -> cache.get("a", work));
    assertThat(cache.get("a", () -> "tomorrow")).isEqualTo("tomorrow");
  }

  private void failsForAll(Function<Supplier<String>, String> once) throws InterruptedException {
    List<Future<String>> all =
        asked(
            once,
            () -> {
              throw new IllegalArgumentException("not today");
            });
    for (Future<String> one : all) {
      assertThatThrownBy(one::get)
          .isInstanceOf(ExecutionException.class)
          .cause()
          .isInstanceOf(IllegalArgumentException.class)
          .hasMessage("not today");
    }
  }

  @Test
  void whatIsSetIsNotWorkedOut() {
    Once<String> once = new Once<>();
    once.set("set");
    assertThat(once.get(() -> "worked out")).isEqualTo("set");
  }

  @Test
  void eachKeyIsWorkedOutOnceAndWithoutWaitingForOthers() throws Exception {
    FutureCache<String, String> cache = FutureCache.ofCount(10);
    List<Future<String>> all =
        asked(
            work -> cache.get("a", work),
            // Whoever works out one may ask for another meanwhile.
            () -> cache.get("b", () -> "b") + "a");
    for (Future<String> one : all) {
      assertThat(one.get()).isEqualTo("ba");
    }
    assertThat(times).hasValue(1);
  }

  @Test
  void noMoreIsRememberedThanMayWeigh() {
    FutureCache<Integer, String> cache = FutureCache.ofBytes(100, String::length);
    for (int i = 0; i < 1_000; i++) {
      cache.get(i, () -> "ten bytes ");
    }
    int known = 0;
    for (int i = 0; i < 1_000; i++) {
      int[] worked = new int[1];
      cache.get(
          i,
          () -> {
            worked[0]++;
            return "ten bytes ";
          });
      known += 1 - worked[0];
    }
    assertThat(known).isLessThanOrEqualTo(20);
  }
}
