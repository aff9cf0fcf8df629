package ironsieve.server.api;

import io.vertx.core.buffer.Buffer;
import io.vertx.core.file.AsyncFile;
import io.vertx.core.file.OpenOptions;
import io.vertx.core.http.HttpServerRequest;
import io.vertx.ext.web.RoutingContext;
import io.vertx.ext.web.impl.RoutingContextInternal;
import java.time.Duration;
import java.util.Map;
import java.util.OptionalLong;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.IntConsumer;

/**
 * Bodies that are too large for memory, received into a file that is gone with the answer. A client
 * that sends nothing for a while is let go, and only a few are received at one time.
 */
final class Uploads {

  /** Where the file's path stands in a request. */
  static final String FILE = "upload";

  /** The type of a body that is received into a file. */
  static final String TYPE = "application/octet-stream";

  private static final long LARGEST = 2L << 30;
  private static final int AT_ONE_TIME = 16;
  private static final int AT_ONE_TIME_OF_ONE = 4;
  private static final long LONGEST_SILENCE = Duration.ofSeconds(15).toMillis();

  /** Whoever sends less than this a second, over all of the time, is let go. */
  private static final long SLOWEST = 4_096;

  private final AtomicInteger receiving = new AtomicInteger();

  /** How many are received from each address. */
  private final Map<String, Integer> byClient = new ConcurrentHashMap<>();

  /** Whether a request's body goes into a file. */
  static boolean isUpload(HttpServerRequest request) {
    String type = request.getHeader("Content-Type");
    return type != null
        && (type.startsWith(TYPE) || type.startsWith("text/csv"))
        && request.path().contains("/tapes/");
  }

  /**
   * Receives a body; the request goes on once all of it is there.
   *
   * @param refuse ends the request with a status
   */
  void receive(RoutingContext context, IntConsumer refuse) {
    HttpServerRequest request = context.request();
    if (declared(request).orElse(0) > LARGEST) {
      close(context);
      refuse.accept(413);
      return;
    }
    String client = request.remoteAddress().hostAddress();
    if (!enter(client)) {
      close(context);
      refuse.accept(503);
      return;
    }
    request.pause();
    var files = context.vertx().fileSystem();
    files
        .createTempFile("iron-sieve-", ".upload")
        .compose(
            path -> {
              context.addEndHandler(
                  ended -> {
                    leave(client);
                    files.delete(path);
                  });
              context.put(FILE, path);
              return files.open(path, new OpenOptions().setTruncateExisting(true));
            })
        .onSuccess(file -> write(context, file, refuse))
        .onFailure(context::fail);
  }

  private boolean enter(String client) {
    int mine = byClient.merge(client, 1, Integer::sum);
    if (receiving.incrementAndGet() > AT_ONE_TIME || mine > AT_ONE_TIME_OF_ONE) {
      leave(client);
      return false;
    }
    return true;
  }

  private void leave(String client) {
    receiving.decrementAndGet();
    byClient.computeIfPresent(client, (who, before) -> before == 1 ? null : before - 1);
  }

  /** How many bytes a request says its body has; nothing where it does not say. */
  static OptionalLong declared(HttpServerRequest request) {
    String length = request.getHeader("Content-Length");
    return length != null && length.matches("\\d{1,18}")
        ? OptionalLong.of(Long.parseLong(length))
        : OptionalLong.empty();
  }

  private static void close(RoutingContext context) {
    context.response().putHeader("Connection", "close");
  }

  private static void write(RoutingContext context, AsyncFile file, IntConsumer refuse) {
    HttpServerRequest request = context.request();
    long[] received = {0};
    // What is on its way when a request has ended, or was refused, has no file to go to any more.
    boolean[] isOver = {false};
    long[] timer = {silence(context, refuse)};
    long begun = System.nanoTime();
    // Something now and then is no silence, and would take a place for ever.
    long pace =
        context
            .vertx()
            .setPeriodic(
                LONGEST_SILENCE,
                now -> {
                  long seconds = TimeUnit.NANOSECONDS.toSeconds(System.nanoTime() - begun);
                  if (received[0] < SLOWEST * seconds) {
                    tooSlow(context, refuse);
                  }
                });
    Runnable stop =
        () -> {
          context.vertx().cancelTimer(timer[0]);
          context.vertx().cancelTimer(pace);
          if (!isOver[0]) {
            isOver[0] = true;
            file.close().onFailure(failed -> {});
          }
        };
    context.addEndHandler(ended -> stop.run());
    // The client went away before all of it was there, or was let go: nobody is left to answer.
    request.exceptionHandler(gone -> stop.run());
    request.handler(
        buffer -> {
          if (isOver[0]) {
            return;
          }
          received[0] += buffer.length();
          context.vertx().cancelTimer(timer[0]);
          if (received[0] > LARGEST) {
            close(context);
            refuse.accept(413);
            request.connection().close();
            return;
          }
          timer[0] = silence(context, refuse);
          // Whoever has been refused meanwhile may still have something on its way.
          file.write(buffer).onFailure(failed -> {});
          if (file.writeQueueFull()) {
            request.pause();
            file.drainHandler(drained -> request.resume());
          }
        });
    request.endHandler(
        ended -> {
          context.vertx().cancelTimer(timer[0]);
          context.vertx().cancelTimer(pace);
          if (isOver[0]) {
            return;
          }
          isOver[0] = true;
          file.close()
              .onSuccess(
                  closed -> {
                    ((RoutingContextInternal) context).setBody(Buffer.buffer());
                    context.next();
                  })
              .onFailure(context::fail);
        });
    request.resume();
  }

  private static long silence(RoutingContext context, IntConsumer refuse) {
    return context.vertx().setTimer(LONGEST_SILENCE, late -> tooSlow(context, refuse));
  }

  private static void tooSlow(RoutingContext context, IntConsumer refuse) {
    close(context);
    refuse.accept(408);
    context.request().connection().close();
  }
}
