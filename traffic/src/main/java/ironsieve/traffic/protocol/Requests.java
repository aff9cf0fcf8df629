package ironsieve.traffic.protocol;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/** Requests of a connection in which many are under way, each on a stream; HTTP/2 and HTTP/3. */
final class Requests {

  private static final int MOST_STREAMS = 256;

  private final Exchange exchange;
  private final Map<Long, ConnectionFacts.Request> waiting = new LinkedHashMap<>();

  Requests(ConnectionFacts shown) {
    exchange = new Exchange(shown);
  }

  /**
   * A request whose headers are read.
   *
   * @param authority nothing if it names none
   * @param path nothing where it asks for a tunnel
   * @param headers by name; those that begin with a colon are passed over
   */
  void asked(
      long stream,
      String method,
      Optional<String> authority,
      Optional<String> path,
      Iterable<? extends Map.Entry<? extends CharSequence, ? extends CharSequence>> headers) {
    Optional<ConnectionFacts.Request> begun = exchange.request();
    if (begun.isEmpty()) {
      return;
    }
    ConnectionFacts.Request request = begun.get();
    authority.ifPresent(name -> Exchange.host(request, name));
    Exchange.asks(request, method, path.or(() -> authority).orElse(""));
    for (Map.Entry<? extends CharSequence, ? extends CharSequence> header : headers) {
      if (header.getKey().length() > 0 && header.getKey().charAt(0) != ':') {
        Exchange.header(request, header.getKey().toString(), header.getValue().toString());
      }
    }
    if (waiting.size() >= MOST_STREAMS) {
      waiting.remove(waiting.keySet().iterator().next());
    }
    waiting.put(stream, request);
    exchange.asked(request);
  }

  /**
   * An answer whose headers are read.
   *
   * @return whether it is the last one; before it there may be some that only say that more comes
   */
  boolean answered(long stream, String status, Optional<String> contentType) {
    if (status.length() == 3 && status.charAt(0) == '1') {
      return false;
    }
    ConnectionFacts.Request asked = waiting.remove(stream);
    if (asked != null) {
      Exchange.status(asked, status);
      contentType.ifPresent(type -> Exchange.answerHeader(asked, "content-type", type));
      exchange.answered(asked);
    }
    return true;
  }
}
