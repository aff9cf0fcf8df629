package ironsieve.traffic.flow;

import ironsieve.model.Service;
import ironsieve.traffic.capture.LinkLayer;
import ironsieve.traffic.capture.Packet;
import java.security.SecureRandom;

/**
 * Packets as flows. A flow ends when it was closed and something else begins on its ports, when it
 * was silent for long, when the table is full – then the longest silent one –, or with the capture.
 *
 * @param <C> what the observer keeps with a flow
 */
public final class FlowTable<C> {

  /** More flows at one time are not kept: some 300 bytes each while nothing was said in them. */
  public static final int MOST_FLOWS = 500_000;

  private static final long SILENT_TCP = 3_600_000_000_000L;
  private static final long SILENT_OTHER = 180_000_000_000L;
  private static final long SILENT_CLOSED = 10_000_000_000L;

  /** Bytes of all flows together that may wait for what is missing before them. */
  private static final long MOST_WAITING = 64L << 20;

  private static final int FIN = 1;
  private static final int SYN = 2;
  private static final int RST = 4;
  private static final int ACK = 16;

  private final FlowObserver<C> observer;
  private final int mostFlows;
  private final long seed = new SecureRandom().nextLong();
  private final IpPacket ip = new IpPacket();
  private final Fragments fragments = new Fragments();
  private Flow<C>[] buckets = table(1 << 12);
  private int size;
  private final Row<C> open = new Row<>();
  private final Row<C> closed = new Row<>();
  private final Counts counts = new Counts();

  private final StreamSide.Receiver clientReceiver = new ReceiverOf(true);
  private final StreamSide.Receiver serverReceiver = new ReceiverOf(false);
  private Flow<C> current;
  private long waiting;

  /** What became of the packets; numbers of packets but for the flows. */
  public static final class Counts {
    private long packets;
    private long notIp;
    private long unreadable;
    private long reports;
    private long flowsGivenUp;
    private long fragmentsGivenUp;

    public long packets() {
      return packets;
    }

    /** Frames with something else than IP in them. */
    public long notIp() {
      return notIp;
    }

    /** IP packets too damaged or cut to be read. */
    public long unreadable() {
      return unreadable;
    }

    /** ICMP errors: they speak about a connection and are none. */
    public long reports() {
      return reports;
    }

    /** Flows that ended early because there were too many at one time. */
    public long flowsGivenUp() {
      return flowsGivenUp;
    }

    /** Packets of which some fragments never came. */
    public long fragmentsGivenUp() {
      return fragmentsGivenUp;
    }
  }

  private final class ReceiverOf implements StreamSide.Receiver {
    private final boolean isClient;

    private ReceiverOf(boolean isClient) {
      this.isClient = isClient;
    }

    @Override
    public void bytes(byte[] from, int offset, int length) {
      if (current.isRead()) {
        observer.onBytes(current, isClient, from, offset, length);
      }
    }

    @Override
    public void lost() {
      if (current.isRead()) {
        observer.lost(current, isClient);
      }
    }
  }

  /** Flows from the one that was silent for the longest time on. */
  private static final class Row<C> {
    private Flow<C> oldest;
    private Flow<C> newest;

    private void add(Flow<C> flow) {
      flow.older = newest;
      flow.newer = null;
      if (newest == null) {
        oldest = flow;
      } else {
        newest.newer = flow;
      }
      newest = flow;
    }

    private void remove(Flow<C> flow) {
      if (flow.older == null) {
        oldest = flow.newer;
      } else {
        flow.older.newer = flow.newer;
      }
      if (flow.newer == null) {
        newest = flow.older;
      } else {
        flow.newer.older = flow.older;
      }
    }
  }

  /** No flows yet. */
  public FlowTable(FlowObserver<C> observer) {
    this(observer, MOST_FLOWS);
  }

  FlowTable(FlowObserver<C> observer, int mostFlows) {
    this.observer = observer;
    this.mostFlows = mostFlows;
  }

  @SuppressWarnings("unchecked")
  private static <C> Flow<C>[] table(int size) {
    return (Flow<C>[]) new Flow<?>[size];
  }

  /** What became of the packets so far. */
  public Counts counts() {
    counts.fragmentsGivenUp = fragments.givenUp();
    return counts;
  }

  /** Takes the next packet. */
  public void packet(Packet packet) {
    counts.packets++;
    if (!LinkLayer.toNetwork(packet)) {
      counts.notIp++;
      return;
    }
    boolean isCut = packet.isCut();
    if (!ip.read(packet)) {
      counts.unreadable++;
      return;
    }
    if (ip.isFragment && !fragments.whole(ip, packet.nanos)) {
      return;
    }
    take(packet.nanos, isCut);
    sweep(packet.nanos);
  }

  /** Ends all flows. */
  public void finish() {
    while (open.oldest != null) {
      end(open.oldest);
    }
    while (closed.oldest != null) {
      end(closed.oldest);
    }
  }

  private void take(long now, boolean isCut) {
    switch (ip.protocol) {
      case Service.TCP -> tcp(now, isCut);
      case Service.UDP -> {
        if (ip.end - ip.start < 8) {
          counts.unreadable++;
          return;
        }
        int length = ip.u16(ip.start + 4);
        int end = length >= 8 ? Math.min(ip.end, ip.start + length) : ip.end;
        datagram(now, ip.u16(ip.start), ip.u16(ip.start + 2), ip.start + 8, end);
      }
      case Service.SCTP -> {
        if (ip.end - ip.start < 12) {
          counts.unreadable++;
          return;
        }
        datagram(now, ip.u16(ip.start), ip.u16(ip.start + 2), ip.start + 12, ip.end);
      }
      case Service.ICMP, Service.ICMPV6 -> icmp(now);
      default -> datagram(now, 0, 0, ip.start, ip.end);
    }
  }

  private void datagram(long now, int sourcePort, int targetPort, int start, int end) {
    Flow<C> flow = find(sourcePort, targetPort);
    if (flow != null && now - flow.last > SILENT_OTHER) {
      end(flow);
      flow = null;
    }
    boolean isSourceLow = isSourceLow(sourcePort, targetPort);
    if (flow == null) {
      // A server's answer whose question was before the capture: only its port is well known.
      boolean isAnswer = sourcePort < 1_024 && targetPort >= 1_024 && sourcePort != 0;
      flow = begin(now, sourcePort, targetPort, isSourceLow, isSourceLow != isAnswer);
    }
    boolean byClient = flow.isLowClient == isSourceLow;
    count(flow, byClient, now);
    if (flow.isRead() && end > start) {
      observer.onBytes(flow, byClient, ip.bytes, start, end - start);
    }
  }

  private void icmp(long now) {
    if (ip.end - ip.start < 4) {
      counts.unreadable++;
      return;
    }
    int type = ip.u8(ip.start);
    int code = ip.u8(ip.start + 1);
    boolean isV6 = ip.protocol == Service.ICMPV6;
    boolean isReport =
        isV6
            ? type >= 1 && type <= 4
            : type == 3 || type == 4 || type == 5 || type == 11 || type == 12;
    if (isReport) {
      counts.reports++;
      return;
    }
    int request = request(isV6, type);
    boolean isReply = request != type;
    // Both directions have the same two numbers: the question's type, and what tells it from
    // others.
    int asked = request << 8 | code;
    int number = hasIdentifier(isV6, request) ? ip.u16(ip.start + 4) : 0;
    int sourcePort = isReply ? asked : number;
    int targetPort = isReply ? number : asked;
    boolean isSourceLow = isSourceLow(sourcePort, targetPort);
    Flow<C> flow = find(sourcePort, targetPort);
    if (flow != null && now - flow.last > SILENT_OTHER) {
      end(flow);
      flow = null;
    }
    if (flow == null) {
      flow = begin(now, sourcePort, targetPort, isSourceLow, isSourceLow != isReply);
      flow.detail = asked;
    }
    boolean byClient = flow.isLowClient == isSourceLow;
    count(flow, byClient, now);
  }

  /** The question a reply answers; a type of its own otherwise. */
  private static int request(boolean isV6, int type) {
    if (isV6) {
      return type == 129 ? 128 : type;
    }
    return switch (type) {
      case 0 -> 8;
      case 14 -> 13;
      case 16 -> 15;
      case 18 -> 17;
      default -> type;
    };
  }

  private static boolean hasIdentifier(boolean isV6, int request) {
    return isV6 ? request == 128 : request == 8 || request == 13 || request == 15 || request == 17;
  }

  private void tcp(long now, boolean isCut) {
    int header = (ip.u8(ip.start + 12) >> 4) * 4;
    if (ip.end - ip.start < 20 || header < 20 || ip.start + header > ip.end) {
      counts.unreadable++;
      return;
    }
    int sourcePort = ip.u16(ip.start);
    int targetPort = ip.u16(ip.start + 2);
    int sequence = ip.i32(ip.start + 4);
    int flags = ip.u8(ip.start + 13);
    boolean isSyn = (flags & SYN) != 0;
    boolean isAnswer = isSyn && (flags & ACK) != 0;
    boolean isOpening = isSyn && !isAnswer;
    Flow<C> flow = find(sourcePort, targetPort);
    if (flow != null && (isAnother(flow, isOpening, sequence) || now - flow.last > SILENT_TCP)) {
      end(flow);
      flow = null;
    }
    boolean isSourceLow = isSourceLow(sourcePort, targetPort);
    if (flow == null) {
      boolean isSourceClient = isOpening || !isAnswer && !(sourcePort < targetPort);
      flow = begin(now, sourcePort, targetPort, isSourceLow, isSourceLow == isSourceClient);
    }
    boolean byClient = flow.isLowClient == isSourceLow;
    count(flow, byClient, now);
    if (isOpening) {
      flow.sawSyn = true;
      flow.initialSequence = sequence;
    }
    if ((flags & RST) != 0) {
      close(flow);
      return;
    }
    if (flow.isRead()) {
      stream(flow, byClient, sequence, isSyn, ip.start + header, isCut);
    }
    if ((flags & FIN) != 0) {
      finished(flow, byClient);
    }
  }

  /** Whether an opening packet begins another connection on the same ports. */
  private static boolean isAnother(Flow<?> flow, boolean isOpening, int sequence) {
    return isOpening && (flow.isClosed || flow.sawSyn && flow.initialSequence != sequence);
  }

  private void stream(
      Flow<C> flow, boolean byClient, int sequence, boolean isSyn, int data, boolean isCut) {
    int length = ip.end - data;
    if (!isSyn && length == 0) {
      return;
    }
    StreamSide side = side(flow, byClient);
    if (isSyn && !side.hasBegun()) {
      side.begin(sequence + 1);
    }
    if (length > 0) {
      current = flow;
      int first = isSyn ? sequence + 1 : sequence;
      StreamSide.Receiver receiver = byClient ? clientReceiver : serverReceiver;
      int before = side.waitingBytes();
      side.segment(first, ip.bytes, data, length, isCut, receiver);
      waiting += side.waitingBytes() - before;
      if (waiting > MOST_WAITING) {
        waiting -= side.waitingBytes();
        side.finish(receiver);
      }
      if (!flow.isRead()) {
        forget(flow);
      }
    }
  }

  /** Lets go of what waits in a flow that is read no more. */
  private void forget(Flow<C> flow) {
    waiting -= flow.waitingBytes();
    flow.fromClient = null;
    flow.fromServer = null;
  }

  private static StreamSide side(Flow<?> flow, boolean byClient) {
    if (byClient) {
      if (flow.fromClient == null) {
        flow.fromClient = new StreamSide();
      }
      return flow.fromClient;
    }
    if (flow.fromServer == null) {
      flow.fromServer = new StreamSide();
    }
    return flow.fromServer;
  }

  private void finished(Flow<C> flow, boolean byClient) {
    if (byClient) {
      flow.isClientFinished = true;
    } else {
      flow.isServerFinished = true;
    }
    if (flow.isClientFinished && flow.isServerFinished) {
      close(flow);
    }
  }

  private void close(Flow<C> flow) {
    if (!flow.isClosed) {
      open.remove(flow);
      flow.isClosed = true;
      closed.add(flow);
    }
  }

  private void count(Flow<C> flow, boolean byClient, long now) {
    int side = byClient ? 0 : 1;
    flow.octets[side] += ip.octets;
    flow.packets[side]++;
    flow.last = Math.max(flow.last, now);
    Row<C> row = flow.isClosed ? closed : open;
    if (row.newest != flow) {
      row.remove(flow);
      row.add(flow);
    }
  }

  // --- the table
  // ----------------------------------------------------------------------------------

  private boolean isSourceLow(int sourcePort, int targetPort) {
    int byHigh = Long.compareUnsigned(ip.sourceHigh, ip.targetHigh);
    int byLow = byHigh != 0 ? byHigh : Long.compareUnsigned(ip.sourceLow, ip.targetLow);
    return byLow != 0 ? byLow < 0 : sourcePort <= targetPort;
  }

  /**
   * The same for both directions: each end is mixed with a seed nobody outside knows, and only then
   * are the two added up, so that no sender can choose ends that meet in one bucket.
   */
  private int hash(int sourcePort, int targetPort) {
    long both =
        end(ip.sourceHigh, ip.sourceLow, sourcePort) + end(ip.targetHigh, ip.targetLow, targetPort);
    long mixed = mix(both ^ ip.protocol);
    return (int) (mixed ^ mixed >>> 32);
  }

  private long end(long high, long low, int port) {
    return mix(mix(mix(high ^ seed) + low) + port);
  }

  /** The finalizer of SplitMix64 (Steele, Lea and Flood, 2014). */
  private static long mix(long value) {
    long mixed = (value ^ value >>> 30) * 0xBF58476D1CE4E5B9L;
    mixed = (mixed ^ mixed >>> 27) * 0x94D049BB133111EBL;
    return mixed ^ mixed >>> 31;
  }

  private Flow<C> find(int sourcePort, int targetPort) {
    int hash = hash(sourcePort, targetPort);
    boolean isSourceLow = isSourceLow(sourcePort, targetPort);
    long lowHigh = isSourceLow ? ip.sourceHigh : ip.targetHigh;
    long lowLow = isSourceLow ? ip.sourceLow : ip.targetLow;
    long highHigh = isSourceLow ? ip.targetHigh : ip.sourceHigh;
    long highLow = isSourceLow ? ip.targetLow : ip.sourceLow;
    int lowPort = isSourceLow ? sourcePort : targetPort;
    int highPort = isSourceLow ? targetPort : sourcePort;
    Flow<C> flow = buckets[hash & buckets.length - 1];
    while (flow != null
        && !(flow.hash == hash
            && flow.lowLow == lowLow
            && flow.highLow == highLow
            && flow.lowPort == lowPort
            && flow.highPort == highPort
            && flow.protocol == ip.protocol
            && flow.lowHigh == lowHigh
            && flow.highHigh == highHigh
            && flow.isV6 == ip.isV6)) {
      flow = flow.nextInBucket;
    }
    return flow;
  }

  private Flow<C> begin(
      long now, int sourcePort, int targetPort, boolean isSourceLow, boolean isLowClient) {
    if (size >= mostFlows) {
      counts.flowsGivenUp++;
      end(closed.oldest != null ? closed.oldest : open.oldest);
    }
    Flow<C> flow =
        new Flow<>(ip, sourcePort, targetPort, isSourceLow, hash(sourcePort, targetPort));
    flow.isLowClient = isLowClient;
    flow.first = now;
    flow.last = now;
    if (size >= buckets.length) {
      grow();
    }
    int bucket = flow.hash & buckets.length - 1;
    flow.nextInBucket = buckets[bucket];
    buckets[bucket] = flow;
    size++;
    open.add(flow);
    return flow;
  }

  private void grow() {
    Flow<C>[] wider = table(buckets.length * 2);
    for (Flow<C> head : buckets) {
      Flow<C> flow = head;
      while (flow != null) {
        Flow<C> next = flow.nextInBucket;
        int bucket = flow.hash & wider.length - 1;
        flow.nextInBucket = wider[bucket];
        wider[bucket] = flow;
        flow = next;
      }
    }
    buckets = wider;
  }

  private void sweep(long now) {
    while (closed.oldest != null && now - closed.oldest.last > SILENT_CLOSED) {
      end(closed.oldest);
    }
    while (open.oldest != null
        && (now - open.oldest.last > SILENT_TCP || observer.isFull() && size > 1)) {
      counts.flowsGivenUp += now - open.oldest.last > SILENT_TCP ? 0 : 1;
      end(open.oldest);
    }
  }

  private void end(Flow<C> flow) {
    current = flow;
    waiting -= flow.waitingBytes();
    if (flow.fromClient != null) {
      flow.fromClient.finish(clientReceiver);
    }
    if (flow.fromServer != null) {
      flow.fromServer.finish(serverReceiver);
    }
    (flow.isClosed ? closed : open).remove(flow);
    int bucket = flow.hash & buckets.length - 1;
    if (buckets[bucket] == flow) {
      buckets[bucket] = flow.nextInBucket;
    } else {
      Flow<C> before = buckets[bucket];
      while (before.nextInBucket != flow) {
        before = before.nextInBucket;
      }
      before.nextInBucket = flow.nextInBucket;
    }
    size--;
    observer.ended(flow);
  }
}
