package ironsieve.server.api;

import io.vertx.core.Context;
import io.vertx.ext.web.RoutingContext;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashSet;
import java.util.Iterator;
import java.util.Set;

/**
 * Lets large requests of one kind go on: of each client one after the other, in the order they
 * came, and of all clients together only so many at one time. Those that wait hold no thread.
 * Whoever sends many waits for themselves, and others wait only while so many other clients are
 * being served.
 */
final class LargeRequestQueue {

  /** A request that waits, and where it goes on. */
  private record Waiting(RoutingContext request, String client, Context on) {}

  private final int most;
  private final Deque<Waiting> waiting = new ArrayDeque<>();

  /** The clients that are being served. */
  private final Set<String> going = new HashSet<>();

  /** A queue from which so many requests go on at one time. */
  LargeRequestQueue(int most) {
    this.most = most;
  }

  /** Lets a request go on as soon as it may. */
  void take(RoutingContext request) {
    String client = client(request);
    synchronized (this) {
      if (going.size() >= most || going.contains(client)) {
        waiting.add(new Waiting(request, client, request.vertx().getOrCreateContext()));
        return;
      }
      going.add(client);
    }
    go(request, client);
  }

  /** Who sends a request, as far as that is known: people behind one address have their names. */
  private static String client(RoutingContext request) {
    String who = request.request().getHeader(RulebaseResource.EDITOR);
    return request.request().remoteAddress().hostAddress() + " " + (who == null ? "" : who);
  }

  private void go(RoutingContext request, String client) {
    if (request.response().closed()) {
      // It has gone since; nobody would be told of its end any more.
      ended(client);
      return;
    }
    request.addEndHandler(ended -> ended(client));
    request.next();
  }

  private void ended(String client) {
    Waiting next;
    synchronized (this) {
      going.remove(client);
      next = first();
      if (next != null) {
        going.add(next.client());
      }
    }
    if (next != null) {
      Waiting one = next;
      one.on().runOnContext(now -> go(one.request(), one.client()));
    }
  }

  /** The first that may go on, taken out of the queue; nothing if none may. */
  private Waiting first() {
    for (Iterator<Waiting> all = waiting.iterator(); all.hasNext(); ) {
      Waiting one = all.next();
      if (one.request().response().closed()) {
        all.remove();
      } else if (!going.contains(one.client())) {
        all.remove();
        return one;
      }
    }
    return null;
  }
}
