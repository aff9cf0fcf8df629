package ironsieve.server.api;

import io.vertx.core.Context;
import io.vertx.ext.web.RoutingContext;
import java.util.ArrayDeque;
import java.util.Deque;

/**
 * Lets requests go on one after the other, in the order they came; those that wait hold no thread.
 * Whoever sends many large requests at once so waits for themselves, and for nobody else.
 */
final class Turns {

  /** A request that waits, and where it goes on. */
  private record Waiting(RoutingContext request, Context on) {}

  private final Deque<Waiting> waiting = new ArrayDeque<>();
  private boolean taken;

  /** Lets a request go on once those before it have been answered or have gone. */
  void take(RoutingContext request) {
    synchronized (this) {
      if (taken) {
        waiting.add(new Waiting(request, request.vertx().getOrCreateContext()));
        return;
      }
      taken = true;
    }
    go(request);
  }

  private void go(RoutingContext request) {
    if (request.response().closed()) {
      // It has gone since; nobody would be told of its end any more.
      next();
      return;
    }
    request.addEndHandler(ended -> next());
    request.next();
  }

  private void next() {
    Waiting first;
    synchronized (this) {
      do {
        first = waiting.poll();
      } while (first != null && first.request().response().closed());
      taken = first != null;
    }
    if (first != null) {
      RoutingContext request = first.request();
      first.on().runOnContext(now -> go(request));
    }
  }
}
