package ironsieve.server.api;

import io.vertx.core.Vertx;
import io.vertx.ext.web.RoutingContext;
import ironsieve.progress.Progress;
import ironsieve.server.jobs.Jobs;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.context.RequestScoped;
import jakarta.inject.Inject;
import java.nio.charset.CharacterCodingException;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;

/**
 * What the request being answered works on: it ends when nobody waits for the answer any more, that
 * is, when the connection is closed. Who gives it a name in {@link #NAME} can ask meanwhile how far
 * it is; who wants it cancelled closes the connection, which reaches the right server however many
 * there are.
 */
@RequestScoped
public class Work {

  /** The header that names a request, so that its progress can be asked for. */
  static final String NAME = "Sieve-Work";

  /** The header that says in a few words what it is, percent-encoded. */
  static final String WHAT = "Sieve-Work-What";

  private static final int LONGEST_NAME = 64;
  private static final int LONGEST_WHAT = 100;

  /** Nobody waits longer for one answer; what takes longer is to be asked for in parts. */
  private static final Duration LONGEST = Duration.ofMinutes(5);

  /** The work that has a name, while it goes on. */
  @ApplicationScoped
  static class Going {

    /** A bound, for names are made up by whoever asks. */
    private static final int MOST = 1_000;

    private final Map<String, Progress> byName = new ConcurrentHashMap<>();

    /** How far the work of this name is; nothing if there is none on this server. */
    Optional<Progress> of(String name) {
      return Optional.ofNullable(byName.get(name));
    }

    /** Whether the work goes by its name from now on; not if that is taken or no name. */
    boolean begin(String name, Progress progress) {
      return name != null
          && !name.isBlank()
          && name.length() <= LONGEST_NAME
          && byName.size() < MOST
          && byName.putIfAbsent(name, progress) == null;
    }

    void end(String name) {
      byName.remove(name);
    }
  }

  @Inject Going going;
  @Inject Jobs jobs;
  @Inject RoutingContext request;

  /** Where the work tells how far it is, and learns that nobody waits for it any more. */
  Progress progress() {
    Progress progress = new Progress();
    String name = request.request().getHeader(NAME);
    boolean isNamed = going.begin(name, progress);
    Going all = going;
    Jobs known = jobs;
    long job = known.begin(Jobs.Kind.REQUEST, what(), said(RulebaseResource.EDITOR), progress);
    Vertx vertx = request.vertx();
    long timer =
        vertx.setTimer(
            LONGEST.toMillis(),
            over -> progress.stop("this took longer than " + LONGEST.toMinutes() + " minutes"));
    // Answered or given up; in the first case there is nothing left to stop.
    request.addEndHandler(
        ended -> {
          progress.stop();
          known.end(job);
          vertx.cancelTimer(timer);
          if (isNamed) {
            all.end(name);
          }
        });
    return progress;
  }

  /** What the request is, as whoever sent it calls it. */
  private String what() {
    String said = said(WHAT);
    return said.isBlank()
        ? request.request().method() + " " + request.request().path()
        : said.substring(0, Math.min(said.length(), LONGEST_WHAT));
  }

  private String said(String header) {
    String raw = request.request().getHeader(header);
    try {
      return raw == null ? "" : EditorName.decoded(raw);
    } catch (CharacterCodingException e) {
      // It is only shown; what has to be right is refused elsewhere.
      return "";
    }
  }
}
