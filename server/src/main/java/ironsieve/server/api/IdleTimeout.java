package ironsieve.server.api;

import io.netty.channel.ChannelPipeline;
import io.netty.handler.timeout.IdleStateHandler;
import io.vertx.core.net.impl.ConnectionBase;
import io.vertx.ext.web.RoutingContext;
import java.util.concurrent.TimeUnit;

/**
 * Connections over which nothing comes or goes are closed after a while, for whoever keeps them
 * open and silent takes them from others. While a request is being worked on nothing comes or goes
 * either, and that is no silence of the client's: so the clock stands still from when all of a
 * request is there until it is answered. What takes too long itself has limits of its own.
 */
final class IdleTimeout {

  /** What the server calls the handler that closes a silent connection, and its own. */
  private static final String CLOCK = "idle";

  private static final String SERVER = "handler";

  private IdleTimeout() {}

  /** Lets a connection be silent until this request is answered or given up. */
  static void allow(RoutingContext request) {
    ChannelPipeline pipeline =
        ((ConnectionBase) request.request().connection()).channel().pipeline();
    if (pipeline.get(CLOCK) instanceof IdleStateHandler clock) {
      pipeline.remove(clock);
      request.addEndHandler(answered -> again(pipeline, clock));
    }
  }

  /** A clock that was taken out cannot be put back; another one runs as long. */
  private static void again(ChannelPipeline pipeline, IdleStateHandler clock) {
    if (pipeline.get(CLOCK) == null && pipeline.get(SERVER) != null) {
      pipeline.addBefore(
          SERVER,
          CLOCK,
          new IdleStateHandler(
              clock.getReaderIdleTimeInMillis(),
              clock.getWriterIdleTimeInMillis(),
              clock.getAllIdleTimeInMillis(),
              TimeUnit.MILLISECONDS));
    }
  }
}
