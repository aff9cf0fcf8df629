package ironsieve.server.edit;

import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import ironsieve.server.store.ChangeListener;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.inject.Inject;
import java.util.stream.Stream;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jboss.logging.Logger;

/**
 * Follows what other servers change while nobody waits: rulebases that somebody has asked for
 * lately are brought to their newest state and reviewed, so that the first reader here after an
 * edit there does not wait for it.
 */
@ApplicationScoped
class ChangeFollower {

  private static final Logger LOG = Logger.getLogger("ironsieve");

  @Inject ChangeListener listener;
  @Inject Snapshots snapshots;
  @Inject ReviewPrefetcher prefetcher;

  @ConfigProperty(name = "iron-sieve.follows-others", defaultValue = "true")
  boolean followsOthers;

  private ChangeListener.Listening listening;

  void onStart(@Observes StartupEvent event) {
    if (followsOthers) {
      follow();
    }
  }

  void onStop(@Observes ShutdownEvent event) {
    end();
  }

  /** Begins to follow. */
  void follow() {
    listening = listener.listen(this::changed);
  }

  /** Follows no more. */
  void end() {
    if (listening != null) {
      listening.close();
    }
  }

  private void changed(String rulebase) {
    snapshots.inUse().stream()
        .filter(one -> rulebase.isEmpty() || one.equals(rulebase))
        .forEach(this::follow);
  }

  private void follow(String rulebase) {
    try {
      boolean isOfUse = isReviewedLately(rulebase);
      snapshots.follow(rulebase);
      snapshots
          .remembered(rulebase)
          .filter(newest -> isOfUse && !newest.isReviewed())
          .ifPresent(prefetcher::review);
    } catch (RuntimeException e) {
      // Whoever asks for it makes it, and is told what is wrong; the others are followed.
      LOG.debugf(e, "What another server changed in %s was not followed.", rulebase);
    }
  }

  /** Whether somebody is likely to ask for the next review, for one was asked for before it. */
  private boolean isReviewedLately(String rulebase) {
    return prefetcher.isAhead(rulebase)
        || Stream.concat(
                snapshots.remembered(rulebase).stream(), snapshots.previous(rulebase).stream())
            .anyMatch(RulebaseSnapshot::isReviewed);
  }
}
