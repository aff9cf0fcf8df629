package ironsieve.server.jobs;

import io.quarkus.runtime.ShutdownEvent;
import ironsieve.progress.Progress;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.inject.Inject;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.Comparator;
import java.util.Deque;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CancellationException;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.ScheduledThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Consumer;
import org.jboss.logging.Logger;

/**
 * What this server is working on, and what of it has failed lately: work that somebody waits for
 * ends with an answer, and work that is done by itself with a line in the log where it fails. Safe
 * for any number of threads.
 */
@ApplicationScoped
public class Jobs {

  private static final Logger LOG = Logger.getLogger("ironsieve");

  /** As many are told; who knows what is wrong with these knows enough. */
  private static final int MOST_FAILED = 20;

  private static final int MOST_RUNNING = 1_000;

  /** What sort of work it is. */
  public enum Kind {
    /** Somebody waits for it, and nobody waits longer; what takes longer is asked for in parts. */
    REQUEST(Duration.ofMinutes(5)),
    /** A source is read because its time has come. */
    SOURCE(Duration.ofMinutes(30)),
    /** What is too old is taken off tapes. */
    RETENTION(null),
    /** A review is made before somebody asks for it. */
    REVIEW(null),
    /** Gateways are told of releases in waves. */
    DELIVERY(null),
    /** A replay of recorded traffic. */
    REPLAY(Duration.ofHours(24)),
    /** What is done once after a start, so that the first answers are quick. */
    WARM_UP(null);

    private final Duration longest;

    Kind(Duration longest) {
      this.longest = longest;
    }

    /** Whether it looks now and then whether somebody has stopped it. */
    public boolean canBeCancelled() {
      return longest != null;
    }

    /** After as long it is stopped; nothing for what does not look for that. */
    Optional<Duration> longest() {
      return Optional.ofNullable(longest);
    }

    /** What it is called. */
    public String word() {
      return name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }
  }

  /**
   * Something that is going on.
   *
   * @param name what whoever began it calls it, to ask how far it is; empty for none
   * @param what in a few words, such as {@code reading Saltmere directory}
   * @param owner who began it; empty for the server itself
   * @param progress how far it is, and the way to stop it
   */
  public record Running(
      long id,
      Kind kind,
      String name,
      String what,
      String owner,
      Instant begun,
      Progress progress) {}

  /** Something that has failed, with the reason in words. */
  public record Failed(Kind kind, String what, String owner, Instant at, String why) {}

  @Inject Clock clock;

  private final AtomicLong next = new AtomicLong();
  private final Map<Long, Running> running = new ConcurrentHashMap<>();
  private final Map<Long, ScheduledFuture<?>> ends = new ConcurrentHashMap<>();
  private final Map<String, Running> byName = new ConcurrentHashMap<>();
  private final ScheduledThreadPoolExecutor timer = timer();
  private final Deque<Failed> failed = new ArrayDeque<>();
  private final Map<Kind, Long> failures = new EnumMap<>(Kind.class);

  private static ScheduledThreadPoolExecutor timer() {
    ScheduledThreadPoolExecutor timer =
        new ScheduledThreadPoolExecutor(
            1,
            work -> {
              Thread thread = new Thread(work, "ends of jobs");
              thread.setDaemon(true);
              return thread;
            });
    timer.setRemoveOnCancelPolicy(true);
    return timer;
  }

  void stop(@Observes ShutdownEvent event) {
    timer.shutdownNow();
  }

  /** The same as {@link #begin(Kind, String, String, String, Progress)} of something nameless. */
  public long begin(Kind kind, String what, String owner, Progress progress) {
    return begin(kind, "", what, owner, progress);
  }

  /**
   * Says that something has begun; whoever does must say that it ended. What takes longer than its
   * kind may is stopped.
   *
   * @param name by which whoever began it asks for it; empty for none, and without effect where
   *     something else goes by it
   * @return its id; one that {@link #running} does not know where too much is going on to tell all
   */
  public long begin(Kind kind, String name, String what, String owner, Progress progress) {
    return begin(kind, name, what, owner, progress, kind.longest());
  }

  long begin(
      Kind kind,
      String name,
      String what,
      String owner,
      Progress progress,
      Optional<Duration> longest) {
    long id = next.incrementAndGet();
    longest.ifPresent(
        time ->
            ends.put(
                id,
                timer.schedule(
                    () -> progress.stop("this took longer than " + time.toMinutes() + " minutes"),
                    time.toMillis(),
                    TimeUnit.MILLISECONDS)));
    if (running.size() < MOST_RUNNING) {
      Running one = new Running(id, kind, name, what, owner, clock.instant(), progress);
      running.put(id, one);
      if (!name.isBlank()) {
        byName.putIfAbsent(name, one);
      }
    }
    return id;
  }

  /** Says that something is going on no more. */
  public void end(long id) {
    Running one = running.remove(id);
    if (one != null) {
      byName.remove(one.name(), one);
    }
    ScheduledFuture<?> end = ends.remove(id);
    if (end != null) {
      end.cancel(false);
    }
  }

  /** What goes by a name; nothing if nothing does on this server, or no more. */
  public Optional<Running> named(String name) {
    return Optional.ofNullable(byName.get(name));
  }

  /**
   * Does something that nobody waits for. Where it fails, that is logged, counted and told; it is
   * thrown on to nobody.
   */
  public void run(Kind kind, String what, Consumer<Progress> work) {
    Progress progress = new Progress();
    long id = begin(kind, what, "", progress);
    try {
      work.accept(progress);
    } catch (CancellationException e) {
      LOG.debugf("%s was stopped.", what);
    } catch (RuntimeException e) {
      fail(kind, what, "", e);
    } finally {
      end(id);
    }
  }

  /** Says that something has failed that nobody waited for. */
  public void fail(Kind kind, String what, String owner, Throwable why) {
    LOG.warnf(why, "%s failed.", what);
    synchronized (failed) {
      failed.addFirst(new Failed(kind, what, owner, clock.instant(), words(why)));
      if (failed.size() > MOST_FAILED) {
        failed.removeLast();
      }
      failures.merge(kind, 1L, Long::sum);
    }
  }

  private static String words(Throwable why) {
    String message = why.getMessage();
    return message == null || message.isBlank() ? "an unexpected fault; see the log" : message;
  }

  /** What is going on, the oldest first. */
  public List<Running> running() {
    return running.values().stream().sorted(Comparator.comparingLong(Running::id)).toList();
  }

  /** What has failed lately, the newest first. */
  public List<Failed> failed() {
    synchronized (failed) {
      return List.copyOf(failed);
    }
  }

  /** How often something of each kind has failed since the server was started. */
  public Map<Kind, Long> failures() {
    synchronized (failed) {
      return Map.copyOf(failures);
    }
  }

  /**
   * Cancels something.
   *
   * @param who whoever wants that, for those who wait for it
   * @return what it was; nothing if it is going on no more, or cannot be cancelled
   */
  public Optional<Running> cancel(long id, String who) {
    Optional<Running> found =
        Optional.ofNullable(running.get(id)).filter(one -> one.kind().canBeCancelled());
    found.ifPresent(one -> one.progress().stop(who + " cancelled this"));
    return found;
  }
}
