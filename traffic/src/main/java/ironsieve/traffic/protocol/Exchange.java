package ironsieve.traffic.protocol;

import java.util.Locale;
import java.util.Optional;

/** Notes what requests and answers of HTTP say, whatever version they came in (RFC 9110). */
final class Exchange {

  private final ConnectionFacts shown;

  Exchange(ConnectionFacts shown) {
    this.shown = shown;
  }

  /** A request begins. */
  Optional<ConnectionFacts.Request> request() {
    return shown.request();
  }

  /** A request's head is read. */
  void asked(ConnectionFacts.Request request) {
    shown.asked(request);
  }

  /** The head of its answer is read. */
  void answered(ConnectionFacts.Request request) {
    shown.answered(request);
  }

  /** What a request asks for; {@code target} as it stands in it. */
  static void asks(ConnectionFacts.Request request, String method, String target) {
    request.add(Fact.of(Field.METHOD, method));
    String path = target;
    int scheme = target.indexOf("://");
    if (scheme > 0 && scheme < 8) {
      int slash = target.indexOf('/', scheme + 3);
      String authority =
          slash < 0 ? target.substring(scheme + 3) : target.substring(scheme + 3, slash);
      host(request, authority);
      path = slash < 0 ? "/" : target.substring(slash);
    } else if (method.equals("CONNECT")) {
      host(request, target);
      return;
    }
    request.add(Fact.of(Field.PATH, path));
  }

  /** The name somebody is asked by, with or without a port. */
  static void host(ConnectionFacts.Request request, String authority) {
    String host = authority.trim();
    int at = host.lastIndexOf('@');
    host = at >= 0 ? host.substring(at + 1) : host;
    int bracket = host.lastIndexOf(']');
    int colon = host.lastIndexOf(':');
    if (colon > bracket) {
      host = host.substring(0, colon);
    }
    if (!host.isEmpty() && request.first(Field.HOST).isEmpty()) {
      request.add(Fact.of(Field.HOST, host));
    }
  }

  /** A header of a request. */
  static void header(ConnectionFacts.Request request, String name, String value) {
    String lower = name.toLowerCase(Locale.ROOT);
    if (lower.equals("host")) {
      host(request, value);
    }
    request.add(Fact.header(lower, value));
  }

  /** A header of an answer; only of what kind it is says something about the request. */
  static void answerHeader(ConnectionFacts.Request request, String name, String value) {
    if (name.equalsIgnoreCase("content-type")) {
      request.add(Fact.of(Field.CONTENT_TYPE, value.toLowerCase(Locale.ROOT)));
    }
  }

  static void status(ConnectionFacts.Request request, String status) {
    request.add(Fact.of(Field.STATUS, status));
  }
}
