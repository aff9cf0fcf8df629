package ironsieve.server.api;

import io.vertx.ext.web.RoutingContext;
import ironsieve.progress.Progress;
import ironsieve.server.jobs.Jobs;
import jakarta.enterprise.context.RequestScoped;
import jakarta.inject.Inject;
import java.nio.charset.CharacterCodingException;

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

  @Inject Jobs jobs;
  @Inject RoutingContext request;

  /** Where the work tells how far it is, and learns that nobody waits for it any more. */
  Progress progress() {
    Progress progress = new Progress();
    Jobs known = jobs;
    long job =
        known.begin(Jobs.Kind.REQUEST, name(), what(), header(RulebaseResource.EDITOR), progress);
    // Answered or given up; in the first case there is nothing left to stop.
    request.addEndHandler(
        ended -> {
          progress.stop();
          known.end(job);
        });
    return progress;
  }

  /** A longer name is none. */
  private String name() {
    String said = request.request().getHeader(NAME);
    return said == null || said.length() > LONGEST_NAME ? "" : said;
  }

  /** What the request is, as whoever sent it calls it. */
  private String what() {
    String said = header(WHAT);
    return said.isBlank()
        ? request.request().method() + " " + request.request().path()
        : said.substring(0, Math.min(said.length(), LONGEST_WHAT));
  }

  private String header(String header) {
    String raw = request.request().getHeader(header);
    try {
      return raw == null ? "" : EditorName.decoded(raw);
    } catch (CharacterCodingException e) {
      // It is only shown; what has to be right is refused elsewhere.
      return "";
    }
  }
}
