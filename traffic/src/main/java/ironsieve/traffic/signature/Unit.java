package ironsieve.traffic.signature;

import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.protocol.Fact;
import java.util.List;
import java.util.stream.Stream;

/**
 * What a signature is held against: a connection together with one request made in it, or by itself
 * where none was made. What a signature asks of a request, one and the same request must have.
 *
 * @param request facts of the request; none where there is no request
 */
public record Unit(ConnectionFacts shown, List<Fact> request) {

  /** What a connection is made up of. */
  public static List<Unit> of(ConnectionFacts shown) {
    return shown.requests().isEmpty()
        ? List.of(new Unit(shown, List.of()))
        : shown.requests().stream().map(one -> new Unit(shown, one.facts())).toList();
  }

  /** All facts. */
  public Stream<Fact> facts() {
    return Stream.concat(shown.facts().stream(), request.stream());
  }
}
