package ironsieve.traffic.identify;

import ironsieve.region.Address;
import ironsieve.traffic.capture.CaptureReader;
import ironsieve.traffic.capture.LinkLayer;
import ironsieve.traffic.capture.Packet;
import ironsieve.traffic.flow.Flow;
import ironsieve.traffic.flow.FlowObserver;
import ironsieve.traffic.flow.FlowTable;
import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.protocol.Conversation;
import ironsieve.traffic.protocol.KeyLog;
import ironsieve.traffic.signature.SignatureMatcher;
import java.io.IOException;
import java.io.InputStream;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CancellationException;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;

/**
 * The connections of a capture, each handed on as it ends. Holds a bounded amount of memory
 * whatever the capture is: where it would be more, the connection that was silent for the longest
 * time ends there, and {@link Summary} tells.
 */
public final class CaptureConnections implements FlowObserver<Conversation> {

  /** What all conversations together may hold, in bytes. */
  private static final long MOST_HELD = 128L << 20;

  private static final int MOST_NAMES = 100_000;
  private static final int LOOKS_UP_EACH = 4_096;

  private final Identifier identifier;
  private final KeyLog keys;
  private final Consumer<Seen> found;
  private final FlowTable<Conversation> flows;
  private final long mostHeld;
  private long held;
  private long connections;
  private long broken;

  /** The names that addresses were last said to have. */
  private final Map<Address, String> names =
      new LinkedHashMap<>(16, 0.75f, true) {
        private static final long serialVersionUID = 1L;

        @Override
        protected boolean removeEldestEntry(Map.Entry<Address, String> eldest) {
          return size() > MOST_NAMES;
        }
      };

  /**
   * What became of a capture.
   *
   * @param bytes of the file, unpacked
   * @param unknownFrames packets with a frame around them that cannot be read
   * @param broken connections of which bytes are missing
   * @param flowsGivenUp connections that were ended early for want of memory
   * @param isCutOff whether the file ends in the middle of a packet
   * @param reports ICMP errors: they speak about a connection and are none
   * @param unreadableKeys lines of key logs that are none
   * @param unusedKeys lines of key logs with keys that nothing is opened with
   */
  public record Summary(
      long bytes,
      long packets,
      long connections,
      long notIp,
      long unreadable,
      long unknownFrames,
      long reports,
      long broken,
      long flowsGivenUp,
      long fragmentsGivenUp,
      boolean isCutOff,
      long unreadableKeys,
      long unusedKeys) {}

  private CaptureConnections(
      SignatureMatcher matcher, KeyLog keys, Consumer<Seen> found, long mostHeld) {
    this.identifier = new Identifier(matcher);
    this.keys = keys;
    this.found = found;
    this.mostHeld = mostHeld;
    this.flows = new FlowTable<>(this);
  }

  /**
   * Reads a capture.
   *
   * @param keys secrets to open connections with; those in the capture are added
   * @param found is given each connection once it has ended
   * @param isStopped is asked now and then whether nobody waits any more
   * @throws ironsieve.traffic.capture.CaptureException if it is no capture, or damaged
   * @throws CancellationException soon after {@code isStopped}
   */
  public static Summary read(
      InputStream capture,
      SignatureMatcher matcher,
      KeyLog keys,
      Consumer<Seen> found,
      BooleanSupplier isStopped)
      throws IOException {
    return read(capture, matcher, keys, found, isStopped, MOST_HELD);
  }

  static Summary read(
      InputStream capture,
      SignatureMatcher matcher,
      KeyLog keys,
      Consumer<Seen> found,
      BooleanSupplier isStopped,
      long mostHeld)
      throws IOException {
    CaptureConnections connections = new CaptureConnections(matcher, keys, found, mostHeld);
    return connections.read(capture, isStopped);
  }

  private Summary read(InputStream capture, BooleanSupplier isStopped) throws IOException {
    try (CaptureReader reader = CaptureReader.open(capture, keys::add)) {
      Packet packet = new Packet();
      long unknownFrames = 0;
      long packets = 0;
      while (reader.next(packet)) {
        if (++packets % LOOKS_UP_EACH == 0 && isStopped.getAsBoolean()) {
          throw new CancellationException("nobody waits for this capture any more");
        }
        if (LinkLayer.isKnown(packet.linkType)) {
          flows.packet(packet);
        } else {
          unknownFrames++;
        }
      }
      flows.finish();
      FlowTable.Counts counts = flows.counts();
      return new Summary(
          reader.position(),
          packets,
          connections,
          counts.notIp(),
          counts.unreadable(),
          unknownFrames,
          counts.reports(),
          broken,
          counts.flowsGivenUp(),
          counts.fragmentsGivenUp(),
          reader.isCutOff(),
          keys.unreadable(),
          keys.unused());
    }
  }

  @Override
  public void onBytes(
      Flow<Conversation> flow, boolean byClient, byte[] bytes, int offset, int length) {
    Conversation conversation = conversation(flow);
    int before = conversation.held();
    conversation.onBytes(byClient, bytes, offset, length);
    conversation.named(names::put);
    if (conversation.isDone()) {
      conversation.facts();
      flow.readNoMore();
    }
    held += conversation.held() - before;
  }

  @Override
  public void lost(Flow<Conversation> flow, boolean byClient) {
    Conversation conversation = conversation(flow);
    int before = conversation.held();
    conversation.lost(byClient);
    held += conversation.held() - before;
  }

  @Override
  public boolean isFull() {
    return held > mostHeld;
  }

  private Conversation conversation(Flow<Conversation> flow) {
    if (flow.kept() == null) {
      flow.keep(new Conversation(flow.service(), flow.server(), keys));
      held += flow.kept().held();
    }
    return flow.kept();
  }

  @Override
  public void ended(Flow<Conversation> flow) {
    connections++;
    ConnectionFacts shown;
    if (flow.kept() == null) {
      shown = new ConnectionFacts(flow.service(), flow.server());
    } else {
      held -= flow.kept().held();
      shown = flow.kept().facts();
      flow.keep(null);
    }
    broken += shown.isBroken() ? 1 : 0;
    Identifier.Uses uses = identifier.uses(shown);
    Optional<String> asked = shown.hostName();
    found.accept(
        new Seen(
            new Seen.Ends(flow.client(), flow.clientPort(), flow.server(), flow.service()),
            instant(flow.first()),
            instant(flow.last()),
            new Seen.Volume(
                flow.octetsUp(), flow.octetsDown(), flow.packetsUp(), flow.packetsDown()),
            asked.or(() -> Optional.ofNullable(names.get(flow.server()))),
            asked.isPresent(),
            shown,
            uses.each(),
            uses.ofUnits()));
  }

  private static Instant instant(long nanos) {
    return Instant.ofEpochSecond(
        Math.floorDiv(nanos, 1_000_000_000L), Math.floorMod(nanos, 1_000_000_000L));
  }
}
