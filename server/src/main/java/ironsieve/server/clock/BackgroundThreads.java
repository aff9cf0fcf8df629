package ironsieve.server.clock;

import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;

/** Threads for what is done from time to time while nobody waits for it. */
public final class BackgroundThreads {

  private BackgroundThreads() {}

  /** One thread that gives way to whatever somebody waits for, and does not keep the server up. */
  public static ScheduledExecutorService thread(String name) {
    return Executors.newSingleThreadScheduledExecutor(
        work -> {
          Thread made = new Thread(work, name);
          made.setDaemon(true);
          made.setPriority(Thread.MIN_PRIORITY);
          return made;
        });
  }
}
