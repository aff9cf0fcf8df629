package ironsieve.server.store;

import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.inject.Inject;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import org.jboss.logging.Logger;

/**
 * Tells whoever follows that something has changed, here or on another server of this database,
 * once it is committed. Safe for any number of threads.
 */
@ApplicationScoped
public class ChangeFeed {

  private static final Logger LOG = Logger.getLogger("ironsieve");

  @Inject ChangeListener listener;

  private final List<Runnable> followers = new CopyOnWriteArrayList<>();
  private ChangeListener.Listening listening;

  void onStart(@Observes StartupEvent event) {
    listening = listener.listenToAll(rulebase -> tell());
  }

  void onStop(@Observes ShutdownEvent event) {
    if (listening != null) {
      listening.close();
    }
  }

  private void tell() {
    for (Runnable follower : followers) {
      try {
        follower.run();
      } catch (RuntimeException e) {
        // The others are told all the same.
        LOG.warn("Somebody could not be told of a change.", e);
      }
    }
  }

  /**
   * Follows changes.
   *
   * @param told is run at each, quickly
   * @return ends it
   */
  public Runnable follow(Runnable told) {
    // One of its own, for the same may follow twice.
    Runnable own = told::run;
    followers.add(own);
    return () -> followers.remove(own);
  }
}
