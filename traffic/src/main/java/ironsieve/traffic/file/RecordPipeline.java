package ironsieve.traffic.file;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.function.Consumer;

/**
 * Hands things on to a thread of their own, many at a time, so that what is read next is read while
 * these are worked on. What that thread throws is thrown to whoever hands on.
 */
final class RecordPipeline<T> implements Consumer<T>, AutoCloseable {

  private static final int TOGETHER = 4_096;
  private static final int WAITING = 4;

  private final BlockingQueue<List<T>> queue = new ArrayBlockingQueue<>(WAITING);
  private final Thread thread;
  private List<T> next = new ArrayList<>(TOGETHER);
  private volatile RuntimeException failure;
  private volatile boolean isClosed;

  RecordPipeline(Consumer<T> to) {
    thread = new Thread(() -> work(to), "sieve records");
    thread.setDaemon(true);
    thread.start();
  }

  private void work(Consumer<T> to) {
    try {
      for (List<T> some = queue.take(); !some.isEmpty() && !isClosed; some = queue.take()) {
        some.forEach(to);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    } catch (RuntimeException e) {
      failure = e;
      queue.clear();
    } catch (Error e) {
      failure = new IllegalStateException("there is no room for all of it", e);
      queue.clear();
    }
  }

  @Override
  public void accept(T one) {
    next.add(one);
    if (next.size() == TOGETHER) {
      send();
    }
  }

  private void send() {
    List<T> full = next;
    next = new ArrayList<>(TOGETHER);
    put(full);
  }

  private void put(List<T> some) {
    try {
      while (failure == null
          && !queue.offer(some, 100, java.util.concurrent.TimeUnit.MILLISECONDS)) {
        // The other thread is busy, or has failed.
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new java.util.concurrent.CancellationException("interrupted");
    }
    if (failure != null) {
      throw failure;
    }
  }

  /** Waits until everything has been worked on. */
  void finish() {
    if (!next.isEmpty()) {
      send();
    }
    put(List.of());
    join();
    if (failure != null) {
      throw failure;
    }
  }

  /** Ends the thread, with what it works on or, after {@link #finish}, without. */
  @Override
  public void close() {
    isClosed = true;
    thread.interrupt();
    join();
  }

  private void join() {
    try {
      thread.join();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }
}
