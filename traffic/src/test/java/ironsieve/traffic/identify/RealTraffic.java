package ironsieve.traffic.identify;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.traffic.DemoSignatures;
import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.protocol.KeyLog;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/**
 * What programs say to each other on loopback while it is captured, and how it is read: by us and
 * by a general dissector. Key logs are the files {@code keys-….txt} of its folder.
 */
final class RealTraffic implements AutoCloseable {

  private final Path folder;
  private final Path capture;
  private final List<Process> running = new ArrayList<>();
  private final List<Integer> ports = new ArrayList<>();
  private final List<String> layers = new ArrayList<>();
  private final int stopPort;
  private Process dumping;

  RealTraffic(Path folder) throws IOException {
    this.folder = folder;
    capture = folder.resolve("real.pcapng");
    stopPort = freePort();
    ports.add(stopPort);
  }

  /** A file of its folder. */
  String file(String name) {
    return folder.resolve(name).toString();
  }

  /**
   * A free port, of which everything is captured.
   *
   * @param layer what the dissector takes it for, such as {@code tcp tls}
   */
  int port(String layer) throws IOException {
    int port = freePort();
    ports.add(port);
    layers.add("-d");
    layers.add(layer.replace(" ", ".port==" + port + ","));
    return port;
  }

  boolean isServer(int port) {
    return ports.contains(port);
  }

  /** None of those that the system gives away to whoever asks for any. */
  private static int freePort() {
    while (true) {
      int port = ThreadLocalRandom.current().nextInt(12_000, 32_000);
      try (ServerSocket socket = new ServerSocket(port, 1, InetAddress.getLoopbackAddress())) {
        return socket.getLocalPort();
      } catch (IOException e) {
        // It is taken.
      }
    }
  }

  static String run(Map<String, String> environment, String... command)
      throws IOException, InterruptedException {
    ProcessBuilder builder = new ProcessBuilder(command).redirectErrorStream(true);
    builder.environment().putAll(environment);
    builder.redirectInput(new java.io.File("/dev/null"));
    Process process = builder.start();
    String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertThat(process.waitFor(60, TimeUnit.SECONDS)).as(String.join(" ", command)).isTrue();
    return said;
  }

  Process start(String... command) throws IOException {
    Process process =
        new ProcessBuilder(command)
            .redirectErrorStream(true)
            .redirectOutput(folder.resolve("log-" + running.size()).toFile())
            .start();
    running.add(process);
    return process;
  }

  /** Makes {@code key.pem} and {@code certificate.pem} for all names under one. */
  void certificate(String domain) throws IOException, InterruptedException {
    run(
        Map.of(),
        "openssl",
        "req",
        "-x509",
        "-newkey",
        "rsa:2048",
        "-nodes",
        "-keyout",
        file("key.pem"),
        "-out",
        file("certificate.pem"),
        "-days",
        "2",
        "-subj",
        "/CN=" + domain,
        "-addext",
        "subjectAltName=DNS:*." + domain);
  }

  /** Opens a page in a browser that logs its keys. */
  void browse(String address, String... how) throws IOException, InterruptedException {
    List<String> command =
        new ArrayList<>(
            List.of(
                "timeout",
                "40",
                "chromium-headless-shell",
                "--ssl-key-log-file=" + file("keys-browser.txt"),
                "--headless",
                "--no-sandbox",
                "--disable-gpu",
                "--no-first-run",
                "--disable-background-networking",
                "--disable-component-update",
                "--disable-sync",
                "--user-data-dir=" + file("browser"),
                "--host-resolver-rules=MAP *.skyreel.example 127.0.0.1, EXCLUDE localhost",
                "--dump-dom"));
    command.addAll(List.of(how));
    command.add(address);
    run(Map.of(), command.toArray(new String[0]));
  }

  static void awaitPort(int port) throws IOException, InterruptedException {
    for (int i = 0; ; i++) {
      try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), port)) {
        assertThat(socket.isConnected()).isTrue();
        return;
      } catch (java.net.ConnectException e) {
        assertThat(i).as("nothing listens on port " + port).isLessThan(200);
        TimeUnit.MILLISECONDS.sleep(50);
      }
    }
  }

  /** Begins to capture. */
  void dump() throws IOException {
    String filter =
        ports.stream()
            .map(port -> "port " + port)
            .collect(java.util.stream.Collectors.joining(" or "));
    Process process =
        new ProcessBuilder(
                "tcpdump",
                "-i",
                "lo",
                "-U",
                "-s",
                "0",
                "-B",
                "16384",
                "-w",
                capture.toString(),
                filter)
            .redirectErrorStream(true)
            .start();
    running.add(process);
    BufferedReader said =
        new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
    String line = said.readLine();
    while (line != null && !line.contains("listening on")) {
      line = said.readLine();
    }
    assertThat(line).as("tcpdump did not begin").isNotNull();
    dumping = process;
  }

  /** What was sent last is in the file once a last connection is. */
  void stopDumping() throws IOException, InterruptedException {
    try (ServerSocket server = new ServerSocket(stopPort, 1, InetAddress.getLoopbackAddress());
        Socket client = new Socket(InetAddress.getLoopbackAddress(), stopPort)) {
      client.getOutputStream().write("the end of it".getBytes(StandardCharsets.US_ASCII));
      client.getOutputStream().flush();
      try (Socket accepted = server.accept()) {
        accepted.getInputStream().readNBytes(13);
      }
    }
    for (int i = 0;
        !new String(Files.readAllBytes(capture), StandardCharsets.ISO_8859_1)
            .contains("the end of it");
        i++) {
      assertThat(i).as("the capture is not written").isLessThan(200);
      TimeUnit.MILLISECONDS.sleep(50);
    }
    dumping.destroy();
    dumping.waitFor(10, TimeUnit.SECONDS);
  }

  private String keys() throws IOException {
    StringBuilder text = new StringBuilder();
    try (Stream<Path> files = Files.list(folder)) {
      for (Path file : files.sorted().toList()) {
        if (file.getFileName().toString().startsWith("keys-")) {
          text.append(Files.readString(file)).append('\n');
        }
      }
    }
    return text.toString();
  }

  /** The connections as we read them, with or without the keys. */
  List<Seen> read(boolean isOpened) throws IOException {
    KeyLog log = new KeyLog();
    if (isOpened) {
      log.add(keys());
    }
    List<Seen> seen = new ArrayList<>();
    try (InputStream in = Files.newInputStream(capture)) {
      CaptureConnections.read(in, DemoSignatures.book(42).matcher(), log, seen::add, () -> false);
    }
    return seen;
  }

  /** Fields of each packet that has the first of them, as the dissector tells them. */
  List<String[]> dissected(String filter, String... fields)
      throws IOException, InterruptedException {
    Path all = folder.resolve("all-keys.txt");
    Files.writeString(all, keys());
    List<String> command =
        new ArrayList<>(
            List.of("tshark", "-r", capture.toString(), "-2", "-o", "tls.keylog_file:" + all));
    command.addAll(layers);
    command.addAll(
        List.of(
            "-Y",
            filter,
            "-T",
            "fields",
            "-E",
            "separator=/t",
            "-E",
            "occurrence=a",
            "-E",
            "aggregator=;"));
    for (String field : fields) {
      command.add("-e");
      command.add(field);
    }
    Process process =
        new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.DISCARD).start();
    List<String[]> rows = new ArrayList<>();
    for (String line :
        new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8).split("\n")) {
      if (!line.isBlank()) {
        rows.add(line.split("\t", -1));
      }
    }
    assertThat(process.waitFor()).as("the dissector").isZero();
    return rows;
  }

  static TreeSet<String> facts(List<Seen> seen, Field field) {
    TreeSet<String> all = new TreeSet<>();
    for (Seen one : seen) {
      one.shown().facts().stream()
          .filter(fact -> fact.field() == field)
          .forEach(fact -> all.add(one.ends().clientPort() + " " + fact.text()));
      one.shown()
          .requests()
          .forEach(
              request ->
                  request.facts().stream()
                      .filter(fact -> fact.field() == field)
                      .map(Fact::text)
                      .forEach(text -> all.add(one.ends().clientPort() + " " + text)));
    }
    return all;
  }

  static TreeSet<String> told(List<String[]> rows) {
    TreeSet<String> all = new TreeSet<>();
    for (String[] row : rows) {
      for (String value : row[1].split(";")) {
        if (!value.isBlank()) {
          all.add(row[0] + " " + value);
        }
      }
    }
    return all;
  }

  @Override
  public void close() {
    running.forEach(Process::destroy);
  }
}
