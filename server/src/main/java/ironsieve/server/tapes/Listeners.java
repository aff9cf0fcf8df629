package ironsieve.server.tapes;

import io.quarkus.runtime.ShutdownEvent;
import io.vertx.core.Vertx;
import ironsieve.files.FaultException;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.TapeEditor;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.inject.Inject;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/**
 * Live traffic: syslog over UDP (RFC 5426), TCP (RFC 6587) and TLS (RFC 5425), and IPFIX over UDP
 * and TCP. Off until somebody switches one on for a tape of its own; what comes in is added up in
 * memory, of a bounded size, and saved to the tape every few seconds. It ends with the server.
 */
@ApplicationScoped
public class Listeners {

  private static final int MOST = 8;
  private static final long SAVED_EVERY = 3_000;

  @Inject Vertx vertx;
  @Inject ListenerSockets sockets;
  @Inject Editor editor;
  @Inject TapeEditor tapeEditor;
  @Inject Retention retention;

  /** One that is switched on. */
  private record Listener(
      String rulebase,
      LiveTape tape,
      String kind,
      String transport,
      ListenerSockets.Socket socket,
      long timer) {

    private State state() {
      return new State(
          tape.name(),
          kind,
          transport,
          socket.port(),
          tape.received(),
          tape.refused(),
          socket.lost().getAsLong(),
          tape.trouble());
    }
  }

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

  private final Set<String> beginning = ConcurrentHashMap.newKeySet();
  private final Map<String, Listener> running = new ConcurrentHashMap<>();

  /** Those of a rulebase that are switched on. */
  public List<State> of(String rulebase) {
    List<State> all = new ArrayList<>();
    running.values().stream()
        .filter(one -> one.rulebase().equals(rulebase))
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
    String id = rulebase + " " + tape;
    // Two that are switched on at once for one tape would both write it.
    if (!beginning.add(id)) {
      throw alreadyThere(tape);
    }
    try {
      if (running.containsKey(id)) {
        throw alreadyThere(tape);
      }
      LiveTape live =
          new LiveTape(
              rulebase,
              tape,
              () -> editor.snapshot(rulebase),
              tapeEditor,
              of -> retention.firstMinute(rulebase, of));
      ListenerSockets.Socket socket = sockets.open(live, kind, transport, port);
      long timer =
          vertx.setPeriodic(
              SAVED_EVERY,
              now ->
                  vertx.executeBlocking(
                      () -> {
                        live.save(false);
                        return null;
                      }));
      Listener one = new Listener(rulebase, live, kind, transport, socket, timer);
      running.put(id, one);
      return one.state();
    } finally {
      beginning.remove(id);
    }
  }

  private static FaultException alreadyThere(String tape) {
    return new FaultException("listener", "tape", "one listens for the tape " + tape + " already");
  }

  /** Switches one off; what came in is saved. Whether there was one. */
  public boolean stop(String rulebase, String tape) {
    Listener one = running.remove(rulebase + " " + tape);
    if (one == null) {
      return false;
    }
    close(one);
    one.tape().save(true);
    return true;
  }

  private void close(Listener one) {
    vertx.cancelTimer(one.timer());
    one.socket().close().run();
  }

  void ended(@Observes ShutdownEvent event) {
    running
        .values()
        .forEach(
            one -> {
              close(one);
              one.tape().save(true);
            });
    running.clear();
  }
}
