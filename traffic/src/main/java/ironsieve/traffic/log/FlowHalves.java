package ironsieve.traffic.log;

import ironsieve.model.Service;
import ironsieve.model.Tape.Volume;
import ironsieve.region.Address;
import ironsieve.traffic.tape.TrafficRecord;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;

/**
 * Joins flow records that tell one direction each to connections: most exporters send two for each.
 * Two that go between the same ends in opposite directions, begun within a few minutes, are one
 * connection. Who began it is told by its ports, and where these do not tell it by which half began
 * first. A half that stays alone and comes from a port of a service to one that clients take is an
 * answer, and its connection goes the other way round. What neither tells stays as it was recorded,
 * and is counted. Bounded; for one thread.
 */
final class FlowHalves {

  /** Halves that began farther apart are two connections. */
  private static final Duration LONGEST = Duration.ofMinutes(5);

  private static final int MOST_WAITING = 200_000;
  private static final int SYSTEM_PORTS = 1_024;

  /** From here on systems take ports for clients (RFC 6056 and what is usual). */
  private static final int CLIENT_PORTS = 32_768;

  /** Between which ends, the lower first, so that both directions are the same. */
  private record Key(Address low, int lowPort, Address high, int highPort, int protocol) {}

  private record Half(TrafficRecord record, int sourcePort) {

    private int targetPort() {
      return record.ends().service().detail();
    }

    private Key key() {
      TrafficRecord.Ends ends = record.ends();
      int order = ends.from().compareTo(ends.to());
      boolean isLow = order < 0 || order == 0 && sourcePort <= targetPort();
      int protocol = ends.service().protocol();
      return isLow
          ? new Key(ends.from(), sourcePort, ends.to(), targetPort(), protocol)
          : new Key(ends.to(), targetPort(), ends.from(), sourcePort, protocol);
    }

    private boolean isReverseOf(Half other) {
      return sourcePort == other.targetPort()
          && targetPort() == other.sourcePort
          && record.ends().from().equals(other.record.ends().to());
    }

    private boolean isNear(Half other) {
      return Duration.between(record.at(), other.record.at()).abs().compareTo(LONGEST) <= 0;
    }

    /** Whether its ports tell that it comes from the client: above 0, the server: below, or not. */
    private int byPorts() {
      return service(targetPort()) - service(sourcePort);
    }

    /** How much a port is one of a service: 2, perhaps: 1, or one that a client takes: 0. */
    private static int service(int port) {
      return port < SYSTEM_PORTS ? 2 : port < CLIENT_PORTS ? 1 : 0;
    }
  }

  private final Map<Key, Half> waiting = new LinkedHashMap<>();
  private long turned;
  private long undirected;

  /** How many were told as answers alone, and became connections the other way round. */
  long turned() {
    return turned;
  }

  /** How many stayed alone and tell nothing of who began. */
  long undirected() {
    return undirected;
  }

  /**
   * Adds a record of one direction.
   *
   * @param sourcePort the port it comes from
   */
  void add(TrafficRecord record, int sourcePort, Consumer<TrafficRecord> found) {
    Half half = new Half(record, sourcePort);
    Key key = half.key();
    Half other = waiting.remove(key);
    if (other != null && half.isReverseOf(other) && half.isNear(other)) {
      found.accept(joined(other, half));
      return;
    }
    if (other != null) {
      found.accept(alone(other));
    }
    waiting.put(key, half);
    if (waiting.size() > MOST_WAITING) {
      Iterator<Half> oldest = waiting.values().iterator();
      Half given = oldest.next();
      oldest.remove();
      found.accept(alone(given));
    }
  }

  /** Gives what still waits for its other half. */
  void finish(Consumer<TrafficRecord> found) {
    List<Half> rest = new ArrayList<>(waiting.values());
    waiting.clear();
    rest.forEach(half -> found.accept(alone(half)));
  }

  private static TrafficRecord joined(Half one, Half other) {
    int byPorts = one.byPorts();
    boolean isOneClient = byPorts != 0 ? byPorts > 0 : !other.record.at().isBefore(one.record.at());
    Half client = isOneClient ? one : other;
    Half server = isOneClient ? other : one;
    TrafficRecord asked = client.record;
    TrafficRecord answered = server.record;
    return new TrafficRecord(
        asked.at().isBefore(answered.at()) ? asked.at() : answered.at(),
        asked.ends(),
        asked.who(),
        asked.what().equals(TrafficRecord.What.UNSAID) ? answered.what() : asked.what(),
        1,
        new Volume(asked.volume().up(), answered.volume().up()));
  }

  private TrafficRecord alone(Half half) {
    int byPorts = half.byPorts();
    if (byPorts >= 0) {
      undirected += byPorts == 0 ? 1 : 0;
      return half.record;
    }
    turned++;
    TrafficRecord answer = half.record;
    TrafficRecord.Ends ends = answer.ends();
    return new TrafficRecord(
        answer.at(),
        new TrafficRecord.Ends(
            ends.to(), ends.from(), new Service(ends.service().protocol(), half.sourcePort)),
        TrafficRecord.Who.UNSAID,
        answer.what(),
        1,
        new Volume(0, answer.volume().up()));
  }
}
