package ironsieve.server.store;

import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.inject.Inject;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.Consumer;
import org.jboss.logging.Logger;

/**
 * Tells whoever follows that something has changed, here or on another server of this database,
 * once it is committed. Safe for any number of threads.
 */
@ApplicationScoped
public class ChangeFeed {

  private static final Logger LOG = Logger.getLogger("ironsieve");

  @Inject ChangeListener listener;

  private final List<Consumer<String>> followers = new CopyOnWriteArrayList<>();
  private ChangeListener.Listening listening;

  void onStart(@Observes StartupEvent event) {
    listening = listener.listenToAll(this::tell);
  }

  void onStop(@Observes ShutdownEvent event) {
    if (listening != null) {
      listening.close();
    }
  }

  private void tell(String what) {
    for (Consumer<String> follower : followers) {
      try {
        follower.accept(what);
      } catch (RuntimeException e) {
        // The others are told all the same.
        LOG.warn("Somebody could not be told of a change.", e);
      }
    }
  }

  /**
   * Follows changes.
   *
   * @param told is told at each the id of a rulebase, or "gateway:" and the name of a gateway,
   *     "log" where a gateway told of connections, or "" where it may be anything; has to be quick
   * @return ends it
   */
  public Runnable follow(Consumer<String> told) {
    // One of its own, for the same may follow twice.
    Consumer<String> own = told::accept;
    followers.add(own);
    return () -> followers.remove(own);
  }
}
