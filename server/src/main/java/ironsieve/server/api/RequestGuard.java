package ironsieve.server.api;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.vertx.http.runtime.filters.Filters;
import io.vertx.core.buffer.Buffer;
import io.vertx.core.http.HttpMethod;
import io.vertx.core.http.HttpServerRequest;
import io.vertx.ext.web.Router;
import io.vertx.ext.web.RoutingContext;
import io.vertx.ext.web.handler.BodyHandler;
import io.vertx.ext.web.impl.RoutingContextInternal;
import ironsieve.text.PlainText;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.inject.Inject;
import jakarta.ws.rs.WebApplicationException;
import java.net.URI;
import java.nio.charset.CharacterCodingException;
import java.time.Duration;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicLong;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jboss.logging.Logger;

/**
 * Who is let in. The server has no accounts yet, so whatever a browser sends on behalf of another
 * page must not get through: requests name one of the server's own hosts (a name that is bound to
 * its address anew is none of them), those that change something come from its own pages, and a
 * body says what it is, which a foreign page cannot without asking first. Answers say what a
 * browser may do with them.
 */
@ApplicationScoped
public class RequestGuard {

  private static final Logger LOG = Logger.getLogger("ironsieve");
  private static final int FIRST = 10_000;
  private static final int MISDIRECTED = 421;
  private static final int FORBIDDEN = 403;
  private static final int UNSUPPORTED = 415;
  private static final int TOO_LONG = 414;
  private static final String TIMER = "slow body";
  private static final int UNREADABLE = 400;
  private static final int TIMEOUT = 408;
  private static final int LONGEST_ADDRESS = 8_000;
  private static final long LARGEST_BODY = 32L << 20;
  private static final int LARGE_BODY = 200_000;

  /** So much of bodies may be in memory at one time, over all who send. */
  private static final long MOST_BODIES =
      Math.max(LARGEST_BODY, Runtime.getRuntime().maxMemory() / 8);

  /** So many large bodies, and so many uploads, are worked on at one time. */
  private static final int MOST_LARGE = 4;

  private static final long SLOWEST_BODY = Duration.ofSeconds(15).toMillis();
  private static final Set<HttpMethod> READING =
      Set.of(HttpMethod.GET, HttpMethod.HEAD, HttpMethod.OPTIONS);
  private static final Set<String> LOOPBACK = Set.of("localhost", "127.0.0.1", "[::1]");

  @ConfigProperty(name = "iron-sieve.hosts")
  Optional<List<String>> hosts;

  @Inject ObjectMapper json;

  private final BodyHandler bodies = BodyHandler.create(false).setBodyLimit(LARGEST_BODY);
  private final Uploads uploads = new Uploads();
  private final LargeRequestQueue large = new LargeRequestQueue(MOST_LARGE);
  private final LargeRequestQueue uploaded = new LargeRequestQueue(MOST_LARGE);
  private final AtomicLong bodiesInMemory = new AtomicLong();
  private final Set<String> own = new HashSet<>(LOOPBACK);

  void filters(@Observes Filters filters) {
    hosts.ifPresent(names -> names.forEach(name -> own.add(name.toLowerCase(Locale.ROOT))));
    filters.register(this::enter, FIRST);
    filters.register(this::received, FIRST - 1);
  }

  /** What no address of the API takes is told like everything else that goes wrong. */
  void router(@Observes Router router) {
    router.route("/api/*").order(Integer.MIN_VALUE).failureHandler(this::failed);
    router.route("/api/*").last().handler(context -> refuse(context, 404));
    router.route("/assets/*").last().handler(context -> refuse(context, 404));
    for (int status : new int[] {400, 405, 408, 413, 414, 431, 500, 503}) {
      router.errorHandler(status, context -> refuse(context, status));
    }
  }

  /** Whatever nobody thought of is told as what it is, with what it takes to find it in the log. */
  private void failed(RoutingContext context) {
    if (context.response().closed()) {
      // Whoever asked has gone, as a browser does with what it asked for before the last key.
      return;
    }
    Throwable failure = context.failure();
    int status = context.statusCode() > 0 ? context.statusCode() : 500;
    if (failure instanceof WebApplicationException web) {
      status = web.getResponse().getStatus();
    } else if (failure != null && status >= 500) {
      LOG.error(context.request().method() + " " + context.request().path(), failure);
    }
    refuse(context, status);
  }

  private void enter(RoutingContext context) {
    HttpServerRequest request = context.request();
    headers(context);
    Optional<Integer> refusal = refusal(request);
    if (refusal.isPresent()) {
      if (!READING.contains(request.method())) {
        // Its body is not read, so nothing else can come over this connection.
        context.response().putHeader("Connection", "close");
      }
      refuse(context, refusal.get());
    } else if (READING.contains(request.method())) {
      context.next();
    } else if (Uploads.isUpload(request)) {
      uploads.receive(context, status -> refuse(context, status));
    } else {
      read(context);
    }
  }

  /**
   * Reads the whole body before anything waits for it: a client that sends half of one keeps a
   * connection and nothing else, and that not for long.
   */
  private void read(RoutingContext context) {
    HttpServerRequest request = context.request();
    long size = Math.min(LARGEST_BODY, Uploads.declared(request).orElse(LARGEST_BODY));
    if (bodiesInMemory.addAndGet(size) > MOST_BODIES) {
      bodiesInMemory.addAndGet(-size);
      context.response().putHeader("Connection", "close");
      refuse(context, 503);
      return;
    }
    context.addEndHandler(ended -> bodiesInMemory.addAndGet(-size));
    long timer =
        context
            .vertx()
            .setTimer(
                SLOWEST_BODY,
                late -> {
                  context.response().putHeader("Connection", "close");
                  refuse(context, TIMEOUT);
                  request.connection().close();
                });
    context.put(TIMER, timer);
    context.addEndHandler(ended -> context.vertx().cancelTimer(timer));
    bodies.handle(context);
  }

  /** From here on it may take as long as it takes; what is large waits for its turn. */
  private void received(RoutingContext context) {
    IdleTimeout.allow(context);
    if (context.get(Uploads.FILE) != null) {
      uploaded.take(context);
      return;
    }
    Long timer = context.remove(TIMER);
    if (timer != null) {
      context.vertx().cancelTimer(timer);
      if (context.body().buffer() == null) {
        // Nothing was sent. Unless it is said that this was all, the next one waits for more.
        ((RoutingContextInternal) context).setBody(Buffer.buffer());
      } else if (context.body().length() > LARGE_BODY) {
        large.take(context);
        return;
      }
    }
    context.next();
  }

  private Optional<Integer> refusal(HttpServerRequest request) {
    if (request.uri().length() > LONGEST_ADDRESS) {
      return Optional.of(TOO_LONG);
    }
    if (request.authority() == null
        || !own.contains(request.authority().host().toLowerCase(Locale.ROOT))) {
      return Optional.of(MISDIRECTED);
    }
    if (!isText(request.uri())) {
      return Optional.of(UNREADABLE);
    }
    if (READING.contains(request.method())) {
      return Optional.empty();
    }
    if (isForeign(request)) {
      return Optional.of(FORBIDDEN);
    }
    String type = request.getHeader("Content-Type");
    boolean saysWhatItIs =
        type != null
            && type.toLowerCase(Locale.ROOT)
                .matches("(application/json|application/zip|text/csv)(\\s*;.*)?");
    return saysWhatItIs || Uploads.isUpload(request) || request.method() == HttpMethod.DELETE
        ? Optional.empty()
        : Optional.of(UNSUPPORTED);
  }

  /** Whether an address is UTF-8 without characters that no text may hold. */
  private static boolean isText(String uri) {
    try {
      return PlainText.forbidden(EditorName.decoded(uri)).isEmpty();
    } catch (CharacterCodingException e) {
      return false;
    }
  }

  /** Whether a browser sends this for a page that is not the server's own. */
  private static boolean isForeign(HttpServerRequest request) {
    String site = request.getHeader("Sec-Fetch-Site");
    if (site != null && !site.equals("same-origin") && !site.equals("none")) {
      return true;
    }
    String origin = request.getHeader("Origin");
    if (origin == null) {
      return false;
    }
    try {
      String authority = URI.create(origin).getAuthority();
      return authority == null || !authority.equalsIgnoreCase(request.getHeader("Host"));
    } catch (IllegalArgumentException e) {
      return true;
    }
  }

  private static void headers(RoutingContext context) {
    String path = context.request().path();
    var headers = context.response().headers();
    headers.set("X-Content-Type-Options", "nosniff");
    headers.set("Referrer-Policy", "no-referrer");
    headers.set("X-Frame-Options", "DENY");
    headers.set("Cross-Origin-Resource-Policy", "same-origin");
    headers.set("Cross-Origin-Opener-Policy", "same-origin");
    headers.set(
        "Content-Security-Policy",
        "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:;"
            + " font-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'self';"
            + " frame-ancestors 'none'");
    context.addHeadersEndHandler(
        ended -> {
          boolean found = context.response().getStatusCode() < 400;
          // A page that is kept would ask for parts that a newer server does not have any more.
          headers.set(
              "Cache-Control",
              path.startsWith("/assets/") && found
                  ? "public, max-age=31536000, immutable"
                  : "no-store");
        });
  }

  private void refuse(RoutingContext context, int status) {
    if (context.response().ended() || context.response().headWritten()) {
      return;
    }
    context.response().setStatusCode(status).putHeader("Content-Type", "application/problem+json");
    try {
      context.response().end(json.writeValueAsString(ProblemDocument.ofStatus(status)));
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("a problem document always becomes JSON", e);
    }
  }
}
