package ironsieve.server.sources;

import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import ironsieve.files.Documents.SourceDoc;
import ironsieve.files.SourceKind;
import ironsieve.progress.Progress;
import ironsieve.server.clock.BackgroundThreads;
import ironsieve.server.edit.Author;
import ironsieve.server.jobs.Jobs;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.inject.Inject;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.eclipse.microprofile.config.inject.ConfigProperty;

/**
 * Reads the sources whose time has come, one after the other on a thread of its own. Of several
 * servers on one database one reads each source.
 */
@ApplicationScoped
class SourceTimer {

  /** Names are not asked for again sooner, however short they live. */
  private static final Duration SHORTEST = Duration.ofSeconds(30);

  @Inject Sources sources;
  @Inject Jobs jobs;
  @Inject Clock clock;

  /** Seconds between looks at the clock; 0 for never. */
  @ConfigProperty(name = "iron-sieve.sources.tick", defaultValue = "15")
  int tick;

  private volatile Progress reading = new Progress();
  private volatile boolean isEnding;
  private ScheduledExecutorService thread;

  void onStart(@Observes StartupEvent event) {
    if (tick > 0) {
      thread = BackgroundThreads.thread("sources");
      thread.scheduleWithFixedDelay(this::look, tick, tick, TimeUnit.SECONDS);
    }
  }

  void onStop(@Observes ShutdownEvent event) {
    isEnding = true;
    reading.stop();
    if (thread != null) {
      thread.shutdownNow();
    }
  }

  /** Reads every source whose time has come. */
  void look() {
    try {
      for (Sources.Known known : sources.all()) {
        if (isDue(known, clock.instant())) {
          read(known.source());
        }
      }
    } catch (RuntimeException e) {
      // The database may be away for a while; the next look is soon.
      jobs.fail(Jobs.Kind.SOURCE, "the look at all sources", "", e);
    }
  }

  private void read(SourceDoc source) {
    Author author = new Author(source.name(), "kept current by itself");
    jobs.run(
        Jobs.Kind.SOURCE,
        "reading " + source.name(),
        progress -> {
          reading = progress;
          if (!isEnding) {
            sources.sync(source.name(), author, progress);
          }
        });
  }

  static boolean isDue(Sources.Known known, Instant now) {
    int every = known.source().every();
    Instant last = known.state().lookedAt();
    if (every == 0) {
      return false;
    }
    if (last == null || !now.isBefore(last.plus(Duration.ofMinutes(every)))) {
      return true;
    }
    // What a name resolves to holds only so long.
    return known.source().kind().equals(SourceKind.RESOLVER.word())
        && !now.isBefore(last.plus(SHORTEST))
        && known.state().resolved().values().stream()
            .anyMatch(one -> !now.isBefore(one.at().plusSeconds(one.seconds())));
  }
}
