package ironsieve.server;

import com.sun.net.httpserver.HttpServer;
import java.io.BufferedReader;
import java.io.File;
import java.io.IOException;
import java.net.Authenticator;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.PasswordAuthentication;
import java.net.Proxy;
import java.net.Socket;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** The stand-in gateway as a process of its own, with one page behind it that any address has. */
public final class GatewayProcess implements AutoCloseable {

  /** What the page says. */
  public static final String PAGE = "the page";

  private static final Pattern PORT =
      Pattern.compile("clients of Offices: socks5h://127\\.0\\.0\\.1:(\\d+)");

  private final URI server;
  private final Path state;
  private final HttpServer pages;

  /** What the gateway has printed. */
  private final List<String> said = new CopyOnWriteArrayList<>();

  private Process process;
  private int port;

  /**
   * Not started yet.
   *
   * @param state the folder that it keeps
   */
  public GatewayProcess(URI server, Path state) throws IOException {
    this.server = server;
    this.state = state;
    pages = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    pages.createContext(
        "/",
        exchange -> {
          byte[] body = PAGE.getBytes(StandardCharsets.UTF_8);
          exchange.sendResponseHeaders(200, body.length);
          exchange.getResponseBody().write(body);
          exchange.close();
        });
    pages.start();
  }

  /** Starts it, and waits until clients of the offices can come in. */
  public void start(String... more) throws IOException {
    Path built = Path.of("..", "gateway", "target");
    List<String> command =
        new ArrayList<>(
            List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-XX:+UseSerialGC",
                "-XX:TieredStopAtLevel=1",
                "-cp",
                built.resolve("classes") + File.pathSeparator + built.resolve("lib") + "/*",
                "ironsieve.gateway.Main",
                "--server",
                server.toString(),
                "--state",
                state.toString(),
                "--clients",
                "Offices=0:10.20.0.40/ines.halloran",
                "--servers",
                String.valueOf(pages.getAddress().getPort())));
    command.addAll(List.of(more));
    process = new ProcessBuilder(command).redirectErrorStream(true).start();
    BufferedReader out = process.inputReader(StandardCharsets.UTF_8);
    for (String line = out.readLine(); line != null; line = out.readLine()) {
      said.add(line);
      Matcher found = PORT.matcher(line);
      if (found.matches()) {
        port = Integer.parseInt(found.group(1));
        Thread rest = new Thread(() -> out.lines().forEach(said::add));
        rest.setDaemon(true);
        rest.start();
        return;
      }
    }
    throw new IOException("the gateway did not start: " + said);
  }

  /** Kills it. */
  public void kill() {
    if (process != null) {
      process.destroyForcibly().onExit().join();
    }
  }

  /** What a real client of the offices gets; its exit code stands before what it printed. */
  public String curl() throws Exception {
    return curl("127.0.0.1:" + port);
  }

  /** The same by way of another port, perhaps with who it is before it. */
  public String curl(String proxy) throws Exception {
    Process client =
        new ProcessBuilder(
                "curl",
                "-sS",
                "--max-time",
                "20",
                "--socks5-hostname",
                proxy,
                "http://page.example/")
            .redirectErrorStream(true)
            .start();
    String out = new String(client.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    if (!client.waitFor(30, TimeUnit.SECONDS)) {
      client.destroyForcibly();
    }
    int exit = client.waitFor();
    return exit + " " + out + (exit == 28 ? said : "");
  }

  /** A connection of a client of the offices that stays open. */
  public Socket open(String host, int to) throws IOException {
    return open(host, to, "ines.halloran");
  }

  /** The same of somebody else. */
  public Socket open(String host, int to, String login) throws IOException {
    // Java signs in by itself, with whoever runs it where nothing else is said.
    Authenticator.setDefault(
        new Authenticator() {
          @Override
          protected PasswordAuthentication getPasswordAuthentication() {
            return new PasswordAuthentication(login, "any".toCharArray());
          }
        });
    Socket socket =
        new Socket(
            new Proxy(
                Proxy.Type.SOCKS, new InetSocketAddress(InetAddress.getLoopbackAddress(), port)));
    socket.setSoTimeout(20_000);
    socket.connect(InetSocketAddress.createUnresolved(host, to));
    return socket;
  }

  /** What is answered to one more request over an open connection; "cut" if it is open no more. */
  public static String asked(Socket open, String host) {
    try {
      open.getOutputStream()
          .write(("GET / HTTP/1.1\r\nHost: " + host + "\r\n\r\n").getBytes(StandardCharsets.UTF_8));
      StringBuilder answer = new StringBuilder();
      while (!answer.toString().endsWith("\r\n\r\n" + PAGE)) {
        int next = open.getInputStream().read();
        if (next < 0) {
          return "cut";
        }
        answer.append((char) next);
      }
      return PAGE;
    } catch (IOException e) {
      return "cut";
    }
  }

  @Override
  public void close() {
    kill();
    pages.stop(0);
  }
}
