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
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * What real clients and servers said on loopback during this test, read by us and by a general
 * dissector: the same names, protocols, methods, paths and bytes. Browser, curl, openssl, dig and a
 * client of QUIC speak; nginx and a server of QUIC answer.
 */
class RealClientsTest {

  @TempDir static Path folder;

  private static final List<Process> RUNNING = new ArrayList<>();
  private static Path capture;
  private static Path keys;
  private static int tlsPort;
  private static int plainPort;
  private static int quicPort;
  private static int dnsPort;
  private static int stopPort;

  private static int freePort() throws IOException {
    try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      return socket.getLocalPort();
    }
  }

  private static String run(Map<String, String> environment, String... command)
      throws IOException, InterruptedException {
    ProcessBuilder builder = new ProcessBuilder(command).redirectErrorStream(true);
    builder.environment().putAll(environment);
    builder.redirectInput(new java.io.File("/dev/null"));
    Process process = builder.start();
    String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertThat(process.waitFor(60, TimeUnit.SECONDS)).as(String.join(" ", command)).isTrue();
    return said;
  }

  private static Process start(String... command) throws IOException {
    Process process =
        new ProcessBuilder(command)
            .redirectErrorStream(true)
            .redirectOutput(folder.resolve("log-" + RUNNING.size()).toFile())
            .start();
    RUNNING.add(process);
    return process;
  }

  @BeforeAll
  static void speak() throws IOException, InterruptedException {
    capture = folder.resolve("real.pcapng");
    keys = folder.resolve("keys.txt");
    tlsPort = freePort();
    plainPort = freePort();
    quicPort = freePort();
    dnsPort = freePort();
    stopPort = freePort();
    certificate();
    Files.writeString(folder.resolve("nginx.conf"), nginx());
    start("nginx", "-c", folder.resolve("nginx.conf").toString());
    start(
        "/usr/sbin/gtlsserver",
        "-q",
        "127.0.0.1",
        String.valueOf(quicPort),
        folder.resolve("key.pem").toString(),
        folder.resolve("certificate.pem").toString());
    answerNames();
    awaitPort(tlsPort);
    Process dumping = dump();
    talk();
    stopDumping(dumping);
  }

  private static void certificate() throws IOException, InterruptedException {
    run(
        Map.of(),
        "openssl",
        "req",
        "-x509",
        "-newkey",
        "rsa:2048",
        "-nodes",
        "-keyout",
        folder.resolve("key.pem").toString(),
        "-out",
        folder.resolve("certificate.pem").toString(),
        "-days",
        "2",
        "-subj",
        "/CN=harbour.example",
        "-addext",
        "subjectAltName=DNS:*.harbour.example");
  }

  private static String nginx() {
    return """
        daemon off; worker_processes 1; pid %1$s/nginx.pid; error_log %1$s/nginx.log;
        events {}
        http {
          access_log off; client_body_temp_path %1$s/bodies;
          server {
            listen 127.0.0.1:%2$d ssl http2; listen 127.0.0.1:%3$d;
            ssl_certificate %1$s/certificate.pem; ssl_certificate_key %1$s/key.pem;
            ssl_protocols TLSv1.2 TLSv1.3;
            location / { return 200 "hello\\n"; }
          }
        }
        """
        .formatted(folder, tlsPort, plainPort);
  }

  /** A name server that has one answer for every question. */
  private static void answerNames() throws IOException {
    DatagramSocket socket = new DatagramSocket(dnsPort, InetAddress.getLoopbackAddress());
    Thread thread =
        new Thread(
            () -> {
              byte[] buffer = new byte[1_500];
              java.net.DatagramPacket packet = new java.net.DatagramPacket(buffer, buffer.length);
              try {
                while (true) {
                  socket.receive(packet);
                  byte[] answer = java.util.Arrays.copyOf(buffer, packet.getLength());
                  answer[2] = (byte) 0x81;
                  answer[3] = (byte) 0x80;
                  socket.send(
                      new java.net.DatagramPacket(
                          answer, answer.length, packet.getSocketAddress()));
                }
              } catch (IOException e) {
                // The test is over.
              }
            });
    thread.setDaemon(true);
    thread.start();
  }

  private static void awaitPort(int port) throws IOException, InterruptedException {
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

  private static Process dump() throws IOException {
    String ports = "";
    for (int port : new int[] {tlsPort, plainPort, quicPort, dnsPort, stopPort}) {
      ports += (ports.isEmpty() ? "" : " or ") + "port " + port;
    }
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
                ports)
            .redirectErrorStream(true)
            .start();
    RUNNING.add(process);
    BufferedReader said =
        new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
    String line = said.readLine();
    while (line != null && !line.contains("listening on")) {
      line = said.readLine();
    }
    assertThat(line).as("tcpdump did not begin").isNotNull();
    return process;
  }

  /** What was sent last is in the file once a last connection is. */
  private static void stopDumping(Process dumping) throws IOException, InterruptedException {
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

  private static void talk() throws IOException, InterruptedException {
    Map<String, String> logging = Map.of("SSLKEYLOGFILE", keys.toString());
    String[][] asked = {
      {"www.chatterbay.example", "/post/1", "--http2", "-d", "hello"},
      {"bank.harbour.example", "/view/x", "--http1.1"},
      {"films.vuelo.example", "/watch", "--tls-max", "1.2"},
      {
        "films.vuelo.example",
        "/watch/2",
        "--tls-max",
        "1.2",
        "--http1.1",
        "--ciphers",
        "ECDHE-RSA-AES128-SHA256"
      },
      {
        "dropnet.example",
        "/upload",
        "-T",
        "/etc/hostname",
        "--tls13-ciphers",
        "TLS_CHACHA20_POLY1305_SHA256"
      }
    };
    for (String[] one : asked) {
      List<String> command =
          new ArrayList<>(
              List.of("curl", "-sk", "--resolve", one[0] + ":" + tlsPort + ":127.0.0.1"));
      command.addAll(List.of(one).subList(2, one.length));
      command.add("https://" + one[0] + ":" + tlsPort + one[1]);
      run(logging, command.toArray(new String[0]));
    }
    run(
        Map.of(),
        "curl",
        "-s",
        "--resolve",
        "maskhop.example:" + plainPort + ":127.0.0.1",
        "http://maskhop.example:" + plainPort + "/a",
        "http://maskhop.example:" + plainPort + "/b?c=1");
    run(
        Map.of(),
        "openssl",
        "s_client",
        "-connect",
        "127.0.0.1:" + tlsPort,
        "-servername",
        "openssl.example",
        "-alpn",
        "h2,http/1.1",
        "-keylogfile",
        folder.resolve("keys-openssl.txt").toString());
    run(
        Map.of(),
        "dig",
        "@127.0.0.1",
        "-p",
        String.valueOf(dnsPort),
        "+tries=1",
        "+time=2",
        "login.dunlin.example",
        "AAAA");
    run(
        Map.of(),
        "timeout",
        "5",
        "gtlsclient",
        "-q",
        "--exit-on-first-stream-close",
        "--sni=quic.lumenreel.example",
        "127.0.0.1",
        String.valueOf(quicPort),
        "https://quic.lumenreel.example/films");
    run(
        Map.of(),
        "timeout",
        "40",
        "chromium",
        "--ssl-key-log-file=" + folder.resolve("keys-browser.txt"),
        "--headless",
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--ignore-certificate-errors",
        "--user-data-dir=" + folder.resolve("browser"),
        "--host-resolver-rules=MAP *.skyreel.example 127.0.0.1, EXCLUDE localhost",
        "--dump-dom",
        "https://www.skyreel.example:" + tlsPort + "/watch/it");
  }

  @AfterAll
  static void stop() {
    RUNNING.forEach(Process::destroy);
  }

  private static List<Seen> read(boolean isOpened) throws IOException {
    KeyLog log = new KeyLog();
    if (isOpened) {
      for (String file : List.of("keys.txt", "keys-browser.txt", "keys-openssl.txt")) {
        if (Files.exists(folder.resolve(file))) {
          log.add(Files.readString(folder.resolve(file)));
        }
      }
    }
    List<Seen> seen = new ArrayList<>();
    try (InputStream in = Files.newInputStream(capture)) {
      CaptureConnections.read(in, DemoSignatures.book(42).matcher(), log, seen::add, () -> false);
    }
    return seen;
  }

  /** Fields of each packet that has the first of them, as the dissector tells them. */
  private static List<String[]> dissected(String filter, String... fields)
      throws IOException, InterruptedException {
    Path all = folder.resolve("all-keys.txt");
    StringBuilder text = new StringBuilder();
    for (String file : List.of("keys.txt", "keys-browser.txt", "keys-openssl.txt")) {
      if (Files.exists(folder.resolve(file))) {
        text.append(Files.readString(folder.resolve(file))).append('\n');
      }
    }
    Files.writeString(all, text);
    List<String> command =
        new ArrayList<>(
            List.of(
                "tshark",
                "-r",
                capture.toString(),
                "-2",
                "-o",
                "tls.keylog_file:" + all,
                "-d",
                "tcp.port==" + tlsPort + ",tls",
                "-d",
                "tcp.port==" + plainPort + ",http",
                "-d",
                "udp.port==" + dnsPort + ",dns",
                "-d",
                "udp.port==" + quicPort + ",quic",
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

  private static TreeSet<String> facts(List<Seen> seen, Field field) {
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

  private static TreeSet<String> told(List<String[]> rows) {
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

  @Test
  void theNamesThatClientsAskForAreThoseOfTheDissector() throws Exception {
    List<Seen> seen = read(false);
    TreeSet<String> names =
        told(
            dissected(
                "tls.handshake.type == 1", "tcp.srcport", "tls.handshake.extensions_server_name"));
    assertThat(names).hasSizeGreaterThanOrEqualTo(7);
    TreeSet<String> quic =
        told(
            dissected(
                "quic && tls.handshake.type == 1",
                "udp.srcport",
                "tls.handshake.extensions_server_name"));
    quic.removeIf(name -> name.startsWith(" "));
    assertThat(quic).hasSize(1);
    TreeSet<String> both = new TreeSet<>(names);
    both.removeIf(name -> name.startsWith(" "));
    both.addAll(quic);
    assertThat(facts(seen, Field.SERVER_NAME)).isEqualTo(both);
  }

  @Test
  void whatIsOpenedWithKeysIsWhatTheDissectorOpens() throws Exception {
    List<Seen> seen = read(true);
    TreeSet<String> paths = told(dissected("http.request", "tcp.srcport", "http.request.uri"));
    paths.addAll(told(dissected("http2.headers.path", "tcp.srcport", "http2.headers.path")));
    assertThat(paths).hasSizeGreaterThanOrEqualTo(7);
    assertThat(facts(seen, Field.PATH)).isEqualTo(paths);
    TreeSet<String> methods = told(dissected("http.request", "tcp.srcport", "http.request.method"));
    methods.addAll(told(dissected("http2.headers.method", "tcp.srcport", "http2.headers.method")));
    assertThat(facts(seen, Field.METHOD)).isEqualTo(methods);
    TreeSet<String> hosts = new TreeSet<>();
    for (String host : told(dissected("http.request", "tcp.srcport", "http.host"))) {
      hosts.add(host.replaceFirst(":\\d+$", ""));
    }
    for (String host :
        told(dissected("http2.headers.authority", "tcp.srcport", "http2.headers.authority"))) {
      hosts.add(host.replaceFirst(":\\d+$", ""));
    }
    assertThat(facts(seen, Field.HOST)).isEqualTo(hosts);
    TreeSet<String> named = new TreeSet<>();
    for (Seen one : seen) {
      for (Seen.Use use : one.uses()) {
        named.add(
            one.host().orElse("")
                + " "
                + use.application().orElse("")
                + use.feature().map(f -> "/" + f).orElse(""));
      }
    }
    assertThat(named)
        .contains(
            "bank.harbour.example Harbour Bank/view",
            "dropnet.example Dropnet/upload",
            "films.vuelo.example Vuelo Video/watch",
            "www.skyreel.example Skyreel/watch",
            "maskhop.example Maskhop");
  }

  @Test
  void alpnAndDnsNamesAreThoseOfTheDissector() throws Exception {
    List<Seen> seen = read(false);
    TreeSet<String> alpn =
        told(
            dissected(
                "tls.handshake.type == 1 && tcp",
                "tcp.srcport",
                "tls.handshake.extensions_alpn_str"));
    TreeSet<String> ours = new TreeSet<>();
    for (Seen one : seen) {
      if (one.ends().service().protocol() == 6) {
        one.shown().facts().stream()
            .filter(fact -> fact.field() == Field.ALPN)
            .forEach(fact -> ours.add(one.ends().clientPort() + " " + fact.text()));
      }
    }
    assertThat(ours).isEqualTo(alpn);
    assertThat(facts(seen, Field.DNS_NAME))
        .isEqualTo(told(dissected("dns.flags.response == 0", "udp.srcport", "dns.qry.name")))
        .hasSize(1);
  }

  @Test
  void bytesOfEveryConnectionAreThoseOfTheDissector() throws Exception {
    Map<String, long[]> expected = new TreeMap<>();
    for (String[] row :
        dissected(
            "tcp || udp", "tcp.srcport", "tcp.dstport", "udp.srcport", "udp.dstport", "ip.len")) {
      String from = row[0].isEmpty() ? row[2] : row[0];
      String to = row[1].isEmpty() ? row[3] : row[1];
      boolean isUp = isServer(Integer.parseInt(to));
      expected
              .computeIfAbsent((isUp ? from + " " + to : to + " " + from), key -> new long[2])[
              isUp ? 0 : 1] +=
          Long.parseLong(row[4]);
    }
    Map<String, String> ours = new TreeMap<>();
    for (Seen one : read(false)) {
      ours.put(
          one.ends().clientPort() + " " + one.ends().service().detail(),
          one.volume().octetsUp() + " " + one.volume().octetsDown());
    }
    Map<String, String> theirs = new TreeMap<>();
    expected.forEach((key, sums) -> theirs.put(key, sums[0] + " " + sums[1]));
    assertThat(ours).isEqualTo(theirs);
    assertThat(ours).hasSizeGreaterThan(9);
  }

  private static boolean isServer(int port) {
    return port == tlsPort
        || port == plainPort
        || port == quicPort
        || port == dnsPort
        || port == stopPort;
  }
}
