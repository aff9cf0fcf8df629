package ironsieve.server.edit;

import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import ironsieve.server.store.ChangeListener;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.inject.Inject;
import java.util.List;
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
    try {
      List<String> inUse = snapshots.inUse();
      if (!rulebase.isEmpty()) {
        inUse = inUse.stream().filter(rulebase::equals).toList();
      }
      for (String one : inUse) {
        boolean wasReviewed =
            snapshots.remembered(one).filter(RulebaseSnapshot::isReviewed).isPresent();
        snapshots.followed(one).filter(followed -> wasReviewed).ifPresent(prefetcher::review);
      }
    } catch (RuntimeException e) {
      // Whoever asks for it makes it, and is told what is wrong.
      LOG.debug("What another server changed was not followed.", e);
    }
  }
}
