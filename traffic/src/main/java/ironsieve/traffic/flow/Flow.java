package ironsieve.traffic.flow;

import ironsieve.model.Service;
import ironsieve.region.Address;

/**
 * A flow: everything between two ends on two ports in one protocol, from its beginning until it is
 * closed or long silent.
 *
 * @param <C> what an observer keeps with it
 */
public final class Flow<C> {

  // The ends in the order of their addresses and ports, so that both directions find it.
  final boolean isV6;
  final long lowHigh;
  final long lowLow;
  final int lowPort;
  final long highHigh;
  final long highLow;
  final int highPort;
  final int protocol;
  final int hash;

  boolean isLowClient;
  int detail;
  long first;
  long last;
  final long[] octets = new long[2];
  final long[] packets = new long[2];

  /** The streams of the client and of the server; nothing for what has none. */
  StreamSide fromClient;

  StreamSide fromServer;
  boolean isClosed;
  boolean isClientFinished;
  boolean isServerFinished;
  boolean sawSyn;
  int initialSequence;

  private C kept;
  private boolean isRead = true;

  // Neighbours in the hash table and in the row of the longest silent.
  Flow<C> nextInBucket;
  Flow<C> older;
  Flow<C> newer;

  Flow(IpPacket packet, int sourcePort, int targetPort, boolean isSourceLow, int hash) {
    isV6 = packet.isV6;
    protocol = packet.protocol;
    lowHigh = isSourceLow ? packet.sourceHigh : packet.targetHigh;
    lowLow = isSourceLow ? packet.sourceLow : packet.targetLow;
    lowPort = isSourceLow ? sourcePort : targetPort;
    highHigh = isSourceLow ? packet.targetHigh : packet.sourceHigh;
    highLow = isSourceLow ? packet.targetLow : packet.sourceLow;
    highPort = isSourceLow ? targetPort : sourcePort;
    this.hash = hash;
  }

  /** Where the connection comes from. */
  public Address client() {
    return isLowClient ? address(lowHigh, lowLow) : address(highHigh, highLow);
  }

  /** Where it goes. */
  public Address server() {
    return isLowClient ? address(highHigh, highLow) : address(lowHigh, lowLow);
  }

  public int clientPort() {
    return isLowClient ? lowPort : highPort;
  }

  public int serverPort() {
    return isLowClient ? highPort : lowPort;
  }

  private Address address(long high, long low) {
    return isV6 ? new Address(Address.Version.V6, high, low) : Address.v4(low);
  }

  /** The IP protocol's number. */
  public int protocol() {
    return protocol;
  }

  /** Protocol and destination port, or type and code. */
  public Service service() {
    return switch (protocol) {
      case Service.TCP, Service.UDP, Service.SCTP -> new Service(protocol, serverPort());
      case Service.ICMP, Service.ICMPV6 -> new Service(protocol, detail);
      default -> new Service(protocol, 0);
    };
  }

  /** When it was first seen: nanoseconds since 1970 in UTC. */
  public long first() {
    return first;
  }

  /** When it was last seen. */
  public long last() {
    return last;
  }

  /** Bytes of IP, headers included, from the client. */
  public long octetsUp() {
    return octets[0];
  }

  /** Bytes of IP, headers included, to the client. */
  public long octetsDown() {
    return octets[1];
  }

  public long packetsUp() {
    return packets[0];
  }

  public long packetsDown() {
    return packets[1];
  }

  /** What the observer keeps with it. */
  public C kept() {
    return kept;
  }

  /** Keeps something with it. */
  public void keep(C what) {
    kept = what;
  }

  /** From now on nothing of what is said in it is handed on; it is only counted. */
  public void readNoMore() {
    isRead = false;
  }

  int waitingBytes() {
    return (fromClient == null ? 0 : fromClient.waitingBytes())
        + (fromServer == null ? 0 : fromServer.waitingBytes());
  }

  boolean isRead() {
    return isRead;
  }
}
