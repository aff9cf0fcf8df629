package ironsieve.traffic.identify;

import ironsieve.model.Service;
import ironsieve.region.Address;
import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.signature.SignatureMatcher.Match;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * A connection of a capture.
 *
 * @param ends who speaks with whom
 * @param first when its first packet was seen
 * @param last when its last one was
 * @param volume how much went each way
 * @param host the name the client asked for, or that its address was last said to have
 * @param isHostAsked whether the connection itself said the name
 * @param shown what it has shown
 * @param uses what it was recognised as, each once; never empty
 * @param useOf for each unit of what it has shown the first thing it was recognised as
 */
public record Seen(
    Ends ends,
    Instant first,
    Instant last,
    Volume volume,
    Optional<String> host,
    boolean isHostAsked,
    ConnectionFacts shown,
    List<Use> uses,
    List<Use> useOf) {

  public Seen {
    uses = List.copyOf(uses);
    useOf = List.copyOf(useOf);
  }

  /**
   * Both ends.
   *
   * @param service protocol and destination port
   * @param clientPort 0 for protocols without ports
   */
  public record Ends(Address client, int clientPort, Address server, Service service) {}

  /** Bytes of IP with its headers, and packets, from the client and to it. */
  public record Volume(long octetsUp, long octetsDown, long packetsUp, long packetsDown) {}

  /**
   * One thing a connection was used for.
   *
   * @param match by which signatures it was recognised; nothing where by none
   * @param carrier the outermost protocol it was seen inside, other than itself; nothing for none
   * @param times in how many requests; 1 where there are none
   */
  public record Use(Optional<Match> match, Optional<String> carrier, long times) {

    public Optional<String> application() {
      return match.map(Match::application);
    }

    public Optional<String> feature() {
      return match.flatMap(Match::feature);
    }
  }
}
