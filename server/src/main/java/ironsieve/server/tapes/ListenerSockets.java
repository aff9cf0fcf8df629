package ironsieve.server.tapes;

import io.vertx.core.Vertx;
import io.vertx.core.net.NetServer;
import io.vertx.core.net.NetServerOptions;
import io.vertx.core.net.PemKeyCertOptions;
import ironsieve.files.FaultException;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.LongSupplier;
import org.eclipse.microprofile.config.inject.ConfigProperty;

/** Opens the sockets that live traffic comes in by. */
@ApplicationScoped
class ListenerSockets {

  private static final int MOST_CONNECTIONS = 64;

  @Inject Vertx vertx;

  /** Where listeners listen; only this machine, unless it is said. */
  @ConfigProperty(name = "iron-sieve.listen.host", defaultValue = "127.0.0.1")
  String host;

  /** Certificate and key for syslog over TLS, as PEM files. */
  @ConfigProperty(name = "iron-sieve.listen.certificate")
  Optional<String> certificate;

  @ConfigProperty(name = "iron-sieve.listen.key")
  Optional<String> key;

  /**
   * A socket that is open.
   *
   * @param lost how many datagrams came faster than they could be read
   */
  record Socket(int port, LongSupplier lost, Runnable close) {}

  /**
   * Opens one, and hands what comes in to a tape.
   *
   * @param kind {@code syslog} or {@code ipfix}
   * @param transport {@code udp}, {@code tcp} or {@code tls}
   * @param port 0 for any that is free
   * @throws FaultException if nothing can listen there
   */
  Socket open(LiveTape tape, String kind, String transport, int port) {
    return transport.equals("udp")
        ? datagrams(tape, kind, port)
        : streams(tape, kind, transport.equals("tls"), port);
  }

  private Socket datagrams(LiveTape tape, String kind, int port) {
    try {
      Datagrams datagrams =
          new Datagrams(
              new InetSocketAddress(host, port),
              (sender, bytes) -> {
                if (kind.equals("syslog")) {
                  tape.line(new String(bytes, StandardCharsets.UTF_8).strip());
                } else {
                  tape.flows(sender, bytes);
                }
              });
      return new Socket(datagrams.port(), datagrams::lost, datagrams::close);
    } catch (IOException e) {
      throw new FaultException(
          "listener", "port", "nothing can listen on port " + port + ": " + e.getMessage());
    }
  }

  private Socket streams(LiveTape tape, String kind, boolean isTls, int port) {
    NetServerOptions options = new NetServerOptions().setIdleTimeout(600);
    if (isTls) {
      if (certificate.isEmpty() || key.isEmpty()) {
        throw new FaultException(
            "listener",
            "transport",
            "TLS needs iron-sieve.listen.certificate and iron-sieve.listen.key, PEM files");
      }
      options
          .setSsl(true)
          .setKeyCertOptions(
              new PemKeyCertOptions().setCertPath(certificate.get()).setKeyPath(key.get()));
    }
    NetServer server = vertx.createNetServer(options);
    AtomicLong open = new AtomicLong();
    server.connectHandler(
        socket -> {
          if (open.incrementAndGet() > MOST_CONNECTIONS) {
            open.decrementAndGet();
            socket.close();
            return;
          }
          socket.closeHandler(closed -> open.decrementAndGet());
          if (kind.equals("syslog")) {
            LineFrames frames = new LineFrames(tape::line);
            socket.handler(buffer -> frames.bytes(buffer.getBytes()));
            socket.endHandler(ended -> frames.finish());
          } else {
            socket.handler(new IpfixStream(tape, socket)::bytes);
          }
        });
    NetServer listening = await(server.listen(port, host), port);
    return new Socket(listening.actualPort(), () -> 0, listening::close);
  }

  private static <T> T await(io.vertx.core.Future<T> listening, int port) {
    try {
      return listening.toCompletionStage().toCompletableFuture().get(10, TimeUnit.SECONDS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new FaultException("listener", "port", "it was interrupted");
    } catch (ExecutionException | TimeoutException e) {
      throw new FaultException(
          "listener", "port", "nothing can listen on port " + port + ": " + e.getMessage());
    }
  }
}
