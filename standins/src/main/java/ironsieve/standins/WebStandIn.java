package ironsieve.standins;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.util.Set;

/** The demo company's feeds and editions from a web server, each with an entity tag. */
public final class WebStandIn implements AutoCloseable {

  private static final Set<String> FILES =
      Set.of("geofeed.csv", "known-scanners.txt", "sites.csv", "editions.json", "edition-43.csv");

  private final HttpServer server;

  /**
   * Starts it on loopback.
   *
   * @param port 0 for any
   */
  public WebStandIn(int port) throws IOException {
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 0);
    ClassLoader loader = Thread.currentThread().getContextClassLoader();
    server.createContext(
        "/",
        exchange -> {
          Thread.currentThread().setContextClassLoader(loader);
          answer(exchange);
        });
    server.start();
  }

  public int port() {
    return server.getAddress().getPort();
  }

  private static void answer(HttpExchange exchange) throws IOException {
    try (exchange) {
      String name = exchange.getRequestURI().getPath().substring(1);
      if (!FILES.contains(name)) {
        exchange.sendResponseHeaders(404, -1);
        return;
      }
      byte[] file = DemoFile.read("stand-ins/" + name);
      String tag = "\"" + Integer.toHexString(java.util.Arrays.hashCode(file)) + "\"";
      exchange.getResponseHeaders().set("ETag", tag);
      if (tag.equals(exchange.getRequestHeaders().getFirst("If-None-Match"))) {
        exchange.sendResponseHeaders(304, -1);
        return;
      }
      exchange.sendResponseHeaders(200, file.length);
      exchange.getResponseBody().write(file);
    }
  }

  @Override
  public void close() {
    server.stop(0);
  }
}
