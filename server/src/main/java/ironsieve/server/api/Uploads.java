package ironsieve.server.api;

import io.vertx.core.buffer.Buffer;
import io.vertx.core.file.AsyncFile;
import io.vertx.core.file.OpenOptions;
import io.vertx.core.http.HttpServerRequest;
import io.vertx.ext.web.RoutingContext;
import io.vertx.ext.web.impl.RoutingContextInternal;
import java.time.Duration;
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
  private static final int AT_ONE_TIME = 4;
  private static final long LONGEST_SILENCE = Duration.ofSeconds(15).toMillis();

  private final AtomicInteger receiving = new AtomicInteger();

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
    if (declared(request) > LARGEST) {
      close(context);
      refuse.accept(413);
      return;
    }
    if (receiving.incrementAndGet() > AT_ONE_TIME) {
      receiving.decrementAndGet();
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
                    receiving.decrementAndGet();
                    files.delete(path);
                  });
              context.put(FILE, path);
              return files.open(path, new OpenOptions().setTruncateExisting(true));
            })
        .onSuccess(file -> write(context, file, refuse))
        .onFailure(context::fail);
  }

  private static long declared(HttpServerRequest request) {
    String length = request.getHeader("Content-Length");
    return length != null && length.matches("\\d{1,18}") ? Long.parseLong(length) : 0;
  }

  private static void close(RoutingContext context) {
    context.response().putHeader("Connection", "close");
  }

  private static void write(RoutingContext context, AsyncFile file, IntConsumer refuse) {
    HttpServerRequest request = context.request();
    long[] received = {0};
    long[] timer = {silence(context, refuse)};
    context.addEndHandler(ended -> context.vertx().cancelTimer(timer[0]));
    request.exceptionHandler(gone -> file.close());
    request.handler(
        buffer -> {
          received[0] += buffer.length();
          context.vertx().cancelTimer(timer[0]);
          if (received[0] > LARGEST) {
            close(context);
            refuse.accept(413);
            request.connection().close();
            return;
          }
          timer[0] = silence(context, refuse);
          file.write(buffer);
          if (file.writeQueueFull()) {
            request.pause();
            file.drainHandler(drained -> request.resume());
          }
        });
    request.endHandler(
        ended -> {
          context.vertx().cancelTimer(timer[0]);
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
    return context
        .vertx()
        .setTimer(
            LONGEST_SILENCE,
            late -> {
              close(context);
              refuse.accept(408);
              context.request().connection().close();
            });
  }
}
