package ironsieve.server.sources;

import ironsieve.progress.Progress;
import ironsieve.server.sources.Brought.Mark;
import ironsieve.text.FileTextException;
import ironsieve.text.SourceText;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.ConnectException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpTimeoutException;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.time.Duration;
import java.util.Base64;
import java.util.HashSet;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import java.util.zip.GZIPInputStream;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLException;

/**
 * Reads a file from a web server (RFC 9110), but only where it is new: with {@code If-None-Match}
 * and {@code If-Modified-Since}. What is larger, slower or further away than a feed is, is given up
 * with a sentence. Safe for use by many threads.
 */
final class WebFeed {

  static final int MOST_BYTES = 64 * 1024 * 1024;
  private static final int MOST_REDIRECTS = 5;
  private static final Duration CONNECTING = Duration.ofSeconds(5);
  private static final Duration ANSWERING = Duration.ofSeconds(20);
  private static final Duration WHOLE = Duration.ofSeconds(120);
  private static final int NOT_MODIFIED = 304;

  private static final ScheduledExecutorService WATCH =
      Executors.newSingleThreadScheduledExecutor(
          work -> {
            Thread thread = new Thread(work, "feed watch");
            thread.setDaemon(true);
            return thread;
          });

  // Redirects are followed here, so that a loop and a step down from https are told as what they
  // are.
  private final HttpClient client =
      HttpClient.newBuilder()
          .connectTimeout(CONNECTING)
          .followRedirects(HttpClient.Redirect.NEVER)
          .build();
  private final int mostBytes;

  WebFeed() {
    this(MOST_BYTES);
  }

  WebFeed(int mostBytes) {
    this.mostBytes = mostBytes;
  }

  /**
   * How a server is spoken to.
   *
   * @param server any address of the server that is signed in to, and no other
   * @param login the name to sign in with; empty for nobody in particular
   * @param certificates PEM of whom its certificate must come from; empty for whom this machine
   *     trusts
   */
  record Access(URI server, String login, String password, String certificates) {

    /** As anybody does. */
    static final Access ANYBODY = new Access(URI.create("https://nobody.invalid"), "", "", "");
  }

  /** A file as it came. */
  record Page(byte[] bytes, Mark mark) {

    /**
     * Its text.
     *
     * @throws SourceException if it is not UTF-8
     */
    String text() {
      try {
        return SourceText.read(bytes);
      } catch (FileTextException e) {
        throw new SourceException(e.getMessage(), e);
      }
    }
  }

  /**
   * The file at an address.
   *
   * @param known what came the last time
   * @return nothing if it is still the same
   * @throws SourceException saying why it cannot be had
   * @throws java.util.concurrent.CancellationException soon after {@code progress} is stopped
   */
  Optional<Page> read(URI address, Mark known, Progress progress) {
    return read(address, Access.ANYBODY, known, progress);
  }

  /** The same of a server that is spoken to in some way. */
  Optional<Page> read(URI address, Access access, Mark known, Progress progress) {
    HttpClient speaking = access.certificates().isEmpty() ? client : client(access);
    Set<URI> seen = new HashSet<>();
    URI next = address;
    while (seen.add(next)) {
      if (seen.size() > MOST_REDIRECTS + 1) {
        throw new SourceException("it leads on more than " + MOST_REDIRECTS + " times");
      }
      HttpResponse<InputStream> answer = ask(speaking, address, access, next, known);
      if (answer.statusCode() == NOT_MODIFIED) {
        if (known.equals(Mark.NONE)) {
          close(answer.body());
          throw new SourceException(
              "the server says that nothing has changed (304), and nothing is known of it yet");
        }
        return Optional.empty();
      }
      if (answer.statusCode() / 100 == 3) {
        next = redirect(next, answer);
        continue;
      }
      if (answer.statusCode() == 401 || answer.statusCode() == 403) {
        close(answer.body());
        throw new SourceException(
            access.login().isEmpty()
                ? "the server wants to know who asks (" + answer.statusCode() + ")"
                : isSameServer(access.server(), next)
                    ? "the server does not accept the name and password ("
                        + answer.statusCode()
                        + ")"
                    : "it leads to " + next.getHost() + ", which is sent no password");
      }
      if (answer.statusCode() != 200) {
        throw new SourceException("the server answered " + answer.statusCode());
      }
      return Optional.of(
          new Page(
              body(answer, progress),
              new Mark(
                  address.toString(),
                  answer.headers().firstValue("ETag").orElse(""),
                  answer.headers().firstValue("Last-Modified").orElse(""))));
    }
    throw new SourceException("it leads back to itself: " + next);
  }

  /** A client that trusts nobody else than is said. */
  private static HttpClient client(Access access) {
    try {
      SSLContext context = SSLContext.getInstance("TLS");
      context.init(null, TrustedCertificates.of(access.certificates()), null);
      return HttpClient.newBuilder()
          .connectTimeout(CONNECTING)
          .followRedirects(HttpClient.Redirect.NEVER)
          .sslContext(context)
          .build();
    } catch (GeneralSecurityException | IOException e) {
      throw new SourceException("the certificates cannot be read: " + e.getMessage(), e);
    }
  }

  /** Whether two addresses are of the same server: what is signed in with goes to no other. */
  private static boolean isSameServer(URI one, URI other) {
    return one.getScheme().equals(other.getScheme())
        && one.getHost().equalsIgnoreCase(other.getHost())
        && one.getPort() == other.getPort();
  }

  private HttpResponse<InputStream> ask(
      HttpClient speaking, URI address, Access access, URI now, Mark known) {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(now)
            .timeout(ANSWERING)
            .header("User-Agent", "Iron Sieve")
            .header("Accept-Encoding", "gzip")
            .header("Accept", "text/csv, text/plain, application/json;q=0.9, */*;q=0.5");
    if (!access.login().isEmpty() && isSameServer(access.server(), now)) {
      byte[] who = (access.login() + ":" + access.password()).getBytes(StandardCharsets.UTF_8);
      request.header("Authorization", "Basic " + Base64.getEncoder().encodeToString(who));
    }
    if (known.address().equals(address.toString())) {
      if (!known.etag().isEmpty()) {
        request.header("If-None-Match", known.etag());
      }
      if (!known.lastModified().isEmpty()) {
        request.header("If-Modified-Since", known.lastModified());
      }
    }
    try {
      return speaking.send(request.GET().build(), HttpResponse.BodyHandlers.ofInputStream());
    } catch (HttpTimeoutException e) {
      throw new SourceException(
          "the server did not answer within " + ANSWERING.toSeconds() + " s", e);
    } catch (ConnectException e) {
      throw new SourceException("nothing answers at " + now.getAuthority(), e);
    } catch (SSLException e) {
      throw new SourceException("its certificate was not accepted: " + e.getMessage(), e);
    } catch (IOException e) {
      throw new SourceException("it cannot be read: " + words(e), e);
    } catch (IllegalArgumentException e) {
      // A port or a length beyond what there can be, of which the client makes no answer.
      throw new SourceException("it cannot be read: " + e.getMessage(), e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new SourceException("it was given up", e);
    }
  }

  private static String words(IOException e) {
    return e.getMessage() == null ? "the connection broke" : e.getMessage();
  }

  private static URI redirect(URI from, HttpResponse<InputStream> answer) {
    String location =
        answer
            .headers()
            .firstValue("Location")
            .orElseThrow(
                () -> new SourceException("the server answered " + answer.statusCode() + " alone"));
    close(answer.body());
    URI to;
    try {
      to = from.resolve(location);
    } catch (IllegalArgumentException e) {
      throw new SourceException("it leads to what is no address: " + location, e);
    }
    boolean web = "http".equals(to.getScheme()) || "https".equals(to.getScheme());
    if (!web || to.getHost() == null) {
      throw new SourceException("it leads to what is no web address: " + location);
    }
    if (to.getPort() > 65_535) {
      throw new SourceException("it leads to port " + to.getPort() + ", and there is none: " + to);
    }
    if ("https".equals(from.getScheme()) && !"https".equals(to.getScheme())) {
      throw new SourceException("it leads from https to " + to + ", which is not encrypted");
    }
    return to;
  }

  private byte[] body(HttpResponse<InputStream> answer, Progress progress) {
    long said = answer.headers().firstValueAsLong("Content-Length").orElse(0);
    if (said > mostBytes) {
      close(answer.body());
      throw tooLarge();
    }
    ScheduledFuture<?> watch =
        WATCH.schedule(() -> close(answer.body()), WHOLE.toSeconds(), TimeUnit.SECONDS);
    try (InputStream raw = answer.body();
        InputStream in = unpacked(answer, raw)) {
      ByteArrayOutputStream all = new ByteArrayOutputStream();
      byte[] some = new byte[64 * 1024];
      for (int read = in.read(some); read >= 0; read = in.read(some)) {
        progress.check();
        if (all.size() + read > mostBytes) {
          throw tooLarge();
        }
        all.write(some, 0, read);
      }
      return all.toByteArray();
    } catch (IOException e) {
      throw new SourceException(
          watch.isDone()
              ? "it took longer than " + WHOLE.toSeconds() + " s"
              : "it ended in the middle",
          e);
    } finally {
      watch.cancel(false);
    }
  }

  /** What was packed on the way; how large it becomes is limited like everything else. */
  private static InputStream unpacked(HttpResponse<InputStream> answer, InputStream raw)
      throws IOException {
    boolean isPacked =
        answer
            .headers()
            .firstValue("Content-Encoding")
            .filter("gzip"::equalsIgnoreCase)
            .isPresent();
    return isPacked ? new GZIPInputStream(raw) : raw;
  }

  private SourceException tooLarge() {
    return new SourceException("it is larger than " + mostBytes / 1024 / 1024 + " MB");
  }

  private static void close(InputStream body) {
    try {
      body.close();
    } catch (IOException e) {
      // Whoever reads it is told.
    }
  }
}
