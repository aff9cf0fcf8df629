package ironsieve.server.tapes;

import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import ironsieve.files.FaultException;
import ironsieve.recorded.Minutes;
import ironsieve.recorded.TapeColumns;
import ironsieve.server.clock.BackgroundThreads;
import ironsieve.server.edit.TapeEditor;
import ironsieve.server.jobs.Jobs;
import ironsieve.server.store.Company;
import ironsieve.server.store.TapeStore;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.inject.Inject;
import java.time.LocalDate;
import java.util.Optional;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.eclipse.microprofile.config.inject.ConfigProperty;

/**
 * Takes off tapes what is older than somebody said they keep: at once when it is said, and every
 * hour from then on; what listens for a tape saves no more than is kept. A tape on which nothing
 * would be left goes as a whole. Of several servers any may do it, each time all of it or nothing.
 */
@ApplicationScoped
public class Retention {

  @Inject TapeEditor tapeEditor;
  @Inject Jobs jobs;
  @Inject TapeStore tapes;
  @Inject Company company;

  /** Minutes between looks at the tapes; 0 for never. */
  @ConfigProperty(name = "iron-sieve.retention.every", defaultValue = "60")
  int every;

  private ScheduledExecutorService thread;

  void onStart(@Observes StartupEvent event) {
    if (every > 0) {
      thread = BackgroundThreads.thread("retention");
      thread.scheduleWithFixedDelay(this::look, 1, every, TimeUnit.MINUTES);
    }
  }

  void onStop(@Observes ShutdownEvent event) {
    if (thread != null) {
      thread.shutdownNow();
    }
  }

  /**
   * The first day that is kept where so many are; today is one of them.
   *
   * @throws FaultException if that is no number of days
   */
  public LocalDate first(int days) {
    if (days < 1 || days > TapeStore.MOST_DAYS) {
      throw new FaultException(
          "tape", "days", "1 to " + TapeStore.MOST_DAYS + " days are kept, not " + days);
    }
    return company.today().minusDays(days - 1L);
  }

  /** The first minute that is kept of a tape, where somebody has said for how many days. */
  public Optional<Integer> firstMinute(String rulebase, String tape) {
    return tapes.keepDays(rulebase, tape).map(days -> Minutes.nearest(first(days).atStartOfDay()));
  }

  /** Takes off every tape what is too old for it. */
  public void look() {
    try {
      tapes.forgetGone();
      for (TapeStore.Ageing one : tapes.ageing()) {
        jobs.run(
            Jobs.Kind.RETENTION,
            "taking off what is too old on " + one.tape().name(),
            progress -> expire(one.rulebase(), one.tape()));
      }
    } catch (RuntimeException e) {
      // The database may be away for a while; the next look is soon enough.
      jobs.fail(Jobs.Kind.RETENTION, "the look at all tapes", "", e);
    }
  }

  /** Takes off one tape what is too old for it; nothing where all of it is kept. */
  public void expire(String rulebase, TapeStore.Kept tape) {
    if (tape.keepDays() == null) {
      return;
    }
    LocalDate first = first(tape.keepDays());
    TapeColumns.Before old = tapeEditor.seenBefore(rulebase, tape, first);
    if (old.lines() == 0) {
      return;
    }
    if (old.isAll()) {
      tapes.remove(rulebase, tape.name());
    } else {
      tapeEditor.forget(rulebase, tape, first);
    }
  }
}
