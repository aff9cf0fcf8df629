package ironsieve.server.tapes;

import io.quarkus.runtime.ShutdownEvent;
import io.vertx.core.Vertx;
import io.vertx.core.buffer.Buffer;
import io.vertx.core.net.NetServer;
import io.vertx.core.net.NetServerOptions;
import io.vertx.core.net.NetSocket;
import io.vertx.core.net.PemKeyCertOptions;
import ironsieve.files.FaultException;
import ironsieve.recorded.ColumnsBuilder;
import ironsieve.recorded.LineBlock;
import ironsieve.recorded.Minutes;
import ironsieve.recorded.TapeColumns;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.Recorded;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.edit.TapeEditor;
import ironsieve.server.store.SealedBlocks;
import ironsieve.server.store.TapeContents;
import ironsieve.server.store.TapeStore;
import ironsieve.traffic.log.Ipfix;
import ironsieve.traffic.log.LogRecords;
import ironsieve.traffic.log.SyslogLine;
import ironsieve.traffic.tape.TapeMaker;
import ironsieve.traffic.tape.TrafficRecord;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.inject.Inject;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.locks.ReentrantLock;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jboss.logging.Logger;

/**
 * Live traffic: syslog over UDP (RFC 5426), TCP (RFC 6587) and TLS (RFC 5425), and IPFIX over UDP
 * and TCP. Off until somebody switches one on for a tape of its own; what comes in is added up in
 * memory, of a bounded size, and saved to the tape every few seconds. It ends with the server.
 */
@ApplicationScoped
public class Listeners {

  private static final Logger LOG = Logger.getLogger("ironsieve");
  private static final int MOST = 8;
  private static final int MOST_CONNECTIONS = 64;
  private static final long SAVED_EVERY = 3_000;

  /** After so many savings a flow that tells one direction waits no longer for the other. */
  private static final int SAVINGS_WAITED = 10;

  @Inject Vertx vertx;
  @Inject Editor editor;
  @Inject TapeEditor tapeEditor;
  @Inject TapeStore tapes;
  @Inject Retention retention;

  /** Where listeners listen; only this machine, unless it is said. */
  @ConfigProperty(name = "iron-sieve.listen.host", defaultValue = "127.0.0.1")
  String host;

  /** Certificate and key for syslog over TLS, as PEM files. */
  @ConfigProperty(name = "iron-sieve.listen.certificate")
  Optional<String> certificate;

  @ConfigProperty(name = "iron-sieve.listen.key")
  Optional<String> key;

  private final Map<String, Listener> running = new ConcurrentHashMap<>();

  /**
   * A listener as it is.
   *
   * @param kind {@code syslog} or {@code ipfix}
   * @param transport {@code udp}, {@code tcp} or {@code tls}
   * @param received messages that came in
   * @param refused messages or records that could not be read
   * @param lost datagrams that came faster than they could be read, by the system's own count too
   * @param trouble why the last saving failed, or what comes in that cannot be read; else empty
   */
  public record State(
      String tape,
      String kind,
      String transport,
      int port,
      long received,
      long refused,
      long lost,
      String trouble) {}

  /** One that is switched on. */
  private final class Listener {
    private final String rulebase;
    private final String tape;
    private final String kind;
    private final String transport;
    private final SealedBlocks blocks = new SealedBlocks();
    private final TapeMaker maker;
    private final Ipfix ipfix = new Ipfix(ZoneId.systemDefault());
    private final AtomicLong received = new AtomicLong();
    private final AtomicLong refused = new AtomicLong();
    private int port;
    private Runnable close = () -> {};
    private long timer;
    private final ReentrantLock saving = new ReentrantLock();
    private long saved;

    /** What of the tape is in the database and stays there as it is. */
    private Optional<TapeContents.Sealed> sealed = Optional.empty();

    private int savings;
    private volatile String trouble = "";

    /** What else than IPFIX somebody sends, in words. */
    private volatile String foreign = "";

    private Optional<Datagrams> datagrams = Optional.empty();

    private Listener(String rulebase, String tape, String kind, String transport) {
      this.rulebase = rulebase;
      this.tape = tape;
      this.kind = kind;
      this.transport = transport;
      RulebaseSnapshot snapshot = editor.snapshot(rulebase);
      maker = new TapeMaker(snapshot.environment(), blocks::add);
      begin(snapshot.recorded());
    }

    /** What is on the tape already stays there. */
    private void begin(Recorded recorded) {
      if (recorded.unread().containsKey(tape) || !recorded.samples(tape).isEmpty()) {
        throw new FaultException(
            "listener",
            "tape",
            "nothing can be added to the tape "
                + tape
                + ", which was made of a capture or cannot be read any more; take another name");
      }
      recorded.tapes().stream()
          .filter(one -> one.name().equals(tape))
          .findFirst()
          .ifPresent(maker::begin);
    }

    private State state() {
      return new State(
          tape,
          kind,
          transport,
          port,
          received.get(),
          refused.get(),
          datagrams.map(Datagrams::lost).orElse(0L),
          trouble.isEmpty() ? foreign : trouble);
    }

    private synchronized void line(String line) {
      received.incrementAndGet();
      try {
        maker.add(SyslogLine.parse(line, ZoneId.systemDefault()));
      } catch (SyslogLine.SyslogException | LogRecords.FieldException e) {
        refused.incrementAndGet();
      }
    }

    private synchronized void flows(String exporter, byte[] message) {
      received.incrementAndGet();
      if (isForeign(message)) {
        return;
      }
      long before = ipfix.unreadable() + ipfix.withoutTemplate();
      ipfix.message(exporter, message, 0, message.length, this::add);
      refused.addAndGet(ipfix.unreadable() + ipfix.withoutTemplate() - before);
    }

    /** Notes what is sent in another format, which would otherwise only be counted. */
    private boolean isForeign(byte[] message) {
      Optional<String> other = Ipfix.other(message);
      if (other.isPresent()) {
        refused.incrementAndGet();
        foreign =
            other.get()
                + " comes in, and only IPFIX (RFC 7011) is read; let the exporter send that";
      }
      return other.isPresent();
    }

    private void add(TrafficRecord record) {
      maker.add(record);
    }

    /** Saves what came in, one saving after the other: an older one never comes after a newer. */
    private void save(boolean isLast) {
      saving.lock();
      try {
        saveNow(isLast);
      } finally {
        saving.unlock();
      }
    }

    /** The last time also what still waits for its other direction. */
    private void saveNow(boolean isLast) {
      List<LineBlock> sealedBlocks;
      List<LineBlock> all = new ArrayList<>();
      ColumnsBuilder.Built built;
      synchronized (this) {
        if (isLast || ++savings % SAVINGS_WAITED == 0) {
          ipfix.finish(this::add);
        }
        if (maker.records() == saved) {
          return;
        }
        saved = maker.records();
        List<LineBlock> rest = new ArrayList<>();
        built = maker.soFar(rest::add).built();
        sealedBlocks = blocks.all();
        all.addAll(sealedBlocks);
        all.addAll(rest);
      }
      TapeColumns received = TapeColumns.of(tape, built, all, 0);
      TapeColumns whole = kept(received);
      if (whole.lines() == 0) {
        return;
      }
      try {
        TapeContents.Numbers numbers = tapeEditor.recordLive(rulebase, whole, sealed);
        // What was cut off at its beginning is cut anew each time.
        sealed =
            whole == received
                ? Optional.of(
                    new TapeContents.Sealed(
                        numbers, sealedBlocks.size(), whole.conversations().count()))
                : Optional.empty();
        trouble = "";
      } catch (RuntimeException e) {
        trouble = String.valueOf(e.getMessage());
        LOG.warnf("live traffic of tape %s was not saved: %s", tape, e.getMessage());
      }
    }

    /** What of the tape is kept, where somebody has said for how many days. */
    private TapeColumns kept(TapeColumns whole) {
      return tapes
          .keepDays(rulebase, tape)
          .map(days -> since(whole, Minutes.nearest(retention.first(days).atStartOfDay())))
          .orElse(whole);
    }

    private static TapeColumns since(TapeColumns whole, int minute) {
      return whole.blocks().stream().allMatch(block -> block.first() >= minute)
          ? whole
          : whole.since(minute);
    }

    private void stop() {
      vertx.cancelTimer(timer);
      close.run();
    }
  }

  /** Those of a rulebase that are switched on. */
  public List<State> of(String rulebase) {
    List<State> all = new ArrayList<>();
    running.values().stream()
        .filter(one -> one.rulebase.equals(rulebase))
        .forEach(one -> all.add(one.state()));
    return all;
  }

  /**
   * Switches one on.
   *
   * @param port 0 for any that is free
   * @throws FaultException if there are too many, or it cannot listen there
   */
  public State start(String rulebase, String tape, String kind, String transport, int port) {
    boolean isSyslog = kind.equals("syslog");
    boolean isKnown =
        isSyslog && List.of("udp", "tcp", "tls").contains(transport)
            || kind.equals("ipfix") && List.of("udp", "tcp").contains(transport);
    if (!isKnown || port < 0 || port > 65_535) {
      throw new FaultException(
          "listener",
          "kind",
          "syslog over udp, tcp or tls, or ipfix over udp or tcp, on a port up to 65535");
    }
    if (running.size() >= MOST) {
      throw new FaultException(
          "listener", "", "at most " + MOST + " listen at one time; stop one of them");
    }
    Listener one = new Listener(rulebase, tape, kind, transport);
    if (running.putIfAbsent(rulebase + " " + tape, one) != null) {
      throw new FaultException("listener", "tape", "one listens for the tape " + tape + " already");
    }
    try {
      one.port = transport.equals("udp") ? datagrams(one, port) : streams(one, port);
    } catch (RuntimeException e) {
      running.remove(rulebase + " " + tape);
      throw e;
    }
    one.timer =
        vertx.setPeriodic(
            SAVED_EVERY,
            now ->
                vertx.executeBlocking(
                    () -> {
                      one.save(false);
                      return null;
                    }));
    return one.state();
  }

  /** Switches one off; what came in is saved. Whether there was one. */
  public boolean stop(String rulebase, String tape) {
    Listener one = running.remove(rulebase + " " + tape);
    if (one == null) {
      return false;
    }
    one.stop();
    one.save(true);
    return true;
  }

  void ended(@Observes ShutdownEvent event) {
    running.values().forEach(Listener::stop);
    running.clear();
  }

  private int datagrams(Listener one, int port) {
    try {
      Datagrams datagrams =
          new Datagrams(
              new InetSocketAddress(host, port),
              (sender, bytes) -> {
                if (one.kind.equals("syslog")) {
                  one.line(new String(bytes, StandardCharsets.UTF_8).strip());
                } else {
                  one.flows(sender, bytes);
                }
              });
      one.datagrams = Optional.of(datagrams);
      one.close = datagrams::close;
      return datagrams.port();
    } catch (IOException e) {
      throw new FaultException(
          "listener", "port", "nothing can listen on port " + port + ": " + e.getMessage());
    }
  }

  private int streams(Listener one, int port) {
    NetServerOptions options = new NetServerOptions().setIdleTimeout(600);
    if (one.transport.equals("tls")) {
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
          if (one.kind.equals("syslog")) {
            LineFrames frames = new LineFrames(one::line);
            socket.handler(buffer -> frames.bytes(buffer.getBytes()));
            socket.endHandler(ended -> frames.finish());
          } else {
            socket.handler(new Messages(one, socket)::bytes);
          }
        });
    NetServer listening = waited(server.listen(port, host), port);
    one.close = listening::close;
    return listening.actualPort();
  }

  /** Messages of IPFIX in a stream: each says how long it is. */
  private static final class Messages {
    private final Listener one;
    private final NetSocket socket;
    private Buffer waiting = Buffer.buffer();

    private Messages(Listener one, NetSocket socket) {
      this.one = one;
      this.socket = socket;
    }

    private void bytes(Buffer more) {
      waiting.appendBuffer(more);
      while (waiting.length() >= Ipfix.SHORTEST) {
        int length = Ipfix.length(waiting.getBytes(0, Ipfix.SHORTEST), 0, Ipfix.SHORTEST);
        if (length == 0) {
          if (!one.isForeign(waiting.getBytes())) {
            one.refused.incrementAndGet();
          }
          socket.close();
          return;
        }
        if (waiting.length() < length) {
          return;
        }
        one.flows(socket.remoteAddress().host(), waiting.getBytes(0, length));
        waiting = waiting.getBuffer(length, waiting.length());
      }
    }
  }

  private static <T> T waited(io.vertx.core.Future<T> listening, int port) {
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
