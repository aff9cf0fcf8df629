package ironsieve.gateway;

import com.sun.net.httpserver.HttpServer;
import ironsieve.files.CompanyFolder;
import ironsieve.files.Manifest;
import ironsieve.gateway.Policy.Decision;
import ironsieve.model.Environment;
import ironsieve.model.Verdict;
import java.io.ByteArrayInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.Executors;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/** A gateway in this process that decides by a rulebase in the demo's surroundings. */
final class Wire implements AutoCloseable {

  static final String PAGE = "the page";

  /** What a server says that speaks first. */
  static final String GREETING = "SSH-2.0-harbour\r\n";

  private static final int GREETING_PORT = 22;
  private static final Path DEMO = Path.of("..", "demo");
  private static final Map<String, String> COMPANY = company();

  /** What was decided, in the order it was. */
  final BlockingQueue<Decision> decided = new LinkedBlockingQueue<>();

  /** What reached the server, of requests. */
  final BlockingQueue<String> reached = new LinkedBlockingQueue<>();

  private final Map<Client, Integer> ports = new ConcurrentHashMap<>();
  private final HttpServer pages;
  private final ServerSocket greeter;
  private final List<Socket> greeted = new CopyOnWriteArrayList<>();

  /** What it has told of connections that have ended. */
  final BlockingQueue<String> logged = new LinkedBlockingQueue<>();

  private final ConnectionLog log =
      new ConnectionLog("wire", (lines, dropped) -> logged.addAll(lines));
  private final SocksServer socks;
  private volatile Policy policy;

  Wire(String rulebase) throws IOException {
    policy = policy(rulebase);
    pages = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    pages.createContext(
        "/",
        exchange -> {
          reached.add(
              exchange.getRequestHeaders().getFirst("Host") + exchange.getRequestURI().toString());
          byte[] body = PAGE.getBytes(StandardCharsets.UTF_8);
          exchange.sendResponseHeaders(200, body.length);
          exchange.getResponseBody().write(body);
          exchange.close();
        });
    pages.setExecutor(Executors.newCachedThreadPool());
    pages.start();
    greeter = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
    Thread greets = new Thread(this::greet);
    greets.setDaemon(true);
    greets.start();
    Destinations servers =
        new Destinations(
            List.of(
                String.valueOf(pages.getAddress().getPort()),
                GREETING_PORT + "=" + greeter.getLocalPort()));
    socks =
        new SocksServer(
            () -> Optional.of(policy), Surroundings.of(servers, log, decided::add, text -> {}));
  }

  private void greet() {
    while (!greeter.isClosed()) {
      try {
        Socket one = greeter.accept();
        greeted.add(one);
        one.getOutputStream().write(GREETING.getBytes(StandardCharsets.UTF_8));
        one.getOutputStream().flush();
      } catch (IOException e) {
        // Closed, or the client has gone.
      }
    }
  }

  /** The demo's surroundings as files, by name. */
  static Map<String, String> company() {
    Map<String, String> texts = new TreeMap<>();
    try (Stream<Path> files = Files.walk(DEMO)) {
      for (Path file : (Iterable<Path>) files.filter(Files::isRegularFile)::iterator) {
        String name = DEMO.relativize(file).toString();
        if (name.matches("company\\.json|sets\\.csv|(directory|catalogue|atlas)/.*")) {
          texts.put(name, Files.readString(file));
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return texts;
  }

  /** What is decided by a rulebase. */
  static Policy policy(String rulebase) {
    Map<String, String> texts = new TreeMap<>(COMPANY);
    texts.put(Manifest.RULEBASE, rulebase);
    return new Policy(
        Manifest.of("main", 1, 1, "2026-12-02", texts), texts, LocalDate.of(2026, 12, 2));
  }

  /** The demo's surroundings. */
  static Environment environment() {
    return new CompanyFolder(
            path ->
                Optional.ofNullable(COMPANY.get(path))
                    .map(text -> new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8))))
        .environment(LocalDate.of(2026, 12, 2));
  }

  /** Puts another rulebase in force; what became of open connections. */
  SocksServer.Again release(String rulebase) {
    policy = policy(rulebase);
    return socks.decideAgain(policy);
  }

  /** A client of the offices. */
  static Client office(String login) {
    return new Client("Offices", "10.20.0.40", Optional.of(login));
  }

  /** Opens a connection; empty if it is refused at once. */
  Optional<Socket> open(Client client, String host, int port) throws IOException {
    return open(client, host, port, false);
  }

  /** The same of one that is perhaps never answered. */
  Optional<Socket> openOrSilent(Client client, String host, int port) throws IOException {
    return open(client, host, port, true);
  }

  private Optional<Socket> open(Client client, String host, int port, boolean mayBeSilent)
      throws IOException {
    int at = ports.computeIfAbsent(client, one -> socks.listen(one, 0));
    Socket socket = new Socket(InetAddress.getLoopbackAddress(), at);
    socket.setSoTimeout(20_000);
    byte[] name = host.getBytes(StandardCharsets.US_ASCII);
    byte[] ask = new byte[7 + name.length];
    ask[0] = 5;
    ask[1] = 1;
    ask[3] = 3;
    ask[4] = (byte) name.length;
    System.arraycopy(name, 0, ask, 5, name.length);
    ask[5 + name.length] = (byte) (port >> 8);
    ask[6 + name.length] = (byte) port;
    DataInputStream in = new DataInputStream(socket.getInputStream());
    socket.getOutputStream().write(new byte[] {5, 1, 0});
    in.readFully(new byte[2]);
    socket.getOutputStream().write(ask);
    if (!mayBeSilent) {
      return answered(socket) ? Optional.of(socket) : Optional.empty();
    }
    // Either an answer comes, or it is decided that none does.
    while (in.available() == 0) {
      Decision silent = decided.peek();
      if (silent != null && silent.verdict() == Verdict.DENY) {
        return Optional.of(socket);
      }
      Thread.onSpinWait();
    }
    return answered(socket) ? Optional.of(socket) : Optional.empty();
  }

  private static boolean answered(Socket socket) throws IOException {
    DataInputStream in = new DataInputStream(socket.getInputStream());
    byte[] answer = new byte[4];
    in.readFully(answer);
    // A reply repeats the kind of address that was asked for.
    int left = answer[3] == 1 ? 4 : answer[3] == 4 ? 16 : in.readUnsignedByte();
    in.readFully(new byte[left + 2]);
    if (answer[1] != 0) {
      socket.close();
    }
    return answer[1] == 0;
  }

  /** Sends a request. */
  static void ask(Socket open, String method, String host, String path) throws IOException {
    open.getOutputStream()
        .write(
            (method + " " + path + " HTTP/1.1\r\nHost: " + host + "\r\nContent-Length: 0\r\n\r\n")
                .getBytes(StandardCharsets.UTF_8));
  }

  /** Sends a request and reads the whole answer; "cut" if the connection ends before. */
  static String asked(Socket open, String method, String host, String path) {
    try {
      ask(open, method, host, path);
      return answer(open);
    } catch (IOException e) {
      return "cut";
    }
  }

  /** An answer of HTTP with its body. */
  static String answer(Socket open) throws IOException {
    StringBuilder answer = new StringBuilder();
    int end = Integer.MAX_VALUE;
    while (answer.length() < end) {
      int next = open.getInputStream().read();
      if (next < 0) {
        return "cut";
      }
      answer.append((char) next);
      if (end == Integer.MAX_VALUE && answer.toString().endsWith("\r\n\r\n")) {
        String head = answer.toString().toLowerCase(java.util.Locale.ROOT);
        int at = head.indexOf("content-length: ") + "content-length: ".length();
        end = answer.length() + Integer.parseInt(head.substring(at, head.indexOf('\r', at)));
      }
    }
    return answer.toString();
  }

  /** The next decision. */
  Decision next() throws InterruptedException {
    return decided.poll(20, TimeUnit.SECONDS);
  }

  @Override
  public void close() throws IOException {
    socks.close();
    log.close();
    pages.stop(0);
    greeter.close();
  }
}
