package ironsieve.gateway.standins;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.Executors;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** Answers for every host over HTTP and TLS: which one was asked, and for what. */
@Command(
    name = "stand-in-servers",
    description = "Stand-ins for all servers that clients reach through a gateway, on loopback.",
    mixinStandardHelpOptions = true)
public final class StandInServers implements Callable<Integer>, AutoCloseable {

  private static final int THREADS = 4;

  @Option(names = "--http", required = true, paramLabel = "PORT", description = "0 for any")
  private int httpPort;

  @Option(names = "--https", required = true, paramLabel = "PORT", description = "0 for any")
  private int httpsPort;

  @Option(
      names = "--state",
      required = true,
      paramLabel = "FOLDER",
      description = "keeps the authority that signs; authority.pem is what a client trusts")
  private Path state;

  private HttpServer http;
  private HttpsServer https;

  /** Made by the command line. */
  private StandInServers() {}

  /** Stand-ins on any ports that are free, with the authority of a folder. */
  StandInServers(Path state) {
    this.state = state;
  }

  /** Runs them until they are stopped. */
  public static void main(String... arguments) {
    int status = new CommandLine(new StandInServers()).execute(arguments);
    if (status != 0) {
      System.exit(status);
    }
  }

  @Override
  public Integer call() throws IOException, GeneralSecurityException {
    InetAddress loopback = InetAddress.getLoopbackAddress();
    http = HttpServer.create(new InetSocketAddress(loopback, httpPort), 0);
    https = HttpsServer.create(new InetSocketAddress(loopback, httpsPort), 0);
    https.setHttpsConfigurator(new HttpsConfigurator(new DemoAuthority(state).context()));
    for (HttpServer one : new HttpServer[] {http, https}) {
      one.createContext("/", StandInServers::answer);
      one.setExecutor(Executors.newFixedThreadPool(THREADS));
      one.start();
    }
    return 0;
  }

  int httpPort() {
    return http.getAddress().getPort();
  }

  int httpsPort() {
    return https.getAddress().getPort();
  }

  private static void answer(HttpExchange exchange) throws IOException {
    try (exchange) {
      // However much is sent, none of it is kept.
      exchange.getRequestBody().transferTo(OutputStream.nullOutputStream());
      String host =
          Optional.ofNullable(exchange.getRequestHeaders().getFirst("Host")).orElse("no host");
      String text =
          "This stands in for "
              + host
              + ", asked to "
              + exchange.getRequestMethod()
              + " "
              + exchange.getRequestURI().getRawPath()
              + ".\n";
      byte[] body = text.getBytes(StandardCharsets.UTF_8);
      exchange.getResponseHeaders().set("Content-Type", "text/plain; charset=utf-8");
      boolean isHead = exchange.getRequestMethod().equals("HEAD");
      exchange.sendResponseHeaders(200, isHead ? -1 : body.length);
      if (!isHead) {
        exchange.getResponseBody().write(body);
      }
    }
  }

  @Override
  public void close() {
    http.stop(0);
    https.stop(0);
  }
}
